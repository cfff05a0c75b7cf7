"""the few checked tests whose ground moved are found without reading years of others

Revision ID: 0030
"""

from alembic import op
from sqlalchemy import text

revision = "0030"
down_revision = "0029"


def upgrade() -> None:
    op.create_index("ix_test_moved", "test", ["state"], sqlite_where=text("CAST(moved AS VARCHAR) != '[]'"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

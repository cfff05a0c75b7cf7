"""whether the equipment of a test was said, or is only what the last test of its method used

Revision ID: 0029
"""

import sqlalchemy as sa
from alembic import op

revision = "0029"
down_revision = "0028"


def upgrade() -> None:
    op.add_column("test", sa.Column("uses_said", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

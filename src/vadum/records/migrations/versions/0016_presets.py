"""what a project chooses for its new tests, by method

Revision ID: 0016
"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.add_column("project", sa.Column("presets", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

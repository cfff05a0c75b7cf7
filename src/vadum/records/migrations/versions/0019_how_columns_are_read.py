"""how the columns of a file are read, beside what they are

Revision ID: 0019
"""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"


def upgrade() -> None:
    op.add_column("column_mapping", sa.Column("how", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

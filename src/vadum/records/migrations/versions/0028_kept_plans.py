"""plans are kept, one of each person

Revision ID: 0028
"""

import sqlalchemy as sa
from alembic import op

revision = "0028"
down_revision = "0027"


def upgrade() -> None:
    op.create_table(
        "work_plan",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("who", sa.String(), nullable=False, unique=True),
        sa.Column("kept_at", sa.DateTime(), nullable=False),
        sa.Column("asked", sa.JSON(), nullable=False),
        sa.Column("lines", sa.JSON(), nullable=False),
    )


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

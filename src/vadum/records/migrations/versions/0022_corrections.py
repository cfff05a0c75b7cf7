"""what was corrected of projects, locations and samples

Revision ID: 0022
"""

import sqlalchemy as sa
from alembic import op

revision = "0022"
down_revision = "0021"


def upgrade() -> None:
    op.create_table(
        "correction",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("of", sa.String(), nullable=False),
        sa.Column("row_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("changed", sa.JSON(), nullable=False),
    )
    op.create_index("ix_correction_row_id", "correction", ["row_id"])


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

"""how columns are read is remembered for each recording instrument

Revision ID: 0024
"""

import sqlalchemy as sa
from alembic import op

revision = "0024"
down_revision = "0023"


def upgrade() -> None:
    # SQLite cannot widen a constraint: the table is made anew.
    op.rename_table("column_mapping", "column_mapping_before")
    op.create_table(
        "column_mapping",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("headings", sa.String(), nullable=False),
        sa.Column("instrument", sa.String(), nullable=False, server_default=""),
        sa.Column("target", sa.String(), nullable=False),
        sa.Column("mapping", sa.JSON(), nullable=False),
        sa.Column("how", sa.JSON(), nullable=False, server_default="{}"),
        sa.UniqueConstraint("method", "headings", "instrument"),
    )
    op.execute(
        "INSERT INTO column_mapping (id, method, headings, instrument, target, mapping, how)"
        " SELECT id, method, headings, '', target, mapping, how FROM column_mapping_before"
    )
    op.drop_table("column_mapping_before")


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

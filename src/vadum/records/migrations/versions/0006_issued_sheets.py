"""sheets as they were issued"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "issued_sheet",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("test_id", sa.Integer(), sa.ForeignKey("test.id"), nullable=False),
        sa.Column("number", sa.String(), nullable=False, unique=True),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("replaces", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
    )
    op.create_index("ix_issued_sheet_test_id", "issued_sheet", ["test_id"])


def downgrade() -> None:
    op.drop_index("ix_issued_sheet_test_id", "issued_sheet")
    op.drop_table("issued_sheet")

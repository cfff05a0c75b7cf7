"""operation times"""

import sqlalchemy as sa
from alembic import op

from vadum.records.tables import UtcDateTime

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "operation_time",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("test_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("at", UtcDateTime(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("said", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["test_id"], ["test.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("test_id", "key"),
    )
    op.create_index("ix_operation_time_test_id", "operation_time", ["test_id"], unique=False)


def downgrade() -> None:
    op.drop_table("operation_time")

"""files kept with tests, how the columns of a file were matched, constants of equipment, positions"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.add_column("equipment", sa.Column("constants", sa.JSON(), nullable=False, server_default="{}"))
    for name in ("latitude_deg", "longitude_deg"):
        op.add_column("location", sa.Column(name, sa.Float()))
    op.create_table(
        "attachment",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("test_id", sa.Integer(), sa.ForeignKey("test.id"), nullable=False),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("kind", "name", "caption", "media_type", "sha256")),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("small", sa.LargeBinary()),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("removed_because", sa.String(), nullable=False),
    )
    op.create_index("ix_attachment_test_id", "attachment", ["test_id"])
    op.create_table(
        "column_mapping",
        sa.Column("id", sa.Integer(), primary_key=True),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("method", "headings", "target")),
        sa.Column("mapping", sa.JSON(), nullable=False),
        sa.UniqueConstraint("method", "headings"),
    )


def downgrade() -> None:
    op.drop_table("column_mapping")
    op.drop_index("ix_attachment_test_id", "attachment")
    op.drop_table("attachment")
    for name in ("longitude_deg", "latitude_deg"):
        op.drop_column("location", name)
    op.drop_column("equipment", "constants")

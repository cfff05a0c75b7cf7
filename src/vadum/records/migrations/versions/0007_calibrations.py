"""calibrations of equipment"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "calibration",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("equipment_id", sa.Integer(), sa.ForeignKey("equipment.id"), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("due", sa.Date()),
        sa.Column("rows", sa.JSON(), nullable=False),
        sa.Column("constants", sa.JSON(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("certificate_name", sa.String(), nullable=False),
        sa.Column("certificate", sa.LargeBinary()),
    )
    op.create_index("ix_calibration_equipment_id", "calibration", ["equipment_id"])


def downgrade() -> None:
    op.drop_index("ix_calibration_equipment_id", "calibration")
    op.drop_table("calibration")

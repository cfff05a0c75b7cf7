"""the uncertainty that a certificate states"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.add_column("calibration", sa.Column("uncertainty", sa.Float(), nullable=True))


def downgrade() -> None:
    op.drop_column("calibration", "uncertainty")

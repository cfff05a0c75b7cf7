"""at which depth a location met water, and where it stood

Revision ID: 0027
"""

import sqlalchemy as sa
from alembic import op

revision = "0027"
down_revision = "0026"


def upgrade() -> None:
    op.add_column("location", sa.Column("water_struck_m", sa.Float(), nullable=True))
    op.add_column("location", sa.Column("water_m", sa.Float(), nullable=True))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

"""what a project asks of the ground that takes its water

Revision ID: 0018
"""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    op.add_column("project", sa.Column("infiltration_rule", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

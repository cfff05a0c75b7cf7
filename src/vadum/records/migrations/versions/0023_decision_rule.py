"""whether a project accepts a limit only with the uncertainty to spare

Revision ID: 0023
"""

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"


def upgrade() -> None:
    op.add_column("project", sa.Column("guarded", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

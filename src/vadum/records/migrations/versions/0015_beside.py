"""which figure a photograph stands beside: the sketch of a failed specimen

Revision ID: 0015
"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    op.add_column("attachment", sa.Column("beside", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

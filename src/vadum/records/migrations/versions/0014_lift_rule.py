"""what a project asks of its rolled lifts: the compaction test, the least degree, the window of water"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    op.add_column("project", sa.Column("lift_rule", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

"""when a change was typed, where that was before it was saved"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.add_column("revision", sa.Column("typed_at", sa.DateTime(), nullable=True))


def downgrade() -> None:
    op.drop_column("revision", "typed_at")

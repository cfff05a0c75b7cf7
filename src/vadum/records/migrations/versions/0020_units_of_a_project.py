"""in what units a project is shown and printed, with which decimal mark

Revision ID: 0020
"""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"


def upgrade() -> None:
    op.add_column("project", sa.Column("units", sa.String(), nullable=False, server_default="SI"))
    op.add_column("project", sa.Column("decimal_mark", sa.String(), nullable=False, server_default="."))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

"""what a client asks of a project: until when, by which standard, and whom the report goes to

Revision ID: 0026
"""

import sqlalchemy as sa
from alembic import op

revision = "0026"
down_revision = "0025"


def upgrade() -> None:
    op.add_column("project", sa.Column("wanted_by", sa.Date(), nullable=True))
    op.add_column("project", sa.Column("standard", sa.String(), nullable=False, server_default=""))
    op.add_column("project", sa.Column("report_to", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

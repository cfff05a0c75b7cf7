"""a sample's way to the bench, a project's order number, what a person is in the laboratory, numbers of certificates

Revision ID: 0021
"""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"


def upgrade() -> None:
    op.add_column("sample", sa.Column("custody", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("project", sa.Column("order_number", sa.String(), nullable=False, server_default=""))
    op.add_column("calibration", sa.Column("certificate_number", sa.String(), nullable=False, server_default=""))
    op.add_column("person", sa.Column("function", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

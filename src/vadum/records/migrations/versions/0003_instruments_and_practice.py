"""instruments bound to columns, where readings came from, practice tests, tests in the ground"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"

_COLUMNS = (("test", "bindings"), ("test", "origins"), ("test", "practice"), ("revision", "origins"))


def upgrade() -> None:
    for table, name in _COLUMNS:
        op.add_column(table, sa.Column(name, sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("equipment", sa.Column("calibration", sa.JSON(), nullable=False, server_default="[]"))
    # SQLite adds a reference without a named constraint in place; it holds from then on.
    op.execute("ALTER TABLE test ADD COLUMN location_id INTEGER REFERENCES location (id)")
    op.create_index("ix_test_location_id", "test", ["location_id"])


def downgrade() -> None:
    op.drop_index("ix_test_location_id", "test")
    op.drop_column("test", "location_id")
    op.drop_column("equipment", "calibration")
    for table, name in reversed(_COLUMNS):
        op.drop_column(table, name)

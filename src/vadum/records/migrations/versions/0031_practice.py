"""the tests of practice are found without reading years of others

Revision ID: 0031
"""

from alembic import op
from sqlalchemy import text

revision = "0031"
down_revision = "0030"

_OF_NOTHING = "sample_id IS NULL AND location_id IS NULL AND equipment_id IS NULL"


def upgrade() -> None:
    op.create_index(
        "ix_test_practice", "test", ["sample_id", "location_id", "equipment_id"], sqlite_where=text(_OF_NOTHING)
    )


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

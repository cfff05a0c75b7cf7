"""what was corrected of a thing that is gone is not told of the one that got its key

Revision ID: 0032
"""

from alembic import op

revision = "0032"
down_revision = "0031"


def upgrade() -> None:
    for of in ("project", "location", "sample", "equipment"):
        op.execute(f"DELETE FROM correction WHERE \"of\" = '{of}' AND row_id NOT IN (SELECT id FROM {of})")


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

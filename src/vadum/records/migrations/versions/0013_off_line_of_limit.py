"""how far a trial may lie off the flow line is a share of the liquid limit, no longer percent of water

Two percent of water were meant for a limit about fifty: four percent of it. What is typed otherwise is carried over in
the same proportion, up to the most that the setting takes.
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"

_NAME, _TIMES, _MOST = "off_line_percent", 2.0, 20.0
_TESTS = "SELECT id FROM test WHERE method = 'liquid-limit'"


def upgrade() -> None:
    bind = op.get_bind()
    for table, where in (("test", f"id IN ({_TESTS})"), ("checked_test", f"test_id IN ({_TESTS})")):
        _carry_over(bind, table, "settings", where, "", _NAME)
    _carry_over(bind, "revision", "changed", f"test_id IN ({_TESTS})", "set", f"settings:{_NAME}")


def _carry_over(bind: sa.Connection, table: str, column: str, where: str, part: str, name: str) -> None:
    """Carry the setting over where it stands in a JSON column, or in a part of it."""
    rows = bind.execute(sa.text(f"SELECT id, {column} FROM {table} WHERE {where}")).fetchall()
    for key, kept in rows:
        whole = json.loads(kept)
        holder = whole.get(part, {}) if part else whole
        if isinstance(holder.get(name), int | float):
            holder[name] = min(_MOST, _TIMES * holder[name])
            bind.execute(sa.text(f"UPDATE {table} SET {column} = :c WHERE id = :i"), {"c": json.dumps(whole), "i": key})


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

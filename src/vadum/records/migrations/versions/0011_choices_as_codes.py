"""choices are kept as codes, not as the words a person reads

Which word became which code is written out beside this: labels may be put otherwise by the time it runs.
"""

import json
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"

_CODES = json.loads(Path(__file__).with_name("0011_choices.json").read_text(encoding="utf-8"))


def upgrade() -> None:
    bind = op.get_bind()
    for method, codes in _CODES.items():
        _contents(bind, "test", "method = :m", codes, method)
        _contents(bind, "checked_test", "test_id IN (SELECT id FROM test WHERE method = :m)", codes, method)
        _revisions(bind, codes, method)


def _contents(bind: sa.Connection, table: str, where: str, codes: dict[str, Any], method: str) -> None:
    rows = bind.execute(sa.text(f"SELECT id, readings, settings FROM {table} WHERE {where}"), {"m": method}).fetchall()
    for key, readings, settings in rows:
        before = json.loads(readings), json.loads(settings)
        after = _readings(before[0], codes["readings"]), _words(before[1], codes["settings"])
        if after != before:
            bind.execute(
                sa.text(f"UPDATE {table} SET readings = :r, settings = :s WHERE id = :i"),
                {"r": json.dumps(after[0]), "s": json.dumps(after[1]), "i": key},
            )


def _revisions(bind: sa.Connection, codes: dict[str, Any], method: str) -> None:
    rows = bind.execute(
        sa.text("SELECT id, changed FROM revision WHERE test_id IN (SELECT id FROM test WHERE method = :m)"),
        {"m": method},
    ).fetchall()
    for key, changed in rows:
        before = json.loads(changed)
        cells = {path: _coded(path, value, codes) for path, value in before.get("set", {}).items()}
        if cells != before.get("set", {}):
            bind.execute(
                sa.text("UPDATE revision SET changed = :c WHERE id = :i"),
                {"c": json.dumps(before | {"set": cells}), "i": key},
            )


def _coded(path: str, value: Any, codes: dict[str, Any]) -> Any:
    """Return a cell of a revision: ``settings:school``, ``readings:clods`` or ``readings:bars.3.state``."""
    part, _, place = path.partition(":")
    table, *rest = place.split(".")
    return _word(value, codes.get(part, {}).get(f"{table}.{rest[-1]}" if rest else table))


def _readings(readings: dict[str, Any], codes: dict[str, dict[str, str]]) -> dict[str, Any]:
    return {
        name: [{k: _word(v, codes.get(f"{name}.{k}")) for k, v in row.items()} for row in value]
        if isinstance(value, list)
        else _word(value, codes.get(name))
        for name, value in readings.items()
    }


def _words(values: dict[str, Any], codes: dict[str, dict[str, str]]) -> dict[str, Any]:
    return {name: _word(value, codes.get(name)) for name, value in values.items()}


def _word(value: Any, codes: dict[str, str] | None) -> Any:
    return codes.get(value, value) if codes and isinstance(value, str) else value


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

"""a double ring and a percolation hole are methods of their own, not arrangements of the well permeameter

Revision ID: 0017
"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

from vadum.soil.earlier import became, renewed

revision = "0017"
down_revision = "0016"

_WELL = "well-permeameter"
_PARTS = ("readings", "unread", "settings", "setting_origins", "origins", "bindings")
# Open tests that moved are reduced anew, and shown beside what they said before: no version of a method is called so.
_BEFORE = "0"


def upgrade() -> None:
    bind = op.get_bind()
    columns = ", ".join(_PARTS)
    tests = bind.execute(sa.text(f"SELECT id, version, {columns} FROM test WHERE method = :m"), {"m": _WELL}).fetchall()
    for number, version, *parts in tests:
        state = {name: json.loads(part) for name, part in zip(_PARTS, parts, strict=True)}
        now = became(_WELL, state["settings"])
        moved_version = _BEFORE if now != _WELL and version else version
        _write(bind, "test", number, renewed(_WELL, now, state) | {"method": now, "version": moved_version})
        _checks(bind, number, now)
        _revisions(bind, number, now, moved_version)


def _checks(bind: sa.Connection, test: int, now: str) -> None:
    parts = ("readings", "settings", "setting_origins", "origins")
    rows = bind.execute(sa.text(f"SELECT id, {', '.join(parts)} FROM checked_test WHERE test_id = :t"), {"t": test})
    for number, *kept in rows.fetchall():
        state = {name: json.loads(part) for name, part in zip(parts, kept, strict=True)}
        _write(bind, "checked_test", number, renewed(_WELL, now, state))


def _revisions(bind: sa.Connection, test: int, now: str, version: str) -> None:
    """Put every revision into the words of the method: the state it left, and what changed since the one before."""
    rows = bind.execute(
        sa.text("SELECT id, changed FROM revision WHERE test_id = :t ORDER BY number"), {"t": test}
    ).fetchall()
    old: dict[str, Any] = {}
    before: dict[str, Any] = {}
    for number, changed in rows:
        change = json.loads(changed)
        gone = set(change.get("cut", ()))
        old = {path: value for path, value in old.items() if path not in gone} | change.get("set", {})
        flat = _flat(renewed(_WELL, now, _deep(old))) | {
            path: old[path] for path in ("uses:", "version:") if path in old
        }
        if "version:" in flat and now != _WELL:
            flat["version:"] = version
        put = {p: v for p, v in flat.items() if p not in before or repr(before[p]) != repr(v)}
        cut = sorted(before.keys() - flat.keys())
        _write(bind, "revision", number, {"changed": ({"set": put} if put else {}) | ({"cut": cut} if cut else {})})
        before = flat


def _deep(flat: dict[str, Any]) -> dict[str, Any]:
    state: dict[str, Any] = {name: {} for name in _PARTS}
    cells: list[tuple[str, Any]] = []
    for path, value in flat.items():
        part, _, name = path.partition(":")
        if part == "readings" and name.endswith(".#"):
            state["readings"][name[:-2]] = [{} for _ in range(value)]
        elif part == "readings" and "." in name:
            cells.append((name, value))
        elif part in state:
            state[part][name] = value
    for name, value in cells:
        table, row, key = name.split(".", 2)
        state["readings"][table][int(row)][key] = value
    return state


def _flat(state: dict[str, Any]) -> dict[str, Any]:
    flat: dict[str, Any] = {}
    for name, value in state["readings"].items():
        if isinstance(value, list):
            flat[f"readings:{name}.#"] = len(value)
            flat |= {f"readings:{name}.{i}.{key}": cell for i, row in enumerate(value) for key, cell in row.items()}
        else:
            flat[f"readings:{name}"] = value
    for part in _PARTS[1:]:
        flat |= {f"{part}:{path}": value for path, value in state[part].items()}
    return flat


def _write(bind: sa.Connection, table: str, number: int, values: dict[str, Any]) -> None:
    put = ", ".join(f"{name} = :{name}" for name in values)
    written = {name: v if isinstance(v, str) else json.dumps(v) for name, v in values.items()}
    bind.execute(sa.text(f"UPDATE {table} SET {put} WHERE id = :id"), written | {"id": number})


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")

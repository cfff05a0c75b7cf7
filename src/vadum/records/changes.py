"""What a test is at one revision, and what changed between two: cell by cell, so that a save costs what was typed."""

import hashlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, fields, replace
from typing import Any

from pydantic_core import to_json
from sqlmodel import Session, col, select

from vadum.records.logs import LogContent
from vadum.records.tables import Revision, Test

# Parts of a state that are what a person recorded; the others say where it came from.
CONTENT = ("readings", "unread", "settings", "uses")
_ROWS = "#"


@dataclass(frozen=True)
class State:
    """A test as one revision left it. ``readings`` hold references in the place of logger files; ``uses`` are names."""

    readings: dict[str, Any] = field(default_factory=dict)
    unread: dict[str, str] = field(default_factory=dict)
    settings: dict[str, Any] = field(default_factory=dict)
    setting_origins: dict[str, str] = field(default_factory=dict)
    origins: dict[str, dict[str, Any]] = field(default_factory=dict)
    uses: list[str] = field(default_factory=list)
    bindings: dict[str, str] = field(default_factory=dict)
    version: str = ""


def state_of(test: Test) -> State:
    """Return a test as it stands."""
    return State(
        test.kept,
        test.unread,
        test.settings,
        test.setting_origins,
        test.origins,
        sorted(piece.name for piece in test.uses),
        test.bindings,
        test.version,
    )


def kept_readings(session: Session, readings: dict[str, Any]) -> dict[str, Any]:
    """Return readings as a test keeps them: each logger file put away once, under its hash, and named by it."""
    kept = dict(readings)
    for name, value in readings.items():
        if isinstance(value, dict) and value.keys() != {"log"}:
            data = to_json(dict(sorted(value.items()))).decode()
            sha = hashlib.sha256(data.encode()).hexdigest()
            if session.get(LogContent, sha) is None:
                session.add(LogContent(sha256=sha, data=data))
            kept[name] = {"log": sha}
    return kept


def difference(before: State, after: State) -> dict[str, Any]:
    """Return what changed: ``set`` with the new value of each path, ``cut`` with the paths that are gone."""
    old, new = _flat(before), _flat(after)
    found: dict[str, Any] = {}
    # 1 and 1.0 and True are alike to Python, and are not the same reading.
    if changed := {p: v for p, v in new.items() if p not in old or repr(old[p]) != repr(v)}:
        found["set"] = changed
    if gone := sorted(old.keys() - new.keys()):
        found["cut"] = gone
    return found


def is_content(changed: dict[str, Any]) -> bool:
    """Return whether a change touched what a person recorded: readings, settings, equipment, rows left out."""
    return any(path.partition(":")[0] in CONTENT for path in (*changed.get("set", ()), *changed.get("cut", ())))


def states(revisions: Iterable[Revision]) -> Iterator[tuple[Revision, State]]:
    """Yield every revision, from the first on, with the state it left."""
    flat: dict[str, Any] = {}
    for revision in revisions:
        flat = {path: v for path, v in flat.items() if path not in revision.changed.get("cut", ())}
        flat |= revision.changed.get("set", {})
        yield revision, _deep(flat)


def states_of(session: Session, test: Test, until: int | None = None) -> Iterator[tuple[Revision, State]]:
    """Yield a test's revisions with the state each left, up to one of them."""
    query = select(Revision).where(Revision.test_id == test.id).order_by(col(Revision.number))
    yield from states(session.exec(query if until is None else query.where(col(Revision.number) <= until)))


def _flat(state: State) -> dict[str, Any]:
    """Return a state as one level: ``readings:points.3.mass_g``; ``readings:points.#`` counts the rows of a table."""
    found: dict[str, Any] = {}
    for name, value in state.readings.items():
        if isinstance(value, list):
            found[f"readings:{name}.{_ROWS}"] = len(value)
            found |= {f"readings:{name}.{i}.{key}": cell for i, row in enumerate(value) for key, cell in row.items()}
        else:
            found[f"readings:{name}"] = value
    for part in ("unread", "settings", "setting_origins", "origins", "bindings"):
        found |= {f"{part}:{path}": value for path, value in getattr(state, part).items()}
    return found | {"uses:": state.uses, "version:": state.version}


def _deep(flat: dict[str, Any]) -> State:
    parts: dict[str, Any] = {one.name: {} for one in fields(State)}
    tables: dict[str, list[dict[str, Any]]] = {}
    for path, value in flat.items():
        part, _, name = path.partition(":")
        if part == "readings" and name.endswith(f".{_ROWS}"):
            tables[name[:-2]] = [{} for _ in range(value)]
        else:
            parts[part][name] = value
    readings = parts["readings"]
    for path in [name for name in readings if "." in name]:
        table, number, key = path.split(".", 2)
        tables[table][int(number)][key] = readings.pop(path)
    return replace(
        State(**{k: v for k, v in parts.items() if k not in ("uses", "version")}),
        readings=readings | tables,
        uses=parts["uses"].get("", []),
        version=parts["version"].get("", ""),
    )

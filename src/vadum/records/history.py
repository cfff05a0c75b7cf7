"""Earlier states of a test: what they were, how they differ from now, and back to one of them."""

from collections.abc import Set
from typing import Any

from sqlmodel import Session

from vadum.records.changes import State, state_of, states_of
from vadum.records.context import footing
from vadum.records.logs import with_logs
from vadum.records.saving import Change, LockedTest, StaleSave, locked, pin, record, revisions_after, settle, was_saved
from vadum.records.standing import Standing, standing_of
from vadum.records.tables import Test, now
from vadum.records.times import note_times
from vadum.soil.contract.cells import Sheet, labelled, tables
from vadum.soil.contract.field import Readings
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of


class NoSuchRevision(LookupError):
    """A revision that the test never had."""

    def __init__(self, number: int) -> None:
        super().__init__(f"This test has no revision {number}.")


def state_at(session: Session, test: Test, number: int) -> State:
    """Return a test as one revision left it.

    Raises
    ------
    NoSuchRevision
        If there is none of this number.
    """
    found = None
    for revision, state in states_of(session, test, number):
        found = state if revision.number == number else None
    if found is None:
        raise NoSuchRevision(number)
    return found


def reduced_then(session: Session, test: Test, earlier: State) -> Reduction:
    """Return what an earlier state comes to, by the method as it is now."""
    method = method_of(test.method)
    readings = with_logs(session, earlier.readings)
    return method.reduce_raw(readings, earlier.settings, footing(session, test).context, earlier.unread)


def differences(
    model: type[Readings], then: tuple[dict[str, Any], dict[str, str]], now_: tuple[dict[str, Any], dict[str, str]]
) -> list[tuple[str, str, str]]:
    """Return path, text then and text now of every cell in which two states differ; each is readings and unread. Cells
    come in the order of the sheet, row by row."""
    before, after = flat(model, *then), flat(model, *now_)
    return [
        (path, before.get(path, ""), after.get(path, ""))
        for path in _as_on_sheet(model, before.keys() | after.keys())
        if before.get(path) != after.get(path)
    ]


def _as_on_sheet(model: type[Readings], paths: Set[str]) -> list[str]:
    columns = {name: list(row.model_fields) for name, row in tables(model).items()}

    def place(path: str) -> tuple[int, int, int]:
        name, _, cell = path.partition(".")
        row, _, key = cell.partition(".")
        return _at(list(model.model_fields), name), int(row or 0), _at(columns.get(name, []), key)

    return sorted(paths, key=place)


def _at(names: list[str], name: str) -> int:
    """Return where a name stands; what an earlier release had and this one has not comes last."""
    return names.index(name) if name in names else len(names)


def begun_since(session: Session, test: Test, numbers: Set[int]) -> dict[int, dict[str, tuple[int, int]]]:
    """Return, for each of some revisions, the tables that have more rows than it left them, with how many they had then
    and have now.

    Raises
    ------
    NoSuchRevision
        If there is none of a number; 0 stands for what is before the first.
    """
    left = {0: State()} | {revision.number: s for revision, s in states_of(session, test) if revision.number in numbers}
    after, found = _rows(test.kept, test.unread), {}
    for number in numbers:
        if number not in left:
            raise NoSuchRevision(number)
        before = _rows(left[number].readings, left[number].unread)
        found[number] = {name: (before.get(name, 0), n) for name, n in after.items() if n > before.get(name, 0)}
    return found


def _rows(readings: dict[str, Any], unread: dict[str, str]) -> dict[str, int]:
    """Return how many rows each table has; a text that could not be read stands in one as a reading does."""
    found = {name: len(rows) for name, rows in readings.items() if isinstance(rows, list)}
    for name, row, _ in (path.split(".") for path in unread if path.count(".") == 2):
        found[name] = max(found.get(name, 0), int(row) + 1)
    return found


def restore(
    session: Session, test: Test, number: int, *, base_revision: int, who: str, reason: str, save_key: str
) -> Standing:
    """Make an earlier state the newest, as a revision of its own; nothing of what came between is lost.

    Raises
    ------
    NoSuchRevision, LockedTest, StaleSave, ReusedKey
        If there is no such state, the test is closed, or it moved on.
    """
    earlier = state_at(session, test, number)
    change = Change(base_revision, who, reason=reason, save_key=save_key, settings={"restored": number})
    if was_saved(session, test, change):
        return standing_of(session, test)
    if locked(test):
        raise LockedTest(test)
    if base_revision != test.revision:
        raise StaleSave(
            test,
            revisions_after(session, test, base_revision),
            Sheet(with_logs(session, earlier.readings), earlier.unread),
        )
    before = state_of(test)
    test.kept, test.unread = earlier.readings, earlier.unread
    test.settings, test.setting_origins, test.origins = earlier.settings, earlier.setting_origins, earlier.origins
    test.updated_at = now()
    pin(test)
    what = f"restored: revision {number}"
    record(session, test, before, who=who, what=what, reason=reason, save_key=save_key, sent_sha256=change.sha256)
    standing = settle(session, test)
    note_times(session, test, who)
    session.commit()
    return standing


def flat(model: type[Readings], readings: dict[str, Any], unread: dict[str, str]) -> dict[str, str]:
    """Return every cell of a state by its path, as people read it; a logger file by its name and length."""
    found: dict[str, str] = {}
    for name, value in readings.items():
        if isinstance(value, list):
            for i, row in enumerate(value):
                cells = {f"{name}.{i}.{key}": cell for key, cell in row.items()}
                found |= {path: labelled(model, path, cell) for path, cell in cells.items()}
        elif isinstance(value, dict):
            rows = max((len(column) for column in value.values() if isinstance(column, list)), default=0)
            found[name] = f"{value.get('file') or 'file'}, {rows} rows"
        else:
            found[name] = labelled(model, name, value)
    return found | unread

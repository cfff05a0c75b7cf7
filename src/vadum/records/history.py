"""Earlier states of a test: what they were, how they differ from now, and back to one of them."""

from typing import Any

from sqlmodel import Session, select

from vadum.records.context import gather
from vadum.records.saving import (
    LOCKED,
    LockedTest,
    StaleSave,
    newest_revision,
    record,
    reduce_test,
    refresh_dependents,
    saved_as,
    summarise,
)
from vadum.records.tables import Revision, Test, now
from vadum.records.times import note_times
from vadum.soil.cells import Sheet
from vadum.soil.method import Reduction
from vadum.soil.registry import method as method_of


class NoSuchRevision(LookupError):
    """A revision that the test never had."""

    def __init__(self, number: int) -> None:
        super().__init__(f"This test has no revision {number}.")


def revision_of(session: Session, test: Test, number: int) -> Revision:
    """Return one revision.

    Raises
    ------
    NoSuchRevision
        If there is none of this number.
    """
    found = session.exec(select(Revision).where(Revision.test_id == test.id, Revision.number == number)).first()
    if found is None:
        raise NoSuchRevision(number)
    return found


def reduced_then(session: Session, test: Test, earlier: Revision) -> Reduction:
    """Return what an earlier state comes to, by the method as it is now."""
    method = method_of(test.method)
    return method.reduce_raw(earlier.readings, earlier.settings, gather(session, test, method))


def differences(
    then: tuple[dict[str, Any], dict[str, str]], now_: tuple[dict[str, Any], dict[str, str]]
) -> list[tuple[str, str, str]]:
    """Return path, text then and text now of every cell in which two states differ; each is readings and unread."""
    before, after = flat(*then), flat(*now_)
    return [
        (path, before.get(path, ""), after.get(path, ""))
        for path in sorted(before.keys() | after.keys())
        if before.get(path) != after.get(path)
    ]


def restore(
    session: Session, test: Test, number: int, *, base_revision: int, who: str, reason: str, save_key: str
) -> Reduction:
    """Make an earlier state the newest, as a revision of its own; nothing of what came between is lost.

    Raises
    ------
    NoSuchRevision, LockedTest, StaleSave
        If there is no such state, the test is closed, or it moved on.
    """
    earlier = revision_of(session, test, number)
    if saved_as(session, test, save_key) is not None:
        return reduce_test(session, test)
    if test.state in LOCKED:
        raise LockedTest(test.state)
    if base_revision != test.revision:
        raise StaleSave(test, newest_revision(session, test), Sheet(earlier.readings, earlier.unread))
    test.readings, test.unread = earlier.readings, earlier.unread
    test.settings, test.origins = earlier.settings, earlier.origins
    test.updated_at = now()
    reduction = reduce_test(session, test)
    test.summary = summarise(reduction)
    note_times(session, test, who)
    record(session, test, who=who, what=f"restored: revision {number}", reason=reason, save_key=save_key)
    refresh_dependents(session, test)
    return reduction


def flat(readings: dict[str, Any], unread: dict[str, str]) -> dict[str, str]:
    """Return every cell of a state by its path, as text; a logger file by its name and length."""
    found: dict[str, str] = {}
    for name, value in readings.items():
        if isinstance(value, list):
            found |= {f"{name}.{i}.{key}": str(cell) for i, row in enumerate(value) for key, cell in row.items()}
        elif isinstance(value, dict):
            rows = max((len(column) for column in value.values() if isinstance(column, list)), default=0)
            found[name] = f"{value.get('file') or 'file'}, {rows} rows"
        else:
            found[name] = str(value)
    return found | unread

"""When operations were done: kept beside the readings, so that every device shows the same clocks."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from weakref import WeakKeyDictionary

from sqlalchemy.orm import load_only
from sqlmodel import Session, col, select

from vadum.records.conditions import among
from vadum.records.database import writing
from vadum.records.once import each_once
from vadum.records.practice import now_of
from vadum.records.recent import Recent
from vadum.records.tables import OperationTime, Test
from vadum.soil.contract.cells import first_blank
from vadum.soil.contract.method import Operation
from vadum.soil.registry import method as method_of

_READ: Any = (Test.method, Test.kept, Test.settings)
_READINGS = select(Test).where(among(col(Test.id), "tests")).options(load_only(*_READ))
_TIMES = select(OperationTime.test_id, OperationTime.key, OperationTime.at).where(among(OperationTime.test_id, "tests"))


_timetables: Recent[list[Operation]] = Recent(256)


@dataclass(frozen=True)
class Timetable:
    """What the readings of a test say of its clocks: its operations, and the tins that hold its soil."""

    operations: tuple[Operation, ...]
    tins: tuple[str, ...]


_MOST = 1024
# By laboratory as it is open here and test: of its newest revision alone, or memory grows with every save.
_known: WeakKeyDictionary[Any, dict[int, tuple[int, Timetable]]] = WeakKeyDictionary()


def timetables_of(session: Session, tests: Sequence[Test]) -> dict[int, Timetable]:
    """Return the timetable of each test; readings are read of those alone that were saved since it was asked last.

    Every page asks what is due, and the records of a press under way are a hundred times what is asked of them.
    """
    engine = session.get_bind()
    known = _known.get(engine, {})
    revisions = {test.id or 0: test.revision for test in tests}
    if lacking := [number for number in revisions if number not in known or known[number][0] != revisions[number]]:
        read = session.exec(_READINGS, params={"tests": lacking})
        known = known | {test.id or 0: (test.revision, _told(test)) for test in read}
    found = {number: known[number] for number in revisions}
    _known[engine] = known if len(known) <= _MOST else found
    return {number: timetable for number, (_, timetable) in found.items()}


def _told(test: Test) -> Timetable:
    tins = [row.get("tin") for rows in test.kept.values() if isinstance(rows, list) for row in rows]
    return Timetable(tuple(operations_of(test)), tuple(tin for tin in tins if tin))


def operations_of(test: Test) -> list[Operation]:
    """Return the timetable of a test as its readings stand."""
    asked = json.dumps([test.method, test.kept, test.settings], sort_keys=True, default=str)
    return list(_timetables.of(asked, lambda: _timetable(test)))


def _timetable(test: Test) -> list[Operation]:
    method = method_of(test.method)
    readings = method.Readings.model_validate(test.readings)
    operations: list[Operation] = method.timetable(readings, method.Settings.model_validate(test.settings))
    return [
        operation
        if operation.done or not operation.cell
        else operation.model_copy(update={"cell": first_blank(readings, operation.cell)})
        for operation in operations
    ]


def times_of(session: Session, tests: Iterable[Test]) -> dict[int, dict[str, datetime]]:
    """Return when each operation of each test was done."""

    def read(numbers: list[int]) -> dict[int, dict[str, datetime]]:
        times: dict[int, dict[str, datetime]] = {number: {} for number in numbers}
        for number, key, at in session.exec(_TIMES, params={"tests": numbers}):
            times[number][key] = at
        return times

    return each_once(session, "times", [test.id for test in tests if test.id is not None], read)


def note_times(session: Session, test: Test, who: str, at: datetime | None = None) -> None:
    """Note when the operations that the readings now say are done were done; forget those they no longer say.

    ``at`` is when the readings were typed, None for now. Adds to the session without committing: the times are saved
    with the readings or not at all.
    """
    if test.id is None:
        return
    known = {row.key: row for row in session.exec(select(OperationTime).where(OperationTime.test_id == test.id))}
    for operation in operations_of(test):
        row = known.get(operation.key)
        if operation.done and row is None:
            session.add(
                OperationTime(test_id=test.id, key=operation.key, at=operation.at or at or now_of(test), who=who)
            )
        elif operation.done and row is not None and operation.at and row.at != operation.at:
            row.at = operation.at
            session.add(row)
        elif not operation.done and row is not None and not row.said:
            session.delete(row)


def say_done(session: Session, test: Test, key: str, who: str, at: datetime | None = None) -> bool:
    """Note on a person's word that an operation is done, now or at a time, and commit; return whether it is so now.

    Said twice it is done once, at the time that was said first unless another is named; what a reading proved is not
    moved by a word.
    """
    with writing(session):
        row = _row(session, test, key)
        if row is None:
            session.add(OperationTime(test_id=test.id or 0, key=key, at=at or now_of(test), who=who, said=True))
        elif row.said and at is not None:
            row.at, row.who = at, who
            session.add(row)
        session.commit()
    return row is None or row.said or at is None


def take_back(session: Session, test: Test, key: str) -> bool:
    """Take a person's word back that an operation is done, and commit; return whether there was one. A reading that
    proves it stays."""
    with writing(session):
        row = _row(session, test, key)
        if row is None or not row.said:
            return False
        session.delete(row)
        session.commit()
    return True


def _row(session: Session, test: Test, key: str) -> OperationTime | None:
    query = select(OperationTime).where(OperationTime.test_id == test.id, OperationTime.key == key)
    return session.exec(query).first()

"""The clock of one recorded test."""

from datetime import datetime

from sqlmodel import Session

from vadum.bench.clock import Due, due_operations
from vadum.records.calibrations import begun_of
from vadum.records.practice import now_of
from vadum.records.tables import Test
from vadum.records.times import operations_of, times_of


def clock_of(session: Session, test: Test) -> list[Due]:
    """Return the timetable of one test with what is done, missed and due, by the clock the test runs on."""
    own = test.practice.get("epoch")
    begun = datetime.fromisoformat(own) if own else begun_of(session, [test]).get(test.id or 0)
    times = times_of(session, [test]).get(test.id or 0, {})
    return due_operations(operations_of(test), times, begun, now_of(test))

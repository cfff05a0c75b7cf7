"""The clock of one test: when each operation of its timetable falls due, given what was done and when."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from vadum.soil.contract.method import Operation

Standing = Literal["done", "missed", "late", "now", "next", "later", "waiting"]
# What falls due within this is worth standing up for; what falls due within the next hours is worth planning for.
NOW = timedelta(minutes=5)
NEXT = timedelta(hours=2)


@dataclass(frozen=True)
class Due:
    """An operation with its time. ``waiting`` operations count from one that has not been done yet."""

    operation: Operation
    standing: Standing
    due: datetime | None
    done_at: datetime | None = None

    @property
    def latest(self) -> datetime | None:
        return self.due + timedelta(minutes=self.operation.tolerance_min) if self.due else None


def due_operations(
    operations: Sequence[Operation], times: dict[str, datetime], begun: datetime | None, now: datetime
) -> list[Due]:
    """Return each operation with its time and standing, in the timetable's order.

    Arguments
    ---------
    operations : the timetable; ``done`` says what the readings say
    times : when operations were done, by key; said on the board or noted with the readings
    begun : when the test was begun, None while it is only planned; the first operation counts from it

    An operation is done when the readings or a person say so. One that was passed over by a later one of the same chain
    is missed. An operation that counts from one not yet done is carried along with it, never earlier than now.
    """
    keys = [operation.key for operation in operations]
    done = {o.key: times.get(o.key) or o.at or begun for o in operations if o.done or o.key in times}
    last_done = max((i for i, key in enumerate(keys) if key in done), default=-1)
    expected: dict[str, datetime | None] = {}
    found: list[Due] = []
    for i, operation in enumerate(operations):
        anchor = _anchor(operations, i)
        if operation.key in done:
            at = done[operation.key]
            expected[operation.key] = at
            found.append(Due(operation, "done", _planned(operation, anchor, expected, begun), at))
            continue
        due = _planned(operation, anchor, expected, begun)
        if i < last_done:
            expected[operation.key] = due
            found.append(Due(operation, "missed", due))
            continue
        ready = anchor is None or anchor.key in done or _passed(anchor, found)
        standing = _standing(due, operation, now) if ready and due is not None else "waiting"
        expected[operation.key] = None if due is None else max(due, now)
        found.append(Due(operation, standing, due))
    return found


def _anchor(operations: Sequence[Operation], i: int) -> Operation | None:
    """Return the operation that another counts from."""
    name = operations[i].after
    if name is None:
        return operations[i - 1] if i else None
    return next((o for o in operations if o.key == name), None)


def _passed(anchor: Operation, found: list[Due]) -> bool:
    return any(due.operation.key == anchor.key and due.standing == "missed" for due in found)


def _planned(
    operation: Operation, anchor: Operation | None, expected: dict[str, datetime | None], begun: datetime | None
) -> datetime | None:
    if anchor is None:
        return None if begun is None else begun + timedelta(minutes=operation.due_min)
    at = expected.get(anchor.key)
    return None if at is None else at + timedelta(minutes=operation.due_min - anchor.due_min)


def _standing(due: datetime, operation: Operation, now: datetime) -> Standing:
    if now > due + timedelta(minutes=operation.tolerance_min):
        return "late"
    if due - now <= NOW:
        return "now"
    return "next" if due - now <= NEXT else "later"

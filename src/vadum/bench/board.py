"""The due board: what is late, now, next and later over all tests, and what stands in the ovens."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from vadum.bench.clock import Due, due_operations
from vadum.soil.contract.method import Operation

_RANK = {"late": 0, "now": 1, "next": 2, "later": 3}


@dataclass(frozen=True)
class Running:
    """A test under way, as the board needs it."""

    test_id: int
    title: str
    place: str
    operations: Sequence[Operation]
    times: dict[str, datetime]
    begun: datetime | None
    tins: tuple[str, ...] = ()
    next_action: str = ""


@dataclass(frozen=True)
class DueLine:
    """One operation on the board."""

    test: Running
    due: Due


@dataclass(frozen=True)
class InOven:
    """What a test has in an oven, and when it may come out."""

    test: Running
    what: str
    out_at: datetime


@dataclass(frozen=True)
class Board:
    """The board, each part in the order of its times."""

    late: list[DueLine] = field(default_factory=list)
    now: list[DueLine] = field(default_factory=list)
    next: list[DueLine] = field(default_factory=list)
    later: list[DueLine] = field(default_factory=list)
    oven: list[InOven] = field(default_factory=list)
    untimed: list[Running] = field(default_factory=list)
    """Begun and not done, with nothing that falls due: it stays in sight."""

    @property
    def urgent(self) -> list[DueLine]:
        return [*self.late, *self.now]


def board(tests: Iterable[Running], now: datetime) -> Board:
    """Return the board of all tests at a time: of each chain only what can be done, late ones first."""
    made = Board()
    parts = {"late": made.late, "now": made.now, "next": made.next, "later": made.later}
    for test in tests:
        dues = due_operations(test.operations, test.times, test.begun, now)
        timed = [due for due in dues if due.standing in parts]
        for due in timed:
            parts[due.standing].append(DueLine(test, due))
        if test.begun and not timed:
            made.untimed.append(test)
        made.oven.extend(_in_oven(test, dues))
    for lines in parts.values():
        lines.sort(key=lambda line: (line.due.due or now, line.test.test_id))
    made.oven.sort(key=lambda held: held.out_at)
    return made


def _in_oven(test: Running, dues: list[Due]) -> list[InOven]:
    """Return what has gone into an oven and not come out: the operation after it is still open."""
    held = []
    for i, due in enumerate(dues):
        if due.operation.resource != "oven" or due.standing != "done" or due.done_at is None:
            continue
        if i + 1 < len(dues) and dues[i + 1].standing != "done":
            out = due.done_at + timedelta(minutes=due.operation.holds_min)
            held.append(InOven(test, due.operation.what, out))
    return held

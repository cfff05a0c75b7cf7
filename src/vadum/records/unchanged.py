"""What was worked out from a laboratory and holds until something is written to it: who asks, and the ground under a
live preview.

A typed reading asks for a preview with every key; what the test leans on changes only when somebody saves something.
"""

import os
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from threading import Lock
from typing import Any, TypeVar

from sqlalchemy import Engine, event
from sqlmodel import Session

from vadum.records.context import footing
from vadum.records.saving import locked
from vadum.records.tables import Test
from vadum.records.units import units_of_test
from vadum.soil.numbers.written import Units

T = TypeVar("T")
_REMEMBERED = 256
# By laboratory and key: what was known when it was worked out, and what came out.
_held: OrderedDict[tuple[str, Hashable], tuple[Hashable, Any]] = OrderedDict()
_written: dict[str, int] = {}
_lock = Lock()


def held(engine: Engine, key: Hashable) -> Any:
    """Return what is held under a key, None where nothing is or where any process has written since."""
    path, stamp = str(engine.url.database), _stamp(engine)
    with _lock:
        known, found = _held.get((path, key), (None, None))
        if known != stamp:
            return None
        _held.move_to_end((path, key))
        return found


def hold(engine: Engine, key: Hashable, work_out: Callable[[], T]) -> T:
    """Return what is held under a key, worked out where nothing is.

    Rows among it are read by many threads at once: nobody writes through them.
    """
    # What is written while it is worked out makes it stale: it is held under what was known before.
    path, stamp = str(engine.url.database), _stamp(engine)
    known: T | None = held(engine, key)
    if known is not None:
        return known
    found = work_out()
    with _lock:
        _held[path, key] = stamp, found
        while len(_held) > _REMEMBERED:
            _held.popitem(last=False)
    return found


@dataclass(frozen=True)
class Under:
    """What lies under a preview: the test as it was saved, what it leans on, and the units it is shown in."""

    method: str
    state: str
    locked: bool
    revision: int
    readings: dict[str, Any]
    unread: dict[str, str]
    settings: dict[str, Any]
    context: dict[str, Any]
    units: Units


def under(session: Session, test: Test) -> Under:
    """Return what lies under a test's previews."""
    return Under(
        method=test.method,
        state=test.state,
        locked=locked(test),
        revision=test.revision,
        readings=test.readings,
        unread=test.unread,
        settings=test.settings,
        context=footing(session, test).context,
        units=units_of_test(test),
    )


def _stamp(engine: Engine) -> Hashable:
    """Return what differs once something was written: commits of this process, and the write-ahead log of all."""
    path = str(engine.url.database)
    try:
        log = os.stat(f"{path}-wal")
        seen: tuple[int, ...] = (log.st_mtime_ns, log.st_size)
    except OSError:
        seen = ()
    return _written.get(path, 0), seen


@event.listens_for(Session, "after_commit")
def _note(session: Session) -> None:
    engine = session.get_bind()
    if isinstance(engine, Engine):
        path = str(engine.url.database)
        _written[path] = _written.get(path, 0) + 1

"""What was worked out from a laboratory and holds until something is written to it: the ground under a live preview.

A typed reading asks for a preview with every key; what the test leans on changes only when somebody saves something.
"""

import os
from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from sqlalchemy import Engine, event
from sqlmodel import Session

from vadum.records.context import Footing, footing
from vadum.records.tables import Test
from vadum.records.units import units_of_test
from vadum.soil.numbers.written import Units

_REMEMBERED = 64


@dataclass(frozen=True)
class Under:
    """What lies under a preview: what the test leans on, and the units it is shown in."""

    footing: Footing
    units: Units


_known: OrderedDict[tuple[Any, ...], Under] = OrderedDict()
_written: dict[str, int] = {}
_lock = Lock()


def under_preview(session: Session, test: Test) -> Under:
    """Return what lies under a test's previews, gathered once until any process writes to the laboratory."""
    engine = session.get_bind()
    assert isinstance(engine, Engine)
    key = (*_stamp(engine), test.id, test.revision)
    with _lock:
        if key in _known:
            _known.move_to_end(key)
            return _known[key]
    found = Under(footing(session, test), units_of_test(test))
    with _lock:
        _known[key] = found
        while len(_known) > _REMEMBERED:
            _known.popitem(last=False)
    return found


def _stamp(engine: Engine) -> tuple[Any, ...]:
    """Return what differs once something was written: commits of this process, and the write-ahead log of all."""
    path = str(engine.url.database)
    try:
        log = os.stat(f"{path}-wal")
        seen: tuple[int, ...] = (log.st_mtime_ns, log.st_size)
    except OSError:
        seen = ()
    return path, _written.get(path, 0), seen


@event.listens_for(Session, "after_commit")
def _note(session: Session) -> None:
    engine = session.get_bind()
    if isinstance(engine, Engine):
        path = str(engine.url.database)
        _written[path] = _written.get(path, 0) + 1

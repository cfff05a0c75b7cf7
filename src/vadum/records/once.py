"""What is asked of the record again and again within one request, read once: kept with its session until that writes,
ends or goes back."""

from collections.abc import Callable, Hashable, Iterable
from typing import Any, TypeVar

from sqlalchemy import event
from sqlalchemy.orm import ORMExecuteState
from sqlmodel import Session

K = TypeVar("K", bound=Hashable)
T = TypeVar("T")
_KEPT, _MOST = "read once", 4096


def once(session: Session, name: str, read: Callable[[], T]) -> T:
    """Return what is read under a name."""
    return each_once(session, name, (None,), lambda _: {None: read()})[None]


def each_once(
    session: Session, name: str, keys: Iterable[K], read: Callable[[list[K]], dict[K, T]], most: int = _MOST
) -> dict[K, T]:
    """Return what is read for each key under a name; ``read`` is asked for those not yet read, all at once.

    A page that walks over many tests asks for all of them first: whoever asks for one of them later reads nothing.
    Beyond ``most`` of a name only those asked for last are kept: who goes through years of tests fills no memory.
    """
    if session.autoflush and (session.new or session.dirty or session.deleted):
        session.flush()  # as a query would: what is about to be written counts
    names: dict[str, dict[Any, T]] = session.info.setdefault(_KEPT, {})
    kept, wanted = names.setdefault(name, {}), list(dict.fromkeys(keys))
    if lacking := [key for key in wanted if key not in kept]:
        kept |= read(lacking)
    found = {key: kept[key] for key in wanted}
    if len(kept) > most:
        names[name] = dict(found)
    return found


def forget(session: Any, *_: Any) -> None:
    """Read everything anew from now on: who waited for another writer knows nothing of what was written."""
    session.info.pop(_KEPT, None)


for _moment in ("after_flush", "after_commit", "after_rollback"):
    event.listen(Session, _moment, forget)


@event.listens_for(Session, "do_orm_execute")
def _written_at_once(asked: ORMExecuteState) -> None:
    if not asked.is_select:
        forget(asked.session)

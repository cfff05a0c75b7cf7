"""The laboratory's own time: the record keeps UTC, people read days and hours of their zone."""

from datetime import date, datetime, tzinfo
from zoneinfo import ZoneInfo, available_timezones

from sqlmodel import Session

from vadum.records.kept_settings import keep_setting, setting
from vadum.records.tables import now

_KEY = "zone"


class ZoneError(ValueError):
    """A zone that nobody knows; the message is for the person who chose it."""


def zone_name(session: Session) -> str:
    """Return the name of the zone that the laboratory chose; "" before it did."""
    return setting(session, _KEY) or ""


def zone_of(session: Session) -> tzinfo:
    """Return the laboratory's zone; the server's own before one was chosen."""
    name = zone_name(session)
    return ZoneInfo(name) if name else server_zone()


def server_zone() -> tzinfo:
    zone = datetime.now().astimezone().tzinfo
    assert zone is not None
    return zone


def keep_zone(session: Session, name: str) -> None:
    """Read all times in a zone from now on, and commit; "" is the server's own.

    Raises
    ------
    ZoneError
        If there is no such zone.
    """
    if name and name not in available_timezones():
        raise ZoneError(f"There is no zone “{name}”: choose one of the list, as Europe/Lisbon.")
    keep_setting(session, _KEY, name)


def local(session: Session, at: datetime) -> datetime:
    """Return a time in the laboratory's zone."""
    return at.astimezone(zone_of(session))


def today(session: Session) -> date:
    """Return the day it is in the laboratory."""
    return local(session, now()).date()


def stamp(session: Session, at: datetime) -> str:
    """Return a time as sheets print it, with the zone it is in: ``2026-03-02 14:05 CET``."""
    there = local(session, at)
    name = there.tzname() or ""
    return f"{there:%Y-%m-%d %H:%M} {name if name.isalpha() else f'UTC{name}'}"

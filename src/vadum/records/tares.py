"""The tares of tins: a tin is weighed again now and then, a test takes what it weighed on the test's day."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlmodel import Session, col, select

from vadum.records.once import once
from vadum.records.tables import Calibration, Equipment

_COLUMNS: Any = (Equipment.id, Equipment.name, Equipment.tare_g, Calibration.on, Calibration.constants)
_TINS = (
    select(*_COLUMNS)
    .outerjoin(Calibration, col(Calibration.equipment_id) == col(Equipment.id))
    .where(Equipment.kind == "tin")
    .order_by(col(Calibration.on), col(Calibration.id))
)

TARE = "tare_g"
"""The constant of a calibration under which a tin's mass is kept."""


def tares(session: Session, on: Callable[[], date]) -> dict[str, float]:
    """Return the tare in g of every registered tin, as it was on a day; ``on`` is asked only where some tin was weighed
    more than once."""
    tins = once(session, "tins", lambda: _tins(session))
    found = {tin.name: tin.tare for tin in tins if tin.tare is not None}
    several = [tin for tin in tins if len(tin.weighings) > 1]
    if several:
        day = on()
        found |= {tin.name: tare for tin in several if (tare := tin.on(day)) is not None}
    return found


@dataclass(frozen=True)
class Tin:
    """A registered tin: its tare, and its weighings by their days, the oldest first."""

    name: str
    tare: float | None
    weighings: list[tuple[date, float]]

    def on(self, day: date) -> float | None:
        """Return what it weighed on a day, g: as it was weighed last, before the first time as it was weighed then."""
        if len(self.weighings) < 2:
            return self.tare
        made = [tare for weighed, tare in self.weighings if weighed <= day]
        return made[-1] if made else self.weighings[0][1]


def _tins(session: Session) -> list[Tin]:
    found: dict[int | None, Tin] = {}
    for key, name, tare, day, constants in session.exec(_TINS):
        tin = found.setdefault(key, Tin(name, tare, []))
        if constants and TARE in constants:
            tin.weighings.append((day, constants[TARE]))
    return list(found.values())


def weighings_of(session: Session, tin: Equipment) -> list[Calibration]:
    """Return when a tin was weighed and what it was, the oldest first."""
    query = select(Calibration).where(Calibration.equipment_id == tin.id)
    every = session.exec(query.order_by(col(Calibration.on), col(Calibration.id))).all()
    return [one for one in every if TARE in one.constants]

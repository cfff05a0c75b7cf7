"""The tares of tins: a tin is weighed again now and then, a test takes what it weighed on the test's day."""

from collections.abc import Callable
from datetime import date

from sqlmodel import Session, col, select

from vadum.records.calibrations import in_force
from vadum.records.tables import Calibration, Equipment

TARE = "tare_g"
"""The constant of a calibration under which a tin's mass is kept."""


def tares(session: Session, on: Callable[[], date]) -> dict[str, float]:
    """Return the tare in g of every registered tin, as it was on a day; ``on`` is asked only where some tin was weighed
    more than once."""
    tins = session.exec(select(Equipment.id, Equipment.name, Equipment.tare_g).where(Equipment.kind == "tin")).all()
    found = {name: tare for _, name, tare in tins if tare is not None}
    names = {key: name for key, name, _ in tins}
    weighings: dict[int, list[Calibration]] = {}
    query = select(Calibration).join(Equipment, col(Equipment.id) == col(Calibration.equipment_id))
    for one in session.exec(query.where(Equipment.kind == "tin").order_by(col(Calibration.on), col(Calibration.id))):
        if TARE in one.constants:
            weighings.setdefault(one.equipment_id, []).append(one)
    several = {key: every for key, every in weighings.items() if len(every) > 1}
    if several:
        day = on()
        for key, every in several.items():
            found[names[key]] = (in_force(every, day) or every[0]).constants[TARE]
    return found


def weighings_of(session: Session, tin: Equipment) -> list[Calibration]:
    """Return when a tin was weighed and what it was, the oldest first."""
    query = select(Calibration).where(Calibration.equipment_id == tin.id)
    every = session.exec(query.order_by(col(Calibration.on), col(Calibration.id))).all()
    return [one for one in every if TARE in one.constants]

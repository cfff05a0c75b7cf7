"""A new test of a sample or in the ground: with the settings of its preset and the equipment of the last one."""

from sqlmodel import Session, col, select

from vadum.records.presets import begun
from vadum.records.tables import Equipment, Location, Sample, Test
from vadum.soil.registry import method as method_of


def planned(session: Session, code: str, place: Sample | Location) -> Test:
    """Return a new test of a method; the caller commits."""
    method = method_of(code)
    if isinstance(place, Sample):
        test = begun(session, method, place.location.project, place.largest_particle_mm)
        test.sample_id = place.id
    else:
        test = begun(session, method, place.project, None)
        test.location_id = place.id
    test.uses = _usual_equipment(session, code)
    session.add(test)
    return test


def _usual_equipment(session: Session, method: str) -> list[Equipment]:
    last = session.exec(select(Test).where(Test.method == method).order_by(col(Test.id).desc())).first()
    return list(last.uses) if last else []

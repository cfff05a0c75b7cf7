"""A new test of a sample or in the ground: with the settings of its preset and the equipment of the last one."""

from typing import Any

from sqlmodel import Session, col, select

from vadum.records.presets import Presets, begun, words
from vadum.records.proposed import propose
from vadum.records.tables import Location, Sample, Test
from vadum.soil.registry import METHODS
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
    propose(test, session.exec(select(Test).where(Test.method == code).order_by(col(Test.id).desc())).first())
    session.add(test)
    return test


def offered_in_ground(presets: Presets) -> list[tuple[Any, str]]:
    """Return the methods that are carried out in the ground, and what each is begun with."""
    return [(m, words(m, presets.chosen(m))) for m in METHODS.values() if m.applies_to == "location"]

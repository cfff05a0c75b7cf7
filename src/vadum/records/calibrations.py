"""Calibrations of equipment: which one is in force on a day, what ran out, which tests a wrong one touches."""

from collections.abc import Sequence
from datetime import date
from typing import Any

from sqlalchemy.orm import defer
from sqlmodel import Session, col, func, select

from vadum.records.tables import Calibration, Equipment, Revision, Test, TestUse, now
from vadum.records.together import with_places
from vadum.records.zone import local, zone_of


def calibrations_of(session: Session, piece: Equipment) -> list[Calibration]:
    """Return a piece's calibrations, the oldest first, without their certificates."""
    return calibrations_by_piece(session, [piece]).get(piece.id or 0, [])


def calibrations_by_piece(session: Session, pieces: Sequence[Equipment]) -> dict[int, list[Calibration]]:
    """Return the calibrations of those pieces that have any, by the piece's key, the oldest first."""
    found: dict[int, list[Calibration]] = {}
    if pieces:
        query = select(Calibration).where(col(Calibration.equipment_id).in_([piece.id for piece in pieces]))
        heavy: Any = Calibration.certificate
        query = query.order_by(col(Calibration.on), col(Calibration.id)).options(defer(heavy))
        for one in session.exec(query).all():
            found.setdefault(one.equipment_id, []).append(one)
    return found


def in_force(every: Sequence[Calibration], on: date) -> Calibration | None:
    """Return the newest calibration made by a day; None before the first one."""
    made = [one for one in every if one.on <= on]
    return made[-1] if made else None


def why_not(every: Sequence[Calibration], on: date) -> str:
    """Return why no calibration covers a day; "" when one does."""
    valid = in_force(every, on)
    if valid is None:
        return f"first calibrated on {every[0].on.isoformat()}, after this test's day" if every else "never calibrated"
    if valid.due is not None and valid.due < on:
        return f"its calibration ran out on {valid.due.isoformat()}"
    return ""


def day_of(session: Session, test: Test) -> date:
    """Return the day of a test: that of its first readings, today before there are any."""
    first = session.exec(select(func.min(Revision.at)).where(Revision.test_id == test.id)).one()
    return local(session, first or now()).date()


def days_of(session: Session, tests: Sequence[Test]) -> dict[int, date]:
    """Return the day of each of many tests: that of its first readings, today before there are any."""
    asked = select(Revision.test_id, func.min(Revision.at)).where(col(Revision.test_id).in_([t.id for t in tests]))
    first = dict(session.exec(asked.group_by(col(Revision.test_id))).all())
    moment, zone = now(), zone_of(session)
    return {t.id: (first.get(t.id) or moment).astimezone(zone).date() for t in tests if t.id is not None}


def used_in(session: Session, piece: Equipment, since: date | None = None) -> list[Test]:
    """Return the tests that used a piece, since a day where one is given: the sheets that a wrong one touches."""
    query = select(Test).join(TestUse).where(TestUse.equipment_id == piece.id).order_by(col(Test.updated_at).desc())
    tests = session.exec(with_places(query)).all()
    return [t for t in tests if since is None or day_of(session, t) >= since]

"""Calibrations of equipment: which one is in force on a day, what ran out, which tests a wrong one touches."""

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

from sqlalchemy import bindparam
from sqlalchemy.orm import defer
from sqlalchemy.orm.attributes import set_committed_value
from sqlmodel import Session, and_, col, func, or_, select

from vadum.records.conditions import among
from vadum.records.once import each_once
from vadum.records.tables import Calibration, Equipment, Revision, Test, TestUse, now
from vadum.records.together import has, with_places
from vadum.records.zone import local, zone_of

_CERTIFICATE: Any = Calibration.certificate  # heavy, and rarely looked at
_OF_PIECES = (
    select(Calibration)
    .where(among(Calibration.equipment_id, "pieces"))
    .order_by(col(Calibration.on), col(Calibration.id))
    .options(defer(_CERTIFICATE))
)
_ASKED: Any = (Equipment, TestUse.test_id, Calibration)
_PIECES_WITH_USES = (
    select(*_ASKED)
    .outerjoin(TestUse, and_(col(TestUse.equipment_id) == Equipment.id, col(TestUse.test_id) == bindparam("test")))
    .outerjoin(Calibration, col(Calibration.equipment_id) == TestUse.equipment_id)
    .where(or_(col(Equipment.kind) != "tin", col(TestUse.test_id).is_not(None)))
    .order_by(Equipment.kind, Equipment.name, col(Calibration.on), col(Calibration.id))
    .options(defer(_CERTIFICATE))
)
_BEGUN = (
    select(Revision.test_id, func.min(Revision.at))
    .where(among(Revision.test_id, "tests"))
    .group_by(col(Revision.test_id))
)


def calibrations_of(session: Session, piece: Equipment) -> list[Calibration]:
    """Return a piece's calibrations, the oldest first, without their certificates."""
    return calibrations_by_piece(session, [piece]).get(piece.id or 0, [])


def calibrations_by_piece(session: Session, pieces: Sequence[Equipment]) -> dict[int, list[Calibration]]:
    """Return the calibrations of those pieces that have any, by the piece's key, the oldest first."""

    def read(numbers: list[int]) -> dict[int, list[Calibration]]:
        found: dict[int, list[Calibration]] = {number: [] for number in numbers}
        for one in session.exec(_OF_PIECES, params={"pieces": numbers}).all():
            found[one.equipment_id].append(one)
        return found

    known = each_once(session, "calibrations", [piece.id or 0 for piece in pieces], read)
    return {number: every for number, every in known.items() if every}


def pieces_with_uses(session: Session, test: Test) -> list[Equipment]:
    """Return all equipment but the tins, by kind and name; with it what a test uses is read, and its calibrations."""
    pieces: dict[int, Equipment] = {}
    mine: dict[int, list[Calibration]] = {}
    for piece, of, calibration in session.exec(_PIECES_WITH_USES, params={"test": test.id}).all():
        pieces[piece.id] = piece
        if of is not None:
            mine.setdefault(piece.id, []).extend([calibration] if calibration else [])
    if not has(test, "uses"):
        set_committed_value(test, "uses", [pieces[number] for number in sorted(mine)])
    each_once(session, "calibrations", mine, lambda numbers: {number: mine[number] for number in numbers})
    return [piece for piece in pieces.values() if piece.kind != "tin"]


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
    return local(session, begun_of(session, [test]).get(test.id or 0) or now()).date()


def days_of(session: Session, tests: Sequence[Test]) -> dict[int, date]:
    """Return the day of each of many tests: that of its first readings, today before there are any."""
    moment, zone = now(), zone_of(session)
    return {test: (at or moment).astimezone(zone).date() for test, at in begun_of(session, tests).items()}


def begun_of(session: Session, tests: Sequence[Test]) -> dict[int, datetime | None]:
    """Return when the first readings of each test were saved, None before there are any."""

    def read(numbers: list[int]) -> dict[int, datetime | None]:
        return dict.fromkeys(numbers) | dict(session.exec(_BEGUN, params={"tests": numbers}).all())

    return each_once(session, "begun", [test.id for test in tests if test.id is not None], read)


def used_in(session: Session, piece: Equipment, since: date | None = None) -> list[Test]:
    """Return the tests that used a piece, since a day where one is given: the sheets that a wrong one touches."""
    query = select(Test).join(TestUse).where(TestUse.equipment_id == piece.id).order_by(col(Test.updated_at).desc())
    tests = session.exec(with_places(query)).all()
    return [t for t in tests if since is None or day_of(session, t) >= since]

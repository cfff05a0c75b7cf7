"""Signatures that somebody may measure by a method without another beside.

Source: ISO/IEC 17025 (2017), 6.2.5 and 6.2.6: competence is determined, authorised, and kept on record.
"""

from collections.abc import Iterable
from datetime import date

from sqlmodel import Session, col, select

from vadum.records.tables import Competence, Person, Test, now
from vadum.records.zone import local
from vadum.soil.registry import METHODS

LONGEST_GROUNDS = 200


class CompetenceError(ValueError):
    """A signature that cannot be given; the message is for the person who tried."""


def in_force(one: Competence, on: date) -> bool:
    return one.ended_at is None and on <= one.until


def sign(session: Session, person: Person, method: str, until: date, by: str, grounds: str) -> None:
    """Sign that somebody may measure by a method alone until a day, in the place of an earlier signature; commit.

    Raises
    ------
    CompetenceError
        If it is one's own, has run out already, or says not on what grounds.
    """
    if by == person.name:
        raise CompetenceError("Nobody signs for themselves: another checker or the manager does.")
    if method not in METHODS:
        raise CompetenceError("There is no such method.")
    if until < local(session, now()).date():
        raise CompetenceError("The day lies in the past: give the day until which it holds.")
    if not grounds.strip():
        raise CompetenceError("Say on what grounds: blind soils, duplicates, watched at the bench.")
    for one in signatures_of(session, person):
        if one.method == method and one.ended_at is None:
            _end(one, by)
            session.add(one)
    new = Competence(
        person_id=person.id or 0,
        method=method,
        at=now(),
        until=until,
        signed_by=by,
        grounds=grounds.strip()[:LONGEST_GROUNDS],
    )
    session.add(new)
    session.commit()


def withdraw(session: Session, one: Competence, by: str) -> None:
    """End a signature from now on, and commit; it stays on record."""
    _end(one, by)
    session.add(one)
    session.commit()


def unsigned(session: Session, test: Test, who: Iterable[str]) -> list[str]:
    """Return who of these people may not measure by a test's method alone.

    A person who is not registered, as a token's name, cannot be signed off.
    """
    today = local(session, now()).date()
    lacking = []
    for name in sorted(set(who)):
        person = session.exec(select(Person).where(Person.name == name)).first()
        signed = [] if person is None else signatures_of(session, person)
        if not any(one.method == test.method and in_force(one, today) for one in signed):
            lacking.append(name)
    return lacking


def _end(one: Competence, by: str) -> None:
    one.ended_at, one.ended_by = now(), by


def signatures_of(session: Session, person: Person) -> list[Competence]:
    query = select(Competence).where(Competence.person_id == person.id).order_by(col(Competence.id))
    return list(session.exec(query).all())

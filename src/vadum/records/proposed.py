"""Equipment proposed from the last test: said once a day by each person, and until then printed as proposed."""

import json

from sqlalchemy import String, cast
from sqlmodel import Session, col, select

from vadum.records.tables import Test
from vadum.records.zone import today

_FROM = "from"


def propose(test: Test, last: Test | None) -> None:
    """Give a test the equipment of another one, as a proposal."""
    test.uses = list(last.uses) if last else []
    test.uses_said = {_FROM: last.id} if last and test.uses else {}


def is_proposed(test: Test) -> bool:
    """Return whether nobody said yet that its equipment is what was used."""
    return _FROM in test.uses_said


def asks(session: Session, test: Test, who: str) -> bool:
    """Return whether a person is to say so: not where they said it today of another test of this method."""
    return is_proposed(test) and not _said_today(session, test, who)


def say(session: Session, test: Test, who: str) -> None:
    """Note that a person said it today; the caller commits."""
    test.uses_said = _said(session, who)


def measured(session: Session, test: Test, who: str) -> None:
    """Let what a person said today of another test of this method count for the one they measure now."""
    if is_proposed(test) and _said_today(session, test, who):
        say(session, test, who)


def _said(session: Session, who: str) -> dict[str, str]:
    return {"who": who, "on": today(session).isoformat()}


def _said_today(session: Session, test: Test, who: str) -> bool:
    same = cast(col(Test.uses_said), String) == json.dumps(_said(session, who))
    mine = {piece.id for piece in test.uses}
    every = session.exec(select(Test).where(Test.method == test.method, same)).all()
    return any({piece.id for piece in one.uses} == mine for one in every)

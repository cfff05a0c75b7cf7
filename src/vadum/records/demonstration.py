"""Whether a laboratory is a demonstration: only there do simulated instruments fill its records."""

from sqlmodel import Session

from vadum.records.tables import LaboratorySetting

_KEY = "demonstration"


def is_demonstration(session: Session) -> bool:
    return session.get(LaboratorySetting, _KEY) is not None


def declare_demonstration(session: Session) -> None:
    """Say that nothing in this laboratory was measured, and commit."""
    session.merge(LaboratorySetting(key=_KEY, value="yes"))
    session.commit()

"""Values of the whole laboratory, each kept as text under its key."""

from sqlmodel import Session, select

from vadum.records.once import once
from vadum.records.tables import LaboratorySetting

_EVERY = select(LaboratorySetting.key, LaboratorySetting.value)


def setting(session: Session, key: str) -> str | None:
    """Return a value of the laboratory; None before anybody chose one. Pages ask for several."""
    return once(session, "settings", lambda: dict(session.exec(_EVERY).all())).get(key)


def keep_setting(session: Session, key: str, value: str) -> None:
    """Keep a value from now on, and commit."""
    session.merge(LaboratorySetting(key=key, value=value))
    session.commit()

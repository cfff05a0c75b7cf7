"""Whether a laboratory is a demonstration: only there do simulated instruments fill its records."""

from sqlmodel import Session

from vadum.records.kept_settings import keep_setting, setting

_KEY = "demonstration"


def is_demonstration(session: Session) -> bool:
    return setting(session, _KEY) is not None


def declare_demonstration(session: Session) -> None:
    """Say that nothing in this laboratory was measured, and commit."""
    keep_setting(session, _KEY, "yes")

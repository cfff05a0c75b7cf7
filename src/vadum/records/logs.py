"""Rows of logger files: kept once, however many tests and revisions hold them, and named by their hash."""

from functools import lru_cache
from typing import Any

from pydantic_core import from_json
from sqlalchemy.orm import Session
from sqlmodel import Field, SQLModel

# Rows of logger files never change: the last ones asked for are remembered.
_REMEMBERED = 8


class LogContent(SQLModel, table=True):
    """The rows of a logger file, kept once however many revisions hold it; ``sha256`` is of ``data``, its JSON."""

    __tablename__ = "log_content"
    sha256: str = Field(primary_key=True)
    data: str


@lru_cache(maxsize=_REMEMBERED)
def _log(data: str) -> dict[str, Any]:
    found: dict[str, Any] = from_json(data)
    return found


def log_reference(value: Any) -> str:
    """Return the hash of the logger file that stands for a reading; "" for any other reading."""
    return str(value["log"]) if isinstance(value, dict) and value.keys() == {"log"} else ""


def with_logs(session: Session | None, kept: dict[str, Any]) -> dict[str, Any]:
    """Return readings with the rows of logger files in the place of their references."""
    named = {name: sha for name, value in kept.items() if (sha := log_reference(value))}
    if not named:
        return kept
    if session is None:
        raise LookupError("readings with a logger file are read from a test of an open session")
    contents = {name: session.get(LogContent, sha) for name, sha in named.items()}
    if missing := [name for name, found in contents.items() if found is None]:
        raise LookupError(f"the rows of {missing[0]} are not in the database")
    return kept | {name: _log(found.data) for name, found in contents.items() if found is not None}

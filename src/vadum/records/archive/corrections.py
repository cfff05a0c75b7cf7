"""Who put right what was typed of a project, a location, a sample or a piece, out and in."""

from typing import Any

from pydantic import AwareDatetime, BaseModel, ConfigDict
from sqlmodel import Session

from vadum.records.corrections import Corrected, corrections_of, whose
from vadum.records.tables import Correction


class _Line(BaseModel):
    """A correction without the keys of a laboratory."""

    model_config = ConfigDict(extra="forbid", from_attributes=True)

    at: AwareDatetime
    who: str
    reason: str
    changed: dict[str, tuple[Any, Any]]


def corrections_out(session: Session, row: Corrected) -> list[dict[str, Any]]:
    """Return what was corrected of a row, the oldest first, as plain data."""
    return [_Line.model_validate(one).model_dump(mode="json") for one in reversed(corrections_of(session, row))]


def bring_corrections(session: Session, row: Corrected, told: list[dict[str, Any]]) -> None:
    """Tell of a row, which has its key, what an archive tells of it.

    Raises
    ------
    pydantic.ValidationError
        If a line is none.
    """
    of, key = whose(row)
    for one in told:
        line = _Line.model_validate(one)
        changed = {name: list(both) for name, both in line.changed.items()}
        session.add(Correction(of=of, row_id=key, at=line.at, who=line.who, reason=line.reason, changed=changed))

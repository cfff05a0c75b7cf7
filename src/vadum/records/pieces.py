"""The equipment of a test with the calibration that counted on its day: what a sheet prints, what a check freezes."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session

from vadum.records.calibrations import calibrations_by_piece, day_of, in_force
from vadum.records.tables import Test
from vadum.soil.contract.equipment import TRACED, needed
from vadum.soil.contract.method import Method


@dataclass(frozen=True)
class Piece:
    """A piece of equipment: step of its readings, days of its calibration, number of its certificate and the
    uncertainty (k = 2) that it states."""

    name: str
    kind: str
    resolution: float | None = None
    calibrated: str = ""
    due: str = ""
    uncertainty: float | None = None
    certificate: str = ""

    @property
    def words(self) -> str:
        traced = TRACED.get(self.kind, "")
        said = [
            f"certificate {self.certificate}" if self.certificate else "",
            f"calibrated {self.calibrated}" if self.calibrated else "",
            f"until {self.due}" if self.due else "",
            f"no calibration of its {traced} on record" if traced and not self.calibrated else "",
        ]
        return ", ".join([f"{self.name} ({self.kind})", *(word for word in said if word)])


def pieces_of(session: Session, test: Test) -> list[Piece]:
    """Return the equipment in use with the calibration in force on the test's day."""
    known = calibrations_by_piece(session, test.uses)
    day = day_of(session, test) if known else None
    found = []
    for piece in test.uses:
        valid = in_force(known.get(piece.id or 0, []), day) if day else None
        found.append(
            Piece(
                piece.name,
                piece.kind,
                piece.resolution,
                valid.on.isoformat() if valid else "",
                valid.due.isoformat() if valid and valid.due else "",
                valid.uncertainty if valid else None,
                valid.certificate_number if valid else "",
            )
        )
    return found


def not_said(
    method: Method[Any, Any, Any], readings: dict[str, Any], settings: dict[str, Any], pieces: Iterable[Piece]
) -> list[str]:
    """Return the kinds of equipment that a test was made with and of which nobody said which piece it was."""
    said = {piece.kind for piece in pieces}
    return [kind for kind in needed(method, readings, method.Settings.model_validate(settings)) if kind not in said]


def of_kind(pieces: Iterable[Piece], kind: str) -> list[Piece]:
    return [piece for piece in pieces if piece.kind == kind]

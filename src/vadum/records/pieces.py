"""The equipment of a test with the calibration that counted on its day: what a sheet prints, what a check freezes."""

from collections.abc import Iterable
from dataclasses import dataclass

from sqlmodel import Session

from vadum.records.calibrations import calibrations_by_piece, day_of, in_force
from vadum.records.tables import Test


@dataclass(frozen=True)
class Piece:
    """A piece of equipment: step of its readings, days of its calibration, and the certificate's uncertainty (k =
    2)."""

    name: str
    kind: str
    resolution: float | None = None
    calibrated: str = ""
    due: str = ""
    uncertainty: float | None = None

    @property
    def words(self) -> str:
        calibrated = f", calibrated {self.calibrated}" if self.calibrated else ""
        return f"{self.name} ({self.kind}){calibrated}{f', until {self.due}' if self.due else ''}"


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
            )
        )
    return found


def of_kind(pieces: Iterable[Piece], kind: str) -> list[Piece]:
    return [piece for piece in pieces if piece.kind == kind]

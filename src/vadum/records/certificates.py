"""What the register knows of an instrument's calibration: it counts, whatever the instrument says of itself."""

from dataclasses import dataclass
from datetime import date

from sqlmodel import Session, select

from vadum.records.calibrations import calibrations_of, in_force, why_not
from vadum.records.tables import Equipment
from vadum.records.zone import today


@dataclass(frozen=True)
class Known:
    """The calibration of a piece that is in force today, and why there is none that covers the day."""

    calibrated: date | None
    certificate: str
    why_not: str = ""


def known(session: Session, name: str) -> Known | None:
    """Return what the register knows of the piece of an instrument's name; None for one that is not in it."""
    wanted, pieces = name.casefold(), session.exec(select(Equipment).where(Equipment.kind != "tin"))
    alike = [piece for piece in pieces if piece.name.casefold() == wanted]
    # Of an earlier release two pieces may differ in their capitals alone: the instrument's own spelling is meant.
    piece = next((piece for piece in alike if piece.name == name), alike[0] if alike else None)
    if piece is None:
        return None
    every, day = calibrations_of(session, piece), today(session)
    valid = in_force(every, day)
    return Known(
        valid.on if valid else None,
        (valid.certificate_number or valid.certificate_name) if valid else "",
        why_not(every, day) if every else "",
    )

"""What both bearing tests write down: rows of penetration and ring, the ring itself, how the run ended."""

from typing import Any

from pydantic import BaseModel, Field

from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Row, Supplied, reading, setting
from vadum.soil.contract.neighbours import Relation, Rising, Smooth
from vadum.soil.contract.still import Moves
from vadum.soil.physics.bearing import RATE_MM_MIN, Rounded, School

STEP_MM = 0.25
LAST_MM = 7.5
MOST_ROWS = 400
"""A press that records by itself keeps a row each twentieth of a millimetre."""


class ForceRead(Choice):
    """What the force is read from."""

    RING = "ring", "dial of a load ring"
    CELL = "cell", "load cell, in kN"


_RING, _CELL = {"force_read": [ForceRead.RING]}, {"force_read": [ForceRead.CELL]}


class PenetrationRow(Row):
    """The ring at one penetration."""

    penetration_mm: float | None = reading(
        "pen.",
        "mm",
        about="penetration after seating",
        low=0,
        high=15,
        resolution=0.01,
        instrument="dial gauge",
        also=("penetration",),
        absent=REQUIRED,
    )
    ring_div: float | None = reading(
        "ring",
        "div",
        about="load ring after it was zeroed",
        low=-5,
        high=3000,
        resolution=0.5,
        hand="down",
        instrument="load ring",
        also=("ring", "ring reading", "divisions", "dial"),
        absent=HARMLESS,
        shown=_RING,
    )
    load_kn: float | None = reading(
        "load",
        "kN",
        about="force as the press or its load cell says it, set to zero after seating",
        low=-0.5,
        high=500,
        resolution=0.001,
        hand="down",
        also=("load", "force", "force kN", "load kN"),
        absent=HARMLESS,
        shown=_CELL,
    )

    @property
    def read(self) -> float | None:
        """What was read of the force, whichever way: whether the row was taken."""
        return self.ring_div if self.ring_div is not None else self.load_kn

    def force_by(self, settings: "BearingSettings") -> float | None:
        """Return the reading the force is worked out from: divisions of the ring, or kN of the load cell."""
        return self.load_kn if settings.force_read == ForceRead.CELL else self.ring_div


def pressed(*tables: str) -> tuple[Relation, ...]:
    """Return what holds between the readings of runs of a plunger: it goes in, the ring follows a curve of its own."""
    own = [OwnSeries(tuple(f"{table}.{read}" for table in tables)) for read in ("ring_div", "load_kn")]
    return (
        *own,
        *(
            relation
            for table in tables
            for relation in (
                Rising(f"{table}.penetration_mm"),
                Smooth(f"{table}.ring_div", "penetration_mm"),
                Smooth(f"{table}.load_kn", "penetration_mm"),
                Moves(f"{table}.ring_div", beside="penetration_mm"),
                Moves(f"{table}.load_kn", beside="penetration_mm"),
            )
        ),
    )


def planned_rows() -> list[dict[str, float]]:
    """Return the rows of a run as plain data: each quarter of a millimetre to 7.5 mm, none at the seating itself."""
    return [{"penetration_mm": i * STEP_MM} for i in range(int(LAST_MM / STEP_MM) + 1)]


def shown_as(force_kn: float, factor_n_div: float, settings: "BearingSettings") -> dict[str, float]:
    """Return what stands in a row for a force: half divisions of a linear ring, or newtons of a load cell."""
    if settings.force_read == ForceRead.CELL:
        return {"load_kn": round(force_kn, 3)}
    return {"ring_div": round(1000 * force_kn / factor_n_div / 0.5) * 0.5}


def ring_factor_reading() -> Any:
    """Declare the factor of a linear ring."""
    return reading(
        "ring factor",
        "N/div",
        about="of a linear ring; the register's calibration when left blank",
        low=0.01,
        high=1000,
        absent=HARMLESS,
        usual=(0.8, 25),
        shown=_RING,
    )


def seating_reading() -> Any:
    """Declare the seating force."""
    return reading(
        "seating",
        "N",
        about="10 up to 5 %, 50 up to 30 %, 250 above; 44 at most by ASTM D1883",
        low=0,
        high=2000,
        absent=HARMLESS,
    )


def seating_div_reading() -> Any:
    """Declare the divisions of the ring at which the plunger was seated, where nobody turned them into a force."""
    return reading(
        "seated to",
        "div",
        about="of the ring, before it was set to zero; instead of the force",
        low=0,
        high=500,
        shown=_RING,
        absent=HARMLESS,
    )


class RingCalibration(BaseModel):
    """A load ring from the equipment register: divisions and force, rising."""

    name: str = ""
    table: list[tuple[float, float]] = Field(min_length=2)

    @property
    def factor_n_div(self) -> float | None:
        """Newtons per division over the whole range, None where the table spans none."""
        (first, low), *_, (last, high) = sorted(self.table)
        return round(1000 * (high - low) / (last - first), 4) if last > first and high > low else None


class RingContext(Context):
    """The ring in use."""

    ring: RingCalibration | None = Field(default=None, description="divisions and force in kN")

    def pieces(self) -> list[Supplied]:
        """Return the constants in use, with the factor of a ring whose calibration is a straight line."""
        factor = self.ring.factor_n_div if self.ring else None
        named = self.ring.name or "the ring" if self.ring else ""
        return super().pieces() + ([Supplied(by=named, values={"ring_factor_n_div": factor})] if factor else [])


class BearingSettings(HandSettings):
    """School and construction, the same in the mould and in the ground."""

    school: School = setting(
        School.KN,
        "standard force",
        "13.2 and 20.0 kN at 2.5 and 5.0 mm (EN 13286-47); 6.9 and 10.3 MPa at 2.54 and 5.08 mm (ASTM D1883).",
    )
    force_read: ForceRead = setting(
        ForceRead.RING, "force read from", "A press with a load cell says kN itself; then there is no ring."
    )
    rate_mm_min: float | None = setting(
        None,
        "rate",
        "Blank: 1.0 ± 0.2 mm/min, 1.27 in the school of ASTM D1883.",
        unit="mm/min",
        low=0.1,
        high=5,
        followed=(0.8, 1.3),
    )
    rounded: Rounded = setting(
        Rounded.BY_SIZE,
        "reported to",
        "1, 5 or 10 % by its size (BS 1377, 1975); two figures (BS 1377-4); whole (ASTM D1883); a tenth below 3 %.",
    )
    drop_percent: float = setting(
        5.0,
        "sudden drop beyond",
        "A fall of the force by this share says that a stone broke or the plunger slipped.",
        unit="%",
        low=1,
        high=50,
    )

    @property
    def rate(self) -> float:
        """Rate asked for, in mm/min."""
        return self.rate_mm_min or RATE_MM_MIN[self.school]

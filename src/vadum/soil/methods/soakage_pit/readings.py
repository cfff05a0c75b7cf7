"""What is written beside a soakage pit: its sizes, and the level of each fill."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.filling import FillRow, LevelRow
from vadum.soil.bench.infiltrating import InfiltrationSettings
from vadum.soil.bench.position import latitude, longitude
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Readings, reading, remark, services_located, setting


class Backfill(Choice):
    """What stands in the pit."""

    EMPTY = "empty"
    STONE = "stone", "filled with clean stone"


_STONE = {"backfill": [Backfill.STONE]}


class PitReadings(Readings):
    """One pit and its fills."""

    length_mm: float | None = reading(
        "length at the base", "mm", low=100, high=20000, resolution=10.0, absent=REQUIRED, usual=(300, 4000)
    )
    width_mm: float | None = reading(
        "width at the base", "mm", low=100, high=5000, resolution=10.0, absent=REQUIRED, usual=(250, 1500)
    )
    top_length_mm: float | None = reading(
        "length at the water",
        "mm",
        about="when it is full; blank where the sides are upright",
        low=100,
        high=25000,
        resolution=10.0,
        absent=HARMLESS,
    )
    top_width_mm: float | None = reading(
        "width at the water",
        "mm",
        about="when it is full; blank where the sides are upright",
        low=100,
        high=8000,
        resolution=10.0,
        absent=HARMLESS,
    )
    base_mm: float | None = reading(
        "down to the base", "mm", low=100, high=20000, resolution=10.0, absent=REQUIRED, usual=(500, 4500)
    )
    full_mm: float | None = reading(
        "down to full",
        "mm",
        about="from the same mark: the level of the drain that is planned",
        low=0,
        high=20000,
        resolution=10.0,
        absent=REQUIRED,
    )
    voids_percent: float | None = reading(
        "voids of the stone",
        "%",
        about="of the volume; measured with a bucket and water",
        low=5,
        high=80,
        resolution=1.0,
        shown=_STONE,
        absent=REQUIRED,
        usual=(25, 50),
    )
    filled_l: float | None = reading(
        "water to fill it",
        "L",
        about="by the meter or the tank, in the first fill: holds the sizes against it",
        low=10,
        high=100000,
        resolution=10.0,
        absent=HARMLESS,
    )
    services_located: Literal["yes", "no"] | None = services_located()
    fills: list[FillRow] = Field(default_factory=list, title="fills", max_length=12)
    levels: list[LevelRow] = Field(default_factory=list, title="levels", max_length=900)
    ground: str | None = remark("ground", "what stands in the sides, and water that comes in", longest=200)
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()


class PitSettings(InfiltrationSettings):
    """How the pit is filled, and what the rate is for."""

    backfill: Backfill = setting(Backfill.EMPTY, "pit", "Filled with stone only the voids take water.")
    fills_needed: int = setting(
        3,
        "fills",
        "Three on one day or on days in a row: the ground must be as wet as in use.",
        low=1,
        high=6,
        followed=(3, None),
    )


class PitContext(Context):
    """Nothing of other tests."""

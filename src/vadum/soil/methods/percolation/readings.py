"""What is written beside a percolation hole: hole, soaking, levels of each fill."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.filling import FillRow, LevelRow
from vadum.soil.bench.infiltrating import InfiltrationSettings
from vadum.soil.bench.position import latitude, longitude
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Readings, answer, reading, services_located, setting


class Soaked(Choice):
    """How the hole was soaked before the first reading."""

    OVERNIGHT = "overnight", "kept full 4 h, left overnight"
    SANDY = "sandy", "two fills gone within 10 min each"
    NO = "no"


class PercolationReadings(Readings):
    """One hole and its fills."""

    hole_diameter_mm: float | None = reading(
        "diameter of hole", "mm", low=40, high=1000, absent=REQUIRED, usual=(95, 320)
    )
    hole_depth_mm: float | None = reading("depth of hole", "mm", low=100, high=5000, absent=REQUIRED, usual=(200, 2000))
    base_mm: float | None = reading(
        "scale at the base",
        "mm",
        about="what the scale or dipper reads at the bottom of the hole",
        low=-100,
        high=60000,
        resolution=1.0,
        absent="only the fall is known, not what goes through the wall",
    )
    soaked: Soaked | None = answer("soaked before", "dry ground drinks and swells", absent="nobody can say it was wet")
    services_located: Literal["yes", "no"] | None = services_located()
    fills: list[FillRow] = Field(default_factory=list, title="fills", max_length=12)
    levels: list[LevelRow] = Field(default_factory=list, title="levels", max_length=600)
    water_table_m: float | None = reading(
        "water table", "m", about="below ground, where known", low=0, high=50, absent=HARMLESS
    )
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()


class PercolationSettings(InfiltrationSettings):
    """When the falls are steady, and what the rate is for."""

    steady_rates: int = setting(3, "of the last", "Intervals that agree, refilled in between.", low=3, high=10)
    within_percent: float = setting(
        10.0, "steady within", "Of the last intervals, which must not go one way either.", unit="%", low=1, high=50
    )


class PercolationContext(Context):
    """Nothing of other tests."""

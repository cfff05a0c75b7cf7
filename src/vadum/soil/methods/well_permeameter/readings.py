"""What is written beside the hole: hole, reservoir, levels by time."""

from datetime import datetime
from typing import Literal

from pydantic import Field

from vadum.soil.bench.position import latitude, longitude
from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    Settings,
    answer,
    clock_reading,
    reading,
    remark,
    services_located,
    setting,
)
from vadum.soil.physics.constant_head import SoilClass


class Solution(Choice):
    """How many heads the reported value is from."""

    ONE = "one", "one head"
    TWO = "two", "two heads"


class RateFrom(Choice):
    """How a rate follows from Kfs."""

    UNIT_GRADIENT = "unit-gradient", "unit gradient"
    RELATION = "relation", "by the relation"


class FactorRule(Choice):
    """Where the factor of safety comes from."""

    FIXED = "fixed"
    BY_LAYERS = "by-layers", "by layers"


class Scale(Choice):
    """Which way the reservoir's scale counts while water goes out."""

    FALLS = "falls"
    RISES = "rises"


YesNo = Literal["yes", "no"]


class LevelRow(Row):
    """The reservoir's level at one time."""

    head: int | None = reading("head", "", about="1 or 2; as above when left blank", low=1, high=2, absent=HARMLESS)
    elapsed_min: float | None = reading(
        "after", "min", low=0, high=20000, also=("time", "elapsed", "elapsed time", "minutes", "t"), absent=REQUIRED
    )
    level_mm: float | None = reading(
        "level", "mm", about="of the reservoir, on its scale", low=-100, high=3000, resolution=1.0, absent=REQUIRED
    )
    refilled: YesNo | None = Field(
        default=None, title="refilled", description="yes: the level starts anew with this row"
    )


class WellReadings(Readings):
    """Hole, reservoir, water and levels."""

    hole_diameter_mm: float | None = reading(
        "diameter of hole",
        "mm",
        about="as the auger is sold; measured where the wall gave way",
        low=20,
        high=600,
        absent=HARMLESS,
        usual=(40, 110),
    )
    hole_radius_mm: float | None = reading(
        "radius of hole",
        "mm",
        about="half the diameter: 30 for a hole of 60; blank where the diameter is given",
        low=10,
        high=300,
        absent=HARMLESS,
        usual=(20, 80),
    )
    hole_depth_mm: float | None = reading("depth of hole", "mm", low=50, high=5000, absent=HARMLESS, usual=(100, 2500))
    head_1_mm: float | None = reading(
        "head 1",
        "mm",
        about="water in the hole",
        low=20,
        high=1000,
        absent="there is no result of this head",
        usual=(30, 400),
    )
    head_2_mm: float | None = reading(
        "head 2", "mm", about="a larger one", low=20, high=1000, absent=HARMLESS, usual=(30, 400)
    )
    reach_mm: float | None = reading(
        "frame reaches", "mm", about="depth at which the outlet can hang", low=50, high=5000, absent=HARMLESS
    )
    reservoir: Literal["inner", "combined"] | None = Field(
        default=None, title="reservoir", description="inner tube alone for tight ground, both together for open ground"
    )
    reservoir_2: Literal["inner", "combined"] | None = answer(
        "reservoir at head 2", "where it was changed; as at head 1 where left blank"
    )
    inner_cm2: float | None = reading(
        "inner section", "cm²", low=0.1, high=500, resolution=0.01, absent=HARMLESS, usual=(0.8, 15), piece=True
    )
    combined_cm2: float | None = reading(
        "combined section", "cm²", low=0.1, high=5000, resolution=0.01, absent=HARMLESS, usual=(15, 120), piece=True
    )
    temperature_c: float | None = reading(
        "water",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        also=("temperature", "temp"),
        absent="20 °C assumed",
        usual=(5, 25),
    )
    levels: list[LevelRow] = Field(default_factory=list, title="levels", max_length=600)
    utilities: YesNo | None = services_located(
        "utilities located", "", absent="nobody can say that services were located"
    )
    brushed: YesNo | None = answer(
        "smear brushed off",
        "the wall of the hole",
        absent="nobody can say that the smear was brushed off",
        locks="Brush the smear off the wall of the hole first: it seals it.",
    )
    water_table_m: float | None = reading(
        "water table", "m", about="below ground, where known", low=0, high=50, absent=HARMLESS
    )
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()
    odd_because: str | None = remark(
        "hole or head odd because", "a hole or a head outside the usual limits that is so, with its reason", longest=160
    )
    head_1_started_at: datetime | None = clock_reading("head 1 begun", "when the first level was read")
    head_2_started_at: datetime | None = clock_reading("head 2 begun", "when the first level was read")

    @property
    def radius_mm(self) -> float | None:
        """Half the diameter, or the radius as typed."""
        return self.hole_diameter_mm / 2 if self.hole_diameter_mm is not None else self.hole_radius_mm


class WellSettings(Settings):
    """Soil, steadiness, design."""

    scale: Scale = setting(
        Scale.FALLS, "scale of the reservoir", "It falls as water goes out, or counts what went out and rises."
    )
    soil: SoilClass = setting(
        SoilClass.LOAM, "class of soil", "Sets α*: 0.36, 0.12, 0.04, 0.01 per cm, and the shape factor."
    )
    solution: Solution = setting(
        Solution.ONE, "reported by", "One head with the class of soil; both are shown where two heads are read."
    )
    within_percent: float = setting(
        10.0, "steady within", "Of the last rates, which must not go one way either.", unit="%", low=1, high=50
    )
    steady_rates: int = setting(4, "of the last", "Three to five rates that agree.", low=3, high=10)
    infiltration: RateFrom = setting(
        RateFrom.UNIT_GRADIENT,
        "rate from Kfs",
        "Under a unit gradient they are equal; or Kfs = 6·10⁻¹¹ I^3.7363 (cm/s, mm/h), which gives more in tight"
        " ground.",
    )
    factor_rule: FactorRule = setting(
        FactorRule.FIXED,
        "factor of safety",
        "Fixed by the project, or 2.5 to 8.5 by how much tighter the ground below is.",
    )
    safety_factor: float = setting(2.5, "fixed factor", "2.5 to 8 by the project.", low=1, high=20)
    layer_ratio: float = setting(
        1.0, "base over tightest", "Rate at the base over the least within 1.5 m below.", low=0.01, high=1000
    )
    required_mm_h: float | None = setting(
        None, "rate required", "By the design of the project; empty: not judged.", unit="mm/h", low=0.01, high=5000
    )


class WellContext(Context):
    """Nothing of other tests."""

"""What is written in the pit: pressure, time and up to four gauges."""

from datetime import datetime
from typing import Literal

from pydantic import Field, field_validator

from vadum.soil.bench.plate_load import LoadAs, force_reading, piston_reading, pump_reading
from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    answer,
    clock_reading,
    reading,
    services_located,
    setting,
)
from vadum.soil.numbers.listed import minutes_listed
from vadum.soil.physics.plate import plate_area_m2


class Construction(Choice):
    """How the ultimate pressure is found."""

    DOUBLE_TANGENT = "double-tangent", "double tangent"
    LOGARITHMS = "logarithms", "two lines in logarithms"
    WIDTH_10 = "width-10", "10 % of the width"


class Rate(Choice):
    """When the next load may follow."""

    PER_MINUTE = "0.02-per-min", "0.02 mm/min"
    PER_HOUR = "0.02-per-hour", "0.02 mm/h"
    DAY = "24-h", "24 h"


class Ended(Choice):
    """Why loading ended."""

    REACHED_25 = "25-reached", "25 mm reached"
    FAILURE = "failure"
    DESIGN_3 = "3-designs", "3 x design reached"
    SPENT = "reaction-spent", "reaction spent"


class Increments(Choice):
    """How large one load step is."""

    FIFTH = "fifth", "a fifth of the safe estimate"
    TENTH = "tenth", "a tenth of the ultimate expected"
    DOUBLING = "doubling", "each twice the one before"


_LONGEST_MIN = 1440.0
# Shares of the largest pressure at which the rebound is read.
REBOUND = (0.5, 0.25, 0.0)
SCHEDULE_MIN = (1.0, 2.25, 4.0, 6.25, 9.0, 16.0, 25.0)
GAUGES = ("gauge_a_mm", "gauge_b_mm", "gauge_c_mm", "gauge_d_mm")


class GaugeRow(Row):
    """All gauges at one time of one stage."""

    pressure_kpa: float | None = reading(
        "pressure",
        "kPa",
        about="below the plate; as above when left blank",
        low=0,
        high=5000,
        also=("pressure", "stress"),
        absent=HARMLESS,
    )
    force_kn: float | None = force_reading()
    pump_bar: float | None = pump_reading()
    elapsed_min: float | None = reading(
        "after",
        "min",
        about="minutes since this pressure was reached",
        low=0,
        high=20000,
        also=("time", "elapsed", "elapsed time", "minutes", "t"),
        absent=REQUIRED,
    )
    gauge_a_mm: float | None = reading(
        "A", "mm", low=-20, high=3000, resolution=0.01, instrument="dial gauge", absent=REQUIRED, instead="gauge_b_mm"
    )
    gauge_b_mm: float | None = reading(
        "B", "mm", low=-20, high=3000, resolution=0.01, instrument="dial gauge", absent=HARMLESS
    )
    gauge_c_mm: float | None = reading(
        "C", "mm", low=-20, high=3000, resolution=0.01, instrument="dial gauge", absent=HARMLESS
    )
    gauge_d_mm: float | None = reading(
        "D", "mm", low=-20, high=3000, resolution=0.01, hand="row", instrument="dial gauge", absent=HARMLESS
    )


class PlateIncrementalReadings(Readings):
    """Pit, plate, seating, and the readings of every stage."""

    pit_width_m: float | None = reading(
        "width of pit", "m", about="at the level of the plate", low=0.2, high=20, absent=HARMLESS
    )
    footing_width_m: float | None = reading(
        "width of footing B",
        "m",
        about="B is the footing's width, never the pit's",
        low=0.1,
        high=50,
        absent="there is no pressure for a footing",
        usual=(0.3, 10),
    )
    estimate_kpa: float | None = reading(
        "safe pressure, estimate",
        "kPa",
        about="plans the increments: at most a fifth of it each",
        low=5,
        high=3000,
        absent="the increments cannot be judged",
    )
    piston_cm2: float | None = piston_reading()
    seating_kpa: float | None = reading("seating", "kPa", low=0, high=100, expected=(7, 7), absent=HARMLESS)
    rows: list[GaugeRow] = Field(default_factory=list, title="stages", max_length=900)
    soil: Literal["sand", "clay"] | None = answer(
        "ground", "sand or clay: how the plate is taken to the footing", absent="there is no settlement of a footing"
    )
    seating_released: Literal["yes", "no"] | None = answer(
        "seating released, zeroed",
        "",
        absent="nobody can say that the gauges were zeroed after seating",
        locks="Release the seating and zero all gauges first.",
    )
    largest_particle_mm: float | None = reading("largest particle", "mm", low=0, high=1000, absent=HARMLESS)
    depth_m: float | None = reading("level of test", "m", about="below ground", low=0, high=30, absent=HARMLESS)
    water_below_m: float | None = reading(
        "water below plate", "m", about="depth of the water table below the plate", low=-5, high=100, absent=HARMLESS
    )
    ended: Ended | None = Field(default=None, title="loading ended")
    services_located: Literal["yes", "no"] | None = services_located()
    stage_started_at: datetime | None = clock_reading("stage begun", "run mode's clock of the stage in hand")


class PlateIncrementalSettings(HandSettings):
    """Plate, rate, constructions and what the footing may do."""

    shape: Literal["round", "square"] = setting("square", "plate", "Round or square.")
    width_mm: float = setting(
        300.0, "plate width", "300 to 750 mm, at least four times the largest particle.", unit="mm", low=100, high=1500
    )
    rate: Rate = setting(
        Rate.PER_MINUTE,
        "next load when",
        "Rate below 0.02 mm/min; in clay another school waits for 0.02 mm/h, or 24 h.",
    )
    least_hold_min: float = setting(
        0.0,
        "least hold",
        "None beside the rate; 15 min by ASTM D1194, one hour by IS 1888.",
        unit="min",
        low=0,
        high=1440,
    )
    increments: Increments = setting(
        Increments.FIFTH, "increments", "A fifth of the safe estimate; or by the ultimate expected; or doubling."
    )
    load_as: LoadAs = setting(
        LoadAs.PRESSURE, "load typed as", "A force or an oil pressure is turned into pressure by the areas."
    )
    read_at: str = setting("", "read at", "Minutes of a stage; blank for 1 2.25 4 6.25 9 16 25, then each hour.")
    construction: Construction = setting(
        Construction.DOUBLE_TANGENT, "ultimate by", "All are shown; this one is reported."
    )
    elastic_to_kpa: float | None = setting(
        None, "first line by hand, up to", "Dragged on the figure; empty is automatic.", unit="kPa", low=0, high=5000
    )
    yielding_from_kpa: float | None = setting(
        None, "second line by hand, from", "Dragged on the figure; empty is automatic.", unit="kPa", low=0, high=5000
    )
    log_elastic_to_kpa: float | None = setting(
        None,
        "first logarithmic line by hand, up to",
        "Dragged on the figure; empty is automatic.",
        unit="kPa",
        low=0,
        high=5000,
    )
    log_yielding_from_kpa: float | None = setting(
        None,
        "second logarithmic line by hand, from",
        "Dragged on the figure; empty is automatic.",
        unit="kPa",
        low=0,
        high=5000,
    )
    safety_factor: float = setting(3.0, "factor of safety", "3; 2 to 3 by the project.", low=1, high=6)
    allowed_settlement_mm: float = setting(
        25.0, "settlement of the footing allowed", "25 mm for single footings in sand.", unit="mm", low=1, high=500
    )
    design_kpa: float | None = setting(
        None, "design pressure", "The test goes to three times it, at least twice.", unit="kPa", low=1, high=3000
    )
    apart_mm: float = setting(
        1.0,
        "gauges apart by",
        "Larger differences (and more than a quarter of the mean) say that the plate tilts.",
        unit="mm",
        low=0.1,
        high=20,
    )
    least_stages: int = setting(5, "least increments", "The safe estimate is reached in at least five.", low=3, high=20)

    @field_validator("read_at")
    @classmethod
    def _minutes(cls, value: str) -> str:
        minutes_listed(value, _LONGEST_MIN)
        return value

    @property
    def minutes(self) -> tuple[float, ...]:
        """Minutes of a stage at which it is read."""
        return minutes_listed(self.read_at, _LONGEST_MIN) or SCHEDULE_MIN

    @property
    def area_m2(self) -> float:
        return plate_area_m2(self.width_mm, square=self.shape == "square")


class PlateIncrementalContext(Context):
    """Nothing of other tests."""

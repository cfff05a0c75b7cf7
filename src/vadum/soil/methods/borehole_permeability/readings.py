"""What is written beside a borehole: casing, test section, water at rest, levels of each run."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.filling import MOST_FILLS, FillRow
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
    reading,
    remark,
    services_located,
    setting,
)
from vadum.soil.physics.borehole import Intake


class By(Choice):
    """How k follows from the levels."""

    SLOPE = "slope", "slope of ln H"
    LAG = "lag", "time at 0.37 of the first head"
    VELOCITY = "velocity", "velocity against head"


_LENGTH = {"intake": [Intake.SECTION, Intake.SECTION_BOUNDARY]}


class DipRow(Row):
    """The level of one run at one time."""

    fill: int | None = reading(
        "run", "", about="1, 2, 3; as above when left blank", low=1, high=MOST_FILLS, absent=HARMLESS
    )
    elapsed_min: float | None = reading(
        "after",
        "min",
        about="since the water was put in or taken out",
        low=0,
        high=100000,
        also=("time", "elapsed", "elapsed time", "minutes", "t"),
        absent=REQUIRED,
    )
    level_m: float | None = reading(
        "down to water",
        "m",
        about="from the top of the casing",
        low=-5,
        high=500,
        resolution=0.005,
        hand="row",
        also=("depth to water", "dip", "level"),
        absent=REQUIRED,
    )


class BoreholeReadings(Readings):
    """One test section and its runs."""

    casing_mm: float | None = reading(
        "casing, inside",
        "mm",
        about="diameter of the tube in which the level is read",
        low=10,
        high=1000,
        resolution=1.0,
        absent=REQUIRED,
        usual=(18, 210),
    )
    section_mm: float | None = reading(
        "section, diameter",
        "mm",
        about="of the bare hole or of the gravel around the filter; inside of the casing at an open end",
        low=10,
        high=1500,
        resolution=1.0,
        absent=REQUIRED,
        usual=(30, 350),
    )
    top_m: float | None = reading(
        "section from", "m", about="below the top of the casing", low=0, high=500, absent=REQUIRED, shown=_LENGTH
    )
    base_m: float | None = reading("section to", "m", low=0.2, high=500, absent=REQUIRED, usual=(0.5, 60))
    length_m: float | None = reading(
        "filter or bare hole, length",
        "m",
        about="by the tape, before it is lowered: holds the section against its two depths",
        low=0.05,
        high=100,
        resolution=0.01,
        absent=HARMLESS,
        shown=_LENGTH,
    )
    rest_m: float | None = reading(
        "water at rest",
        "m",
        about="down to it from the top of the casing, before the test",
        low=-5,
        high=500,
        resolution=0.005,
        absent=REQUIRED,
    )
    slug_l: float | None = reading(
        "water put in",
        "L",
        about="or taken out, in the first run: holds the casing against its first level",
        low=0.01,
        high=5000,
        resolution=0.1,
        absent=HARMLESS,
    )
    cleaned: Literal["yes", "no"] | None = answer(
        "section cleaned", "of cuttings and smear, water clean", absent="nobody can say that the section was clean"
    )
    services_located: Literal["yes", "no"] | None = services_located()
    fills: list[FillRow] = Field(default_factory=list, title="runs", max_length=MOST_FILLS)
    levels: list[DipRow] = Field(default_factory=list, title="levels", max_length=900)
    odd_because: str | None = remark(
        "section odd because", "a short section, or one above the water, with its reason", longest=160
    )
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()


class BoreholeSettings(Settings):
    """Geometry of the intake, and how k is found."""

    intake: Intake = setting(Intake.SECTION, "intake", "Sets the shape factor F.")
    by: By = setting(By.SLOPE, "k by", "The slope of all readings; two others beside it where they can be had.")
    left_percent: float = setting(
        37.0, "read until", "Of the first head; the time lag needs 37 %.", unit="%", low=5, high=80
    )


class BoreholeContext(Context):
    """Nothing of other tests."""

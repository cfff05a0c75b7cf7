"""What is weighed and read at the bottles."""

from typing import Literal

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Readings, Row, Settings, answer, reading, setting


class DriedIn(Choice):
    """How the soil was dried before the test."""

    AIR = "air"
    OVEN_60 = "oven-60", "oven to 60 °C"
    HOTTER = "hotter"


class LimeSoil(Choice):
    """What soil the lime is for."""

    CLAY = "clay"
    FAT_CLAY = "fat-clay", "fat clay"
    SILT = "silt"
    SAND = "sand"


class UpperBuffer(Choice):
    """The buffer the meter is checked with near the lime's own pH."""

    PH_12_45 = "12.45"
    PH_12 = "12.0"
    SINGLE_12 = "single-12.0", "single 12.0"


class Shaken(Choice):
    """Whose clock the shaking and the reading go by."""

    TOGETHER = "together", "all bottles at once"
    EACH = "each", "each bottle from its own water"


PLAN_PERCENT = (2.0, 3.0, 4.0, 5.0, 6.0)
DRY_G, LIME_ONLY_G = 25.0, 2.0


class CalibrationRow(Row):
    """One buffer read by the meter."""

    buffer_ph: float | None = reading(
        "buffer", "", about="its pH at this temperature", low=1, high=14, resolution=0.01, absent=REQUIRED
    )
    shown_ph: float | None = reading(
        "shown",
        "",
        about="what the meter shows after calibration",
        low=0,
        high=14.5,
        resolution=0.01,
        hand="row",
        instrument="pH meter",
        absent=REQUIRED,
    )
    in_date: Literal["yes", "no"] | None = answer(
        "in date", "the buffer's day has not passed, and it was opened lately", absent=HARMLESS
    )


class BottleRow(Row):
    """One bottle of soil, lime and water; no soil in the one with lime only."""

    only: Literal["yes"] | None = answer("lime only", "yes: no soil in this bottle, it judges the meter")
    lime_percent: float | None = reading("lime", "%", about="of the dry soil", low=0, high=30, absent=HARMLESS)
    mass_soil_g: float | None = reading(
        "soil", "g", about="moist, 25.0 g dry", low=0, high=500, resolution=0.1, absent=HARMLESS
    )
    mass_lime_g: float | None = reading("lime", "g", low=0, high=100, resolution=0.001, absent=HARMLESS)
    read_min: float | None = reading(
        "read at", "min", about="after the water went in", low=0, high=2000, since="shake-0", absent=HARMLESS
    )
    temperature_c: float | None = reading(
        "T",
        "°C",
        low=0,
        high=60,
        resolution=0.1,
        instrument="pH meter",
        also=("temperature", "temp"),
        absent="25 °C assumed",
        usual=(15, 35),
    )
    ph: float | None = reading(
        "pH", "", low=0, high=14.5, resolution=0.01, hand="row", instrument="pH meter", absent=REQUIRED
    )


class LimeReadings(Readings):
    """Soil, lime, meter and bottles."""

    water_content_percent: float | None = reading(
        "w, air-dried",
        "%",
        about="of the soil as it goes into the bottles",
        low=0,
        high=60,
        also=("water content", "moisture", "moisture content", "w"),
        absent="0 % assumed",
        usual=(0.3, 25),
    )
    lime: Literal["hydrated", "quicklime"] | None = Field(default=None, title="lime", description="as used on site")
    dried: DriedIn | None = answer("soil dried in", "", absent="nobody can say how the soil was dried")
    soil: LimeSoil | None = Field(default=None, title="soil")
    slope_percent: float | None = reading(
        "slope", "%", about="of the electrode, as the meter says", low=0, high=150, absent=HARMLESS
    )
    slope_mv: float | None = reading(
        "slope",
        "mV",
        about="per pH, of a meter that says it so: 59.2 at 25 °C",
        low=-80,
        high=80,
        resolution=0.1,
        absent=HARMLESS,
    )
    offset_mv: float | None = reading(
        "at pH 7", "mV", about="of the electrode in the buffer of 7.0", low=-200, high=200, absent=HARMLESS
    )
    calibration: list[CalibrationRow] = Field(default_factory=list, title="calibration", max_length=12)
    bottles: list[BottleRow] = Field(default_factory=list, title="bottles", max_length=16)


class LimeSettings(Settings):
    """Bottles, meter and windows."""

    dry_g: float = setting(DRY_G, "dry soil a bottle", "25.0 g.", unit="g", low=5, high=100)
    upper_buffer: UpperBuffer = setting(
        UpperBuffer.PH_12_45,
        "upper buffer",
        "10.0 and 12.45; 12.0 where there is none of 12.45. A single one of 12.0 is weaker.",
    )
    shaken: Shaken = setting(
        Shaken.TOGETHER, "clock", "Water into all at once, or one bottle after the other, each read an hour after."
    )
    read_from_min: float = setting(
        60.0, "read from", "An hour after the water.", unit="min", low=10, high=1440, followed=(60, None)
    )
    read_within_min: float = setting(15.0, "read within", "All bottles.", unit="min", low=5, high=120)
    least_slope_percent: float = setting(92.0, "slope at least", "Of the electrode.", unit="%", low=50, high=100)


class LimeContext(Context):
    """Nothing of other tests: the natural water content is not that of the air-dried soil."""

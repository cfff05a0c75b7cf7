"""What is written beside the cylinders."""

from datetime import datetime
from typing import Any, Literal

from pydantic import Field, field_validator

from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Log, Readings, Row, Settings, reading, remark, setting
from vadum.soil.methods.hydrometer.equations import Instrument
from vadum.soil.numbers.listed import minutes_listed

SCHEDULES: dict[str, tuple[float, ...]] = {
    "full": (1, 2, 4, 8, 15, 30, 60, 120, 240, 1440),
    "dense": (0.5, 1, 2, 4, 8, 15, 30, 60, 90, 120, 240, 480, 1440),
    "short": (2, 8, 30, 60, 240, 1440),
}
_LONGEST_MIN = 20_000


class Depth(Choice):
    """How the depth of a reading is known."""

    TABLE = "table", "table of 1963"
    OWN = "own", "own geometry"


_OWN = {"depth": [Depth.OWN]}


def _geometry(label: str, unit: str, about: str, high: float) -> Any:
    return reading(label, unit, about=about, low=0, high=high, resolution=0.01, shown=_OWN, absent=REQUIRED, piece=True)


class Correction(Row):
    """The hydrometer in the dispersant solution without soil."""

    temperature_c: float | None = reading(
        "temperature",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        also=("temperature", "temp"),
        absent=REQUIRED,
        usual=(12, 32),
    )
    hydrometer: float | None = reading(
        "reads",
        "",
        about="at the top of the meniscus: g/L on a 152H, specific gravity on a 151H",
        low=-5,
        high=70,
        hand="row",
        also=("reading", "hydrometer reading", "r", "density"),
        absent=REQUIRED,
    )


class SedimentationRow(Row):
    """One reading in the suspension."""

    due_min: float | None = reading(
        "due",
        "min",
        about="minutes after the start the reading was planned for",
        low=0,
        high=20000,
        also=("due", "planned"),
        absent=HARMLESS,
    )
    elapsed_min: float | None = reading(
        "taken at",
        "min",
        about="minutes after the start; blank when it was taken as planned",
        low=0,
        high=20000,
        also=("time", "elapsed", "elapsed time", "minutes", "t"),
        absent=HARMLESS,
    )
    hydrometer: float | None = reading(
        "reads",
        "",
        about="at the top of the meniscus: g/L on a 152H, specific gravity on a 151H",
        low=-5,
        high=70,
        instrument="hydrometer eye",
        also=("reading", "hydrometer reading", "r", "density"),
        absent=HARMLESS,
    )
    temperature_c: float | None = reading(
        "temp.",
        "°C",
        about="of the suspension",
        low=0,
        high=45,
        resolution=0.1,
        hand="row",
        instrument="hydrometer eye",
        also=("temperature", "temp"),
        absent=REQUIRED,
        beside="hydrometer",
        usual=(12, 32),
    )

    @property
    def minutes(self) -> float | None:
        return self.elapsed_min if self.elapsed_min is not None else self.due_min


class SedimentationLog(Log):
    """Readings of an automatic hydrometer, column by column."""

    elapsed_min: list[float] = Field(
        default_factory=list,
        title="taken at",
        json_schema_extra={
            "unit": "min",
            "low": 0,
            "high": 20000,
            "also": ["time", "elapsed", "elapsed time", "minutes", "t"],
        },
    )
    hydrometer: list[float] = Field(
        default_factory=list,
        title="reads",
        json_schema_extra={
            "unit": "",
            "low": -5,
            "high": 70,
            "also": ["reading", "hydrometer reading", "r", "density"],
        },
    )
    temperature_c: list[float] = Field(
        default_factory=list,
        title="temp.",
        json_schema_extra={"unit": "°C", "low": 0, "high": 45, "also": ["temperature", "temp"]},
    )


class HydrometerReadings(Readings):
    """Specimen, dispersant solution, suspension."""

    mass_dry_g: float | None = reading(
        "dry mass",
        "g",
        about="dry mass of soil in one litre",
        low=0,
        high=500,
        resolution=0.01,
        expected=(40, 100),
        also=("dry soil", "soil dry"),
        absent=REQUIRED,
        instead="mass_air_dry_g",
        usual=(30, 85),
    )
    mass_air_dry_g: float | None = reading(
        "air-dry mass",
        "g",
        about="where the soil went in air-dry and its dry mass follows from the water it held",
        low=0,
        high=500,
        resolution=0.01,
        absent=HARMLESS,
        instead="mass_dry_g",
        usual=(30, 90),
    )
    hygroscopic_percent: float | None = reading(
        "hygroscopic w",
        "%",
        about="water content of the air-dry soil",
        low=0,
        high=30,
        absent=REQUIRED,
        beside="mass_air_dry_g",
        usual=(0.2, 12),
    )
    bulb_length_cm: float | None = _geometry("bulb length", "cm", "from the top of the bulb to its tip", 30)
    bulb_volume_cm3: float | None = _geometry("bulb volume", "cm³", "by the water it lifts", 200)
    stem_at_low_cm: float | None = _geometry("stem to low mark", "cm", "top of the bulb to 0 g/L, or 1.000", 30)
    stem_at_high_cm: float | None = _geometry("stem to high mark", "cm", "top of the bulb to 60 g/L, or 1.038", 30)
    cylinder_area_cm2: float | None = _geometry("cylinder", "cm²", "inside cross-section of the cylinder", 100)
    meniscus: float | None = reading(
        "meniscus",
        "",
        about="how much more the level reads than the top of the meniscus, in units of the scale",
        low=0,
        high=3,
        shown=_OWN,
        absent="the depth is that of the top of the meniscus",
        piece=True,
    )
    particle_density: float | None = particle_density_reading()
    passing_percent: float | None = reading(
        "passing",
        "%",
        about="share of the whole sample passing the sieve that fed the specimen; from the sieve test when left blank",
        low=0,
        high=100,
        absent=HARMLESS,
        usual=(30, 100),
    )
    corrections: list[Correction] = Field(default_factory=list, title="dispersant solution", max_length=20)
    sedimentation: list[SedimentationRow] = Field(default_factory=list, title="suspension", max_length=60)
    clear_layer: Literal["no", "yes"] | None = Field(
        default=None,
        title="clear layer on top",
        description="clear water above a sharp edge says that grains flocculate",
    )
    soil_on_wall: Literal["no", "yes"] | None = Field(
        default=None, title="soil left on the wall", description="soil stuck to cylinder, cup or stopper after turning"
    )
    started_at: datetime | None = Field(
        default=None, title="started", description="when the cylinder was set down, UTC; written by run mode"
    )
    outside_because: str | None = remark(
        "used outside the corrections because", "reason for using readings outside the measured temperatures"
    )
    log: SedimentationLog | None = Field(
        default=None, title="logger file", description="columns of an automatic hydrometer"
    )

    @property
    def dry_mass_g(self) -> float | None:
        """Return the dry mass as weighed, else of the air-dry soil without the water it held."""
        return self.mass_dry_g if self.mass_dry_g is not None else self.worked_out_g

    @property
    def worked_out_g(self) -> float | None:
        """Return the dry mass by the air-dry one and the water in it."""
        if self.mass_air_dry_g is None or self.hygroscopic_percent is None:
            return None
        return self.mass_air_dry_g / (1 + self.hygroscopic_percent / 100)


class HydrometerSettings(Settings):
    """Instrument and school."""

    instrument: Instrument = setting("152H", "hydrometer", "152H reads g/L, 151H specific gravity.")
    schedule: Literal["full", "dense", "short", "own"] = setting(
        "full",
        "schedule",
        "Full: 1, 2, 4, 8, 15, 30, 60, 120, 240, 1440 min; dense adds 0.5, 90 and 480; short: 2, 8, 30, 60, 240, 1440;"
        " own: the times below. Rows not read yet follow; any subset reduces.",
    )
    own_times: str = setting("", "own times", "Minutes after the start, such as 2 4 8 16 32 60 90 1440.")
    depth: Depth = setting(
        Depth.TABLE,
        "depth of a reading",
        "The table of D422 (1963) holds for its own bulb and cylinder; D7928 measures yours, and the meniscus.",
    )
    specimen_mm: float = setting(
        2.0,
        "specimen passes",
        "The sieve that fed the specimen: 2 mm (No. 10); 0.425 or 0.075 in other schools.",
        unit="mm",
        low=0.03,
        high=5,
    )
    convention: Convention = setting(
        Convention.UNIFIED, "fractions", "Sand ends at 0.075 and 4.75 mm (unified) or at 0.063 and 2 mm (ISO 14688)."
    )
    assumed_particle_density: float = assumed_setting(2.70)

    @field_validator("own_times")
    @classmethod
    def _minutes(cls, value: str) -> str:
        minutes_listed(value, _LONGEST_MIN)
        return value

    @property
    def times(self) -> tuple[float, ...]:
        """Return when readings are due, in minutes after the start."""
        if self.schedule != "own":
            return SCHEDULES[self.schedule]
        return minutes_listed(self.own_times, _LONGEST_MIN)

    late_percent: float = setting(
        10.0,
        "late beyond",
        "A reading this far from its due time is pointed out; the true time is always used.",
        unit="%",
        low=1,
        high=50,
    )
    drift_c: float = setting(
        2.0, "largest drift", "A warmer or cooler cylinder stirs itself.", unit="°C", low=0.2, high=10
    )

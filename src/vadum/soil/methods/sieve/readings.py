"""What is written while a stack of sieves is weighed."""

from typing import Any, Literal

from pydantic import Field, field_validator

from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.bench.grading.sieves import opening_of
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Readings, Row, Settings, reading, setting


class Clods(Choice):
    """Lumps that are not single grains."""

    NONE = "none"
    BROKEN = "broken", "broken down"
    LEFT = "left"


class Washing(Choice):
    """Whether fines were washed off."""

    WASHED = "washed"
    DRY = "dry", "dry only"


class SieveRow(Row):
    """One sieve of the stack, coarsest first."""

    opening_mm: float | None = reading(
        "opening",
        "mm",
        about="opening of the sieve, or its number: No. 40",
        low=0.02,
        high=200,
        also=("sieve", "sieve size", "sieve opening", "mesh", "aperture", "size", "no", "sieve no"),
        absent=REQUIRED,
    )
    mass_retained_g: float | None = reading(
        "retained",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        hand="down",
        shown={"entry": ["retained"]},
        about="dry mass on this sieve alone; 0 when nothing stays on it",
        also=("mass", "weight", "mass retained", "weight retained", "retained mass"),
        absent=REQUIRED,
    )
    mass_cumulative_g: float | None = reading(
        "on balance",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        hand="down",
        shown={"entry": ["cumulative"]},
        about="dry mass on this sieve and all above it, as the balance shows when sieve after sieve is added",
        also=("cumulative", "cumulative mass", "cumulative retained"),
        absent=REQUIRED,
    )
    mass_passed_g: float | None = reading(
        "1 min more",
        "g",
        low=0,
        high=1e5,
        resolution=0.1,
        hand="down",
        about="mass that passed in one more minute of sieving by hand",
        absent=HARMLESS,
    )

    @field_validator("opening_mm", mode="before")
    @classmethod
    def _by_number(cls, value: Any) -> Any:
        if isinstance(value, str) and (opening := opening_of(value)) is not None:
            return opening
        return value


class SieveReadings(Readings):
    """Masses before sieving, the stack, the pan."""

    mass_dry_g: float | None = reading(
        "dry, before washing",
        "g",
        about="dry mass of the whole specimen",
        low=0,
        high=1e6,
        resolution=0.1,
        also=("dry soil", "soil dry"),
        absent="the washings are not counted as fines",
        usual=(30, 60000),
    )
    mass_washed_g: float | None = reading(
        "dry, after washing",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        shown={"washing": [Washing.WASHED]},
        about="dry mass left on the finest sieve after washing; this goes into the stack",
        absent=REQUIRED,
    )
    sieves: list[SieveRow] = Field(default_factory=list, title="sieves", max_length=40)
    mass_pan_g: float | None = reading(
        "pan",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        about="dry mass in the pan; in cumulative entry what the balance shows with the pan added",
        absent=REQUIRED,
    )
    largest_particle_mm: float | None = reading(
        "largest particle", "mm", about="largest grain seen; sets the least specimen", low=0, high=500, absent=HARMLESS
    )
    loads: int | None = reading(
        "loads",
        "",
        about="how many parts the specimen was sieved in; one when left blank",
        low=1,
        high=50,
        absent=HARMLESS,
    )
    clods: Clods | None = Field(default=None, title="clods", description="lumps that are not single grains")


class SieveSettings(Settings):
    """How the stack is written down and judged."""

    entry: Literal["retained", "cumulative"] = setting(
        "retained", "entry", "Mass on each sieve alone, or the balance as sieve after sieve is added to it."
    )
    washing: Washing = setting(
        Washing.WASHED,
        "washing",
        "Fines cling to sand: washing over the finest sieve is the rule; dry sieving for clean sand.",
    )
    convention: Convention = setting(
        Convention.UNIFIED, "fractions", "Sand ends at 0.075 and 4.75 mm (unified) or at 0.063 and 2 mm (ISO 14688)."
    )
    specimen_rule: Literal["aggregate", "soil"] = setting(
        "aggregate", "least specimen", "C136 masses by largest particle; D6913 asks less for soil below 19 mm."
    )
    sieve_diameter_mm: float = setting(
        200.0,
        "sieve diameter",
        "200 mm is the usual frame; 300 mm carries 2.25 times the load.",
        unit="mm",
        low=50,
        high=500,
    )
    sum_warn_percent: float = setting(
        0.3, "sum off, warning", "C136 rejects a sum more than 0.3 % off.", unit="%", low=0.05, high=2
    )
    sum_stop_percent: float = setting(
        2.0, "sum off, stop", "Beyond this, soil or a reading is missing.", unit="%", low=0.3, high=10
    )

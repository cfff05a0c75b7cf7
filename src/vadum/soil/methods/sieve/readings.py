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


class Entry(Choice):
    """How a mass on a sieve is written down."""

    RETAINED = "retained"
    CUMULATIVE = "cumulative"
    LOADED = "loaded", "sieve empty and loaded"


class Split(Choice):
    """Whether all of the soil goes through all of the sieves."""

    WHOLE = "whole", "whole specimen on every sieve"
    RIFFLED = "riffled", "a riffled part below the split"


def _by_name(value: Any) -> Any:
    """Return the opening in mm of a sieve that was typed by its name, anything else as it is."""
    return opening if isinstance(value, str) and (opening := opening_of(value)) is not None else value


class SieveRow(Row):
    """One sieve of the stack, coarsest first."""

    opening_mm: float | None = reading(
        "opening",
        "mm",
        about="opening of the sieve, or its name: No. 40, ½ in",
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
        shown={"entry": [Entry.RETAINED]},
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
        shown={"entry": [Entry.CUMULATIVE]},
        about="dry mass on this sieve and all above it, as the balance shows when sieve after sieve is added",
        also=("cumulative", "cumulative mass", "cumulative retained"),
        absent=REQUIRED,
    )
    mass_empty_g: float | None = reading(
        "sieve empty",
        "g",
        low=0,
        high=1e5,
        resolution=0.1,
        hand="down",
        shown={"entry": [Entry.LOADED]},
        about="the clean sieve; weighed before each test, a brush takes wire with it",
        absent=REQUIRED,
    )
    mass_loaded_g: float | None = reading(
        "loaded",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        hand="down",
        shown={"entry": [Entry.LOADED]},
        about="the sieve with what lies on it",
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

    def written_g(self, entry: Entry) -> float | None:
        """Return the mass as it is written: on this sieve alone, or so far."""
        if entry == Entry.LOADED:
            known = self.mass_empty_g is not None and self.mass_loaded_g is not None
            return round(self.mass_loaded_g - self.mass_empty_g, 6) if known else None  # type: ignore[operator]
        return self.mass_cumulative_g if entry == Entry.CUMULATIVE else self.mass_retained_g

    _opening = field_validator("opening_mm", mode="before")(_by_name)


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
    split_mm: float | None = reading(
        "split at",
        "mm",
        low=0.5,
        high=75,
        shown={"split": [Split.RIFFLED]},
        about="finest sieve that took the whole specimen, or its name: No. 4, ¾ in",
        absent=REQUIRED,
    )
    _split = field_validator("split_mm", mode="before")(_by_name)
    mass_below_split_g: float | None = reading(
        "passed the split",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        shown={"split": [Split.RIFFLED]},
        about="dry mass of all that passed the split sieve",
        absent=REQUIRED,
    )
    mass_riffled_g: float | None = reading(
        "riffled part",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        shown={"split": [Split.RIFFLED]},
        about="dry mass of the part of it that was sieved on, before it was washed",
        absent=REQUIRED,
    )
    sieves: list[SieveRow] = Field(default_factory=list, title="sieves", max_length=40)
    mass_pan_empty_g: float | None = reading(
        "pan empty",
        "g",
        low=0,
        high=1e5,
        resolution=0.1,
        shown={"entry": [Entry.LOADED]},
        about="taken off what the pan weighs loaded",
        absent=REQUIRED,
    )
    mass_pan_g: float | None = reading(
        "pan",
        "g",
        low=0,
        high=1e6,
        resolution=0.1,
        about="dry mass in the pan; in cumulative entry what the balance shows with the pan added, else the pan loaded",
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

    entry: Entry = setting(
        Entry.RETAINED,
        "entry",
        "Mass on each sieve alone, the balance as sieve after sieve is added to it, or each sieve empty and loaded.",
    )
    washing: Washing = setting(
        Washing.WASHED,
        "washing",
        "Fines cling to sand: washing over the finest sieve is the rule; dry sieving for clean sand.",
    )
    split: Split = setting(
        Split.WHOLE,
        "split sieving",
        "Coarse soil needs a specimen the fine sieves cannot carry: what passes the split is riffled and scaled up.",
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
        "200 mm is the usual frame; the sieving area is 12.7 mm smaller across.",
        unit="mm",
        low=50,
        high=500,
    )
    sum_warn_percent: float = setting(
        0.3,
        "sum off, warning",
        "C136 rejects a sum more than 0.3 % off what went onto the sieves; ISO 17892-4 lets 1 % of the dry mass go.",
        unit="%",
        low=0.05,
        high=2,
    )
    balance_step_g: float = setting(
        0.1,
        "balance shows",
        "No sum is asked to be truer than so many readings of the balance can be.",
        unit="g",
        low=0.001,
        high=10,
    )
    sum_stop_percent: float = setting(
        2.0, "sum off, stop", "Beyond this, soil or a reading is missing.", unit="%", low=0.3, high=10
    )

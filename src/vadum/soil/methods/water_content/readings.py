"""Tins, drying times and re-weighings."""

from datetime import datetime

from pydantic import Field

from vadum.soil.bench.constant_mass import CONSTANT_PERCENT, Reweighing
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, Context, Leant, Readings, Settings, reading, setting


class Drying(Choice):
    """How the specimen is dried."""

    OVEN = "oven", "oven 110 ± 5 °C"
    LOW_OVEN = "low-oven", "oven 60 °C"
    HOT_PLATE = "hot-plate", "hot plate"
    MICROWAVE = "microwave"


class Precision(Choice):
    """To what the water content is reported."""

    TENTH = "tenth", "0.1 %"
    WHOLE = "whole", "1 %"


class SpecimenRule(Choice):
    """What the least specimen follows."""

    BY_PARTICLE = "by-particle", "by particle size"
    ALWAYS_500 = "always-500", "500 g always"


IN_OVEN = (Drying.OVEN, Drying.LOW_OVEN)


class Determination(TinRow):
    """One tin."""

    drying_h: float | None = reading(
        "dried",
        "h",
        about="time in the oven before the first dry weighing",
        low=0,
        high=2000,
        resolution=0.1,
        expected=(16, 24),
        shown={"drying": list(IN_OVEN)},
        absent=HARMLESS,
    )
    started_at: datetime | None = Field(
        default=None, title="drying since", description="set by run mode when drying starts"
    )


class WaterContentReadings(Readings):
    """Tins in the order they were filled, then re-weighings in the order they were made."""

    determinations: list[Determination] = Field(default_factory=list, title="tins", max_length=40)
    reweighings: list[Reweighing] = Field(default_factory=list, title="weighed again", max_length=200)
    largest_particle_mm: float | None = reading(
        "largest particle",
        "mm",
        about="largest grain seen; sets the least specimen",
        low=0,
        high=500,
        absent=HARMLESS,
        usual=(0.05, 150),
    )
    temperature_c: float | None = reading(
        "oven read",
        "°C",
        about="temperature of the oven as read",
        low=0,
        high=400,
        also=("temperature", "temp"),
        absent=HARMLESS,
        usual=(40, 250),
    )


class WaterContentSettings(Settings):
    """How it is dried, and how exact."""

    drying: Drying = setting(Drying.OVEN, "drying", "110 ± 5 °C is the reference; 60 °C for organic soil and gypsum.")
    precision: Precision = setting(
        Precision.TENTH, "report to", "Method B (0.1 %) is the default; method A (1 %) needs less soil."
    )
    oven_c: float = setting(
        110.0,
        "oven temperature",
        "110 °C; agronomic laboratories stay at 100–105 °C.",
        unit="°C",
        low=40,
        high=120,
        followed=(105, 115),
    )
    least_drying_h: float = setting(
        16.0,
        "least drying time",
        "A single weighing counts after 16 h; other schools ask 12, 18 or 24 h.",
        unit="h",
        low=1,
        high=96,
        followed=(12, None),
    )
    constant_mass_percent: float = setting(
        CONSTANT_PERCENT,
        "constant mass within",
        "Change between weighings, of the initial wet mass of soil.",
        unit="%",
        low=0.01,
        high=1,
        followed=(None, CONSTANT_PERCENT),
    )
    organic_or_gypsum: bool = setting(False, "organic soil or gypsum", "Such soil loses more than water above 60 °C.")
    specimen_rule: SpecimenRule = setting(
        SpecimenRule.BY_PARTICLE,
        "least specimen",
        "D2216 table by largest particle; a field school takes 500 g whatever the soil.",
    )


class WaterContentContext(Context):
    """The tins' register and the sample's largest particle."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    largest_particle_mm: Leant | None = Field(default=None, description="largest particle of the sample, mm")

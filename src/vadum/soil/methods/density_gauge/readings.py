"""What a density gauge shows: a line per place."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.particle import assumed_setting
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
    setting,
)


class Gauge(Choice):
    """What the gauge measures with."""

    NUCLEAR = "nuclear", "radiation"
    ELECTRICAL = "electrical", "electrical field"


class Spot(Row):
    """One place."""

    place: str | None = remark("place", "chainage or name", longest=60, also=("point", "chainage", "station"))
    rod_mm: float | None = reading(
        "rod",
        "mm",
        about="depth of the rod; 0 laid on the surface",
        low=0,
        high=400,
        resolution=1,
        absent="how deep it measured is not on record",
    )
    bulk_density_g_cm3: float | None = reading(
        "bulk density",
        "g/cm³",
        about="moist, as the gauge shows it",
        low=0.2,
        high=4,
        resolution=0.001,
        usual=(1.2, 2.6),
        absent=REQUIRED,
        also=("wet density", "moist density", "density"),
    )
    water_percent: float | None = reading(
        "water",
        "%",
        about="of the dry mass, as the gauge shows it",
        low=0,
        high=200,
        resolution=0.1,
        usual=(1, 60),
        absent=REQUIRED,
        hand="row",
        also=("water content", "moisture", "w"),
    )


class DensityGaugeReadings(Readings):
    """Places of a lift, and whether the gauge was fit for the day."""

    spots: list[Spot] = Field(default_factory=list, title="places", max_length=80)
    standard_count: Literal["yes", "no"] | None = answer(
        "standard count within limits",
        "the day's count on the reference block agrees with the last four",
        absent="nobody can say that the gauge was fit on that day",
        locks="Repeat the standard count; where it stays off, the gauge goes back to its keeper.",
    )
    permitted: Literal["yes", "no"] | None = answer(
        "permitted person, badge worn",
        "whoever holds the gauge is permitted to, and wears a dose badge",
        locks="Only a permitted person with a dose badge takes a gauge with a source out of its case.",
    )
    density_offset_g_cm3: float | None = reading(
        "offset of density",
        "g/cm³",
        about="to add, from sand replacement or ring beside the gauge",
        low=-0.5,
        high=0.5,
        usual=(-0.12, 0.12),
        resolution=0.001,
        absent=HARMLESS,
    )
    water_offset_percent: float | None = reading(
        "offset of water",
        "%",
        about="to add, from tins dried beside the gauge",
        low=-15,
        high=15,
        resolution=0.1,
        absent=HARMLESS,
    )
    depth_m: float | None = reading("level of test", "m", about="below ground", low=0, high=30, absent=HARMLESS)
    finished: Literal["yes"] | None = answer("all places read", "no further place will come")


class DensityGaugeSettings(Settings):
    """The gauge, and the grains that bound what it can show."""

    gauge: Gauge = setting(Gauge.NUCLEAR, "gauge", "One with a source is for permitted persons alone.")
    assumed_particle_density: float = assumed_setting(2.70)
    apart_percent: float = setting(
        6.0, "places apart by", "A place further off the mean is pointed out.", unit="%", low=1, high=30
    )


class DensityGaugeContext(Context):
    """Nothing is leant on."""

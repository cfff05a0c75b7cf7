"""What is written beside a driven ring."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.cylinder.specimen import CaliperRow
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.water_at import water_temperature
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import REQUIRED, Readings, Row, Settings, reading, setting, shown_only


class Headspace(Row):
    """Depth from the rim to the soil, at one angle."""

    headspace_mm: float | None = reading(
        "headspace",
        "mm",
        about="from the rim down to the soil",
        low=0,
        high=500,
        resolution=0.1,
        hand="down",
        also=("headspace", "gap"),
        absent=REQUIRED,
    )


class Way(Choice):
    """How the volume is found."""

    RING = "ring", "driven ring"
    CALIPERS = "calipers", "calipers on a trimmed cylinder"
    IMMERSION = "immersion", "waxed lump weighed in water"


_RING, _WAX = {"way": [Way.RING]}, {"way": [Way.IMMERSION]}


class RingDensityReadings(Readings):
    """The ring, its soil, a part of it dried."""

    diameter_mm: float | None = reading(
        "inside diameter",
        "mm",
        low=10,
        high=500,
        resolution=0.1,
        absent=REQUIRED,
        usual=(35, 160),
        piece=True,
        shown=_RING,
    )
    height_mm: float | None = reading(
        "height", "mm", low=10, high=500, resolution=0.1, absent=REQUIRED, usual=(15, 200), piece=True, shown=_RING
    )
    headspaces: list[Headspace] = Field(
        default_factory=list, title="headspace", max_length=12, json_schema_extra=shown_only(_RING)
    )
    calipers: list[CaliperRow] = Field(
        default_factory=list, title="calipers", max_length=12, json_schema_extra=shown_only({"way": [Way.CALIPERS]})
    )
    mass_bag_wet_g: float | None = reading(
        "bag + soil",
        "g",
        about="all soil of the ring, or the lump, moist, in its bag",
        low=0,
        high=50000,
        resolution=0.1,
        absent=REQUIRED,
    )
    mass_bag_g: float | None = reading(
        "bag",
        "g",
        about="the empty bag or dish; 0 for a lump weighed bare",
        low=0,
        high=5000,
        resolution=0.1,
        absent=REQUIRED,
        usual=(0, 80),
    )
    mass_waxed_g: float | None = reading(
        "waxed",
        "g",
        about="the lump in its coat of wax, in air",
        low=0,
        high=50000,
        resolution=0.1,
        shown=_WAX,
        absent=REQUIRED,
    )
    mass_in_water_g: float | None = reading(
        "in water",
        "g",
        about="the waxed lump hanging under water",
        low=-5000,
        high=50000,
        resolution=0.1,
        shown=_WAX,
        absent=REQUIRED,
    )
    temperature_c: float | None = water_temperature(shown=_WAX)
    tins: list[TinRow] = Field(default_factory=list, title="water content", max_length=6)
    reweighings: list[Reweighing] = weighed_again()
    particle_density: float | None = particle_density_reading()
    lost_soil: Literal["no", "yes"] | None = Field(
        default=None, title="soil lost", description="soil fell out of the ring or stuck to the driver"
    )


class RingDensitySettings(Settings):
    """How the volume is found and judged, and what is assumed."""

    way: Way = setting(
        Way.RING, "volume by", "The ring in the ground; calipers or wax and water for a piece of a core."
    )
    volume_doubt_percent: float = setting(
        1.0,
        "volume known to",
        "The standard error of the mean headspace, as a share of the soil's height.",
        unit="%",
        low=0.1,
        high=10,
    )
    headspace_spread_mm: float = setting(
        3.0,
        "odd headspace beyond",
        "A headspace this far from the middle of the others is named.",
        unit="mm",
        low=0.5,
        high=20,
    )
    wax_density_g_cm3: float = setting(
        0.9, "density of the wax", "0.87 to 0.91 for paraffin; weigh a block of yours.", unit="g/cm³", low=0.7, high=1.1
    )
    headspaces_needed: int = setting(
        3, "headspaces", "Measured at several angles around the ring; none when it is struck off flush.", low=0, high=12
    )
    assumed_particle_density: float = assumed_setting(2.70)
    tins_dried: TinsDried = tins_dried()

"""What is written beside a driven ring."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.weighing import TinRow
from vadum.soil.contract.field import REQUIRED, Readings, Row, Settings, reading, setting


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


class RingDensityReadings(Readings):
    """The ring, its soil, a part of it dried."""

    diameter_mm: float | None = reading(
        "inside diameter", "mm", low=10, high=500, resolution=0.1, absent=REQUIRED, usual=(35, 160), piece=True
    )
    height_mm: float | None = reading(
        "height", "mm", low=10, high=500, resolution=0.1, absent=REQUIRED, usual=(15, 200), piece=True
    )
    mass_bag_wet_g: float | None = reading(
        "bag + soil",
        "g",
        about="all soil of the ring, moist, in its bag",
        low=0,
        high=50000,
        resolution=0.1,
        absent=REQUIRED,
    )
    mass_bag_g: float | None = reading(
        "bag", "g", about="the empty bag or dish", low=0, high=5000, resolution=0.1, absent=REQUIRED, usual=(1.5, 80)
    )
    headspaces: list[Headspace] = Field(default_factory=list, title="headspace", max_length=12)
    tins: list[TinRow] = Field(default_factory=list, title="water content", max_length=6)
    reweighings: list[Reweighing] = weighed_again()
    particle_density: float | None = particle_density_reading()
    lost_soil: Literal["no", "yes"] | None = Field(
        default=None, title="soil lost", description="soil fell out of the ring or stuck to the driver"
    )


class RingDensitySettings(Settings):
    """Judgement of the surface, and what is assumed."""

    headspace_spread_mm: float = setting(
        3.0,
        "largest headspace spread",
        "Beyond this the surface is not flat and the volume is doubtful.",
        unit="mm",
        low=0.5,
        high=20,
    )
    headspaces_needed: int = setting(
        3, "headspaces", "Measured at several angles around the ring; none when it is struck off flush.", low=0, high=12
    )
    assumed_particle_density: float = assumed_setting(2.70)
    tins_dried: TinsDried = tins_dried()

"""What is written while moulds are filled."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Leant, Readings, leant, reading, setting


class Scheme(Choice):
    """Rammer and mould."""

    LIGHT_1L = "light-1l", "light, 1 L mould"
    LIGHT_152 = "light-152", "light, 152 mm mould"
    HEAVY_1L = "heavy-1l", "heavy, 1 L mould"
    HEAVY_152 = "heavy-152", "heavy, 152 mm mould"

    @property
    def light(self) -> bool:
        return self in (Scheme.LIGHT_1L, Scheme.LIGHT_152)

    @property
    def small(self) -> bool:
        return self in (Scheme.LIGHT_1L, Scheme.HEAVY_1L)

    @property
    def mould(self) -> str:
        return "1 L mould" if self.small else "152 mm mould"


class WaterBy(Choice):
    """Where the water contents come from."""

    TIN = "tin", "by tin"
    TYPED = "typed"


class Point(TinRow):
    """One mould of soil compacted at one water content."""

    mass_mould_soil_g: float | None = reading(
        "mould + soil",
        "g",
        about="mould without collar, struck off level",
        low=0,
        high=50000,
        resolution=1,
        also=("mould soil", "mass mould soil", "mould and soil"),
        absent=REQUIRED,
    )
    water_content_percent: float | None = reading(
        "w",
        "%",
        about="water content found elsewhere; a tin here counts before it",
        low=0,
        high=200,
        resolution=0.1,
        shown={"water": [WaterBy.TYPED]},
        hand="row",
        also=("water content", "moisture", "moisture content", "w"),
        absent=REQUIRED,
        usual=(0.5, 80),
    )


class CompactionReadings(Readings):
    """The mould, its points, what was too coarse for it."""

    mass_mould_g: float | None = reading(
        "mould",
        "g",
        about="empty, with base, without collar",
        low=0,
        high=40000,
        resolution=1,
        absent=REQUIRED,
        usual=(500, 15000),
        piece=True,
    )
    volume_mould_cm3: float | None = reading(
        "volume of mould",
        "cm³",
        low=50,
        high=10000,
        resolution=1,
        expected=(940, 2400),
        absent=REQUIRED,
        usual=(900, 3500),
        piece=True,
    )
    points: list[Point] = Field(default_factory=list, title="points", max_length=20)
    reweighings: list[Reweighing] = weighed_again()
    particle_density: float | None = particle_density_reading()
    oversize_percent: float | None = reading(
        "oversize",
        "%",
        about="share of the dry mass taken out as too coarse for the mould",
        low=0,
        high=100,
        absent=HARMLESS,
    )
    oversize_specific_gravity: float | None = reading(
        "Gm oversize", "", about="bulk specific gravity of the oversize", low=1.5, high=4, absent=HARMLESS
    )
    oversize_water_percent: float | None = reading(
        "w oversize", "%", about="water content of the oversize", low=0, high=30, absent=HARMLESS
    )


class CompactionSettings(HandSettings):
    """Effort, curve and rules."""

    scheme: Scheme = setting(
        Scheme.LIGHT_1L,
        "effort",
        "Light: 2.5 kg, 3 layers, 25 or 27 blows in the 1 L mould, 56 or 62 in the 152 mm mould; heavy: 4.5 kg, 5"
        " layers.",
    )
    water: WaterBy = setting(WaterBy.TIN, "water content", "A tin from each point, or water contents found elsewhere.")
    curve: Literal["parabola", "cubic"] = setting(
        "parabola", "curve", "Parabola through the best point and its neighbours; cubic through all by least squares."
    )
    optimum_percent: float | None = setting(
        None, "optimum by hand", "Drag the handle on the figure; empty is automatic.", unit="%", low=0, high=100
    )
    points_needed: int = setting(
        5, "least points", "Five, two of them on each side of the optimum.", low=3, high=10, followed=(4, None)
    )
    assumed_particle_density: float = assumed_setting(2.70)
    tins_dried: TinsDried = tins_dried()
    oversize_limit_percent: float = setting(
        30.0, "most oversize", "D4718 holds to 40 % above 4.75 mm and 30 % above 19 mm.", unit="%", low=5, high=50
    )


class CompactionContext(Context):
    """Tins, and what the curve is judged against."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")

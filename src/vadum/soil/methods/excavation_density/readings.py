"""What is written beside a hole and over its soil."""

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Readings, Settings, reading, setting


class Hole(Choice):
    """How the volume of the hole is found."""

    LINER = "liner", "liner and water"
    SAND_CONE = "sand-cone", "sand cone"
    MEASURED = "measured"


_WATER = {"hole": [Hole.LINER]}
_SAND = {"hole": [Hole.SAND_CONE]}
_RULE = {"hole": [Hole.MEASURED]}


class ExcavationReadings(Readings):
    """The hole, all its soil, the stones, the fine earth."""

    mass_water_g: float | None = reading(
        "water poured",
        "g",
        about="water that filled the lined hole to the brim",
        low=0,
        high=1e6,
        resolution=1,
        shown=_WATER,
        absent=REQUIRED,
        usual=(500, 60000),
    )
    temperature_c: float | None = reading(
        "water at",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        shown=_WATER,
        also=("temperature", "temp"),
        absent="20 °C assumed",
        usual=(2, 35),
    )
    volume_liner_cm3: float | None = reading(
        "liner",
        "cm³",
        about="volume of the sheet itself, where it counts",
        low=0,
        high=5000,
        shown=_WATER,
        absent=HARMLESS,
        piece=True,
    )
    mass_sand_before_g: float | None = reading(
        "sand before",
        "g",
        about="jar with sand before pouring",
        low=0,
        high=1e6,
        resolution=1,
        shown=_SAND,
        absent=REQUIRED,
    )
    mass_sand_after_g: float | None = reading(
        "sand after",
        "g",
        about="jar with the sand that was left",
        low=0,
        high=1e6,
        resolution=1,
        shown=_SAND,
        absent=REQUIRED,
    )
    mass_sand_cone_g: float | None = reading(
        "sand in cone",
        "g",
        about="sand that fills cone and plate, by calibration",
        low=0,
        high=1e5,
        resolution=1,
        shown=_SAND,
        absent=REQUIRED,
        piece=True,
    )
    sand_density_g_cm3: float | None = reading(
        "sand density",
        "g/cm³",
        about="bulk density of the poured sand, by calibration",
        low=0.5,
        high=2.5,
        resolution=0.001,
        expected=(1.3, 1.7),
        shown=_SAND,
        absent=REQUIRED,
        usual=(1.2, 1.8),
        piece=True,
    )
    length_mm: float | None = reading("length", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    width_mm: float | None = reading("width", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    depth_mm: float | None = reading("depth", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    mass_moist_g: float | None = reading(
        "soil, moist",
        "g",
        about="all soil of the hole as dug",
        low=0,
        high=1e6,
        resolution=1,
        absent="there is no water content of the ground",
    )
    mass_air_dry_g: float | None = reading(
        "soil, air-dry", "g", about="all of it after drying in air", low=0, high=1e6, resolution=1, absent=REQUIRED
    )
    mass_coarse_unwashed_g: float | None = reading(
        "stones, unwashed",
        "g",
        about="air-dry, on the 2 mm sieve before washing",
        low=0,
        high=1e6,
        resolution=0.1,
        absent=HARMLESS,
    )
    mass_coarse_g: float | None = reading(
        "stones, washed",
        "g",
        about="oven-dry, on the 2 mm sieve after washing; 0 when there are none",
        low=0,
        high=1e6,
        resolution=0.1,
        absent=REQUIRED,
    )
    mass_fine_air_dry_g: float | None = reading(
        "fine earth, air-dry", "g", about="air-dry, below 2 mm", low=0, high=1e6, resolution=0.1, absent=REQUIRED
    )
    tins: list[TinRow] = Field(default_factory=list, title="water left in the fine earth", max_length=6)
    reweighings: list[Reweighing] = weighed_again()
    particle_density: float | None = particle_density_reading()


class ExcavationSettings(Settings):
    """How the hole is measured, and what is assumed."""

    hole: Hole = setting(
        Hole.LINER, "hole volume", "A liner with water suits stony ground; sand cone and rule are the other ways."
    )
    stone_density_g_cm3: float = setting(
        2.65,
        "density of stones",
        "Measured by weighing in water where it matters; 2.65 for quartz rock.",
        unit="g/cm³",
        low=1.5,
        high=4,
    )
    assumed_particle_density: float = assumed_setting(2.70)
    tins_dried: TinsDried = tins_dried()
    dust_percent: float = setting(
        1.0, "mass lost, warning", "What may be lost as dust between drying and splitting.", unit="%", low=0.1, high=10
    )

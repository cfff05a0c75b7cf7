"""What is written beside a hole and over its soil."""

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.water_at import water_temperature
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Readings, Row, Settings, reading, setting, shown_only


class Hole(Choice):
    """How the volume of the hole is found."""

    LINER = "liner", "liner and water"
    SAND_CONE = "sand-cone", "sand cone"
    MEASURED = "measured"


_WATER = {"hole": [Hole.LINER]}
_SAND = {"hole": [Hole.SAND_CONE]}
_RULE = {"hole": [Hole.MEASURED]}


class Leads(Choice):
    """Which density is the headline."""

    TOTAL = "total", "all of the soil"
    FINE = "fine", "the fine earth between the stones"


class Pour(Row):
    """Water or sand out of a jar, one of several."""

    mass_before_g: float | None = reading("before", "g", low=0, high=1e6, resolution=1, absent=REQUIRED)
    mass_after_g: float | None = reading("after", "g", low=0, high=1e6, resolution=1, hand="row", absent=REQUIRED)


class SandRun(Row):
    """Sand poured into a vessel of known volume."""

    mass_sand_g: float | None = reading(
        "sand held", "g", about="sand that filled the vessel", low=0, high=1e5, resolution=1, absent=REQUIRED
    )
    volume_cm3: float | None = reading(
        "vessel", "cm³", about="its volume", low=50, high=50000, resolution=1, hand="row", absent=REQUIRED
    )


class ExcavationReadings(Readings):
    """The hole, all its soil, the stones, the fine earth."""

    mass_moist_g: float | None = reading(
        "soil, moist",
        "g",
        about="all soil of the hole as dug",
        low=0,
        high=1e6,
        resolution=1,
        absent="there is no water content of the ground",
    )
    mass_water_g: float | None = reading(
        "water poured",
        "g",
        about="water that filled the lined hole to the brim, template and all",
        low=0,
        high=1e6,
        resolution=1,
        shown=_WATER,
        absent=HARMLESS,
        usual=(500, 60000),
    )
    volume_water_cm3: float | None = reading(
        "water, by volume",
        "cm³",
        about="where it was measured out in a cylinder and not weighed; mL will do",
        low=0,
        high=1e6,
        resolution=1,
        shown=_WATER,
        absent=HARMLESS,
    )
    mass_water_template_g: float | None = reading(
        "water in template",
        "g",
        about="water that filled the lined template before the hole was dug",
        low=0,
        high=1e5,
        resolution=1,
        shown=_WATER,
        absent=HARMLESS,
    )
    temperature_c: float | None = water_temperature(shown=_WATER, beside="mass_water_g")
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
        absent=HARMLESS,
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
        beside="mass_sand_before_g",
    )
    mass_sand_cone_g: float | None = reading(
        "sand in cone",
        "g",
        about="sand that fills cone and plate, by calibration or by a pour over the template before digging",
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
        about="bulk density of the poured sand, by calibration; from the runs below when left blank",
        low=0.5,
        high=2.5,
        resolution=0.001,
        expected=(1.3, 1.7),
        shown=_SAND,
        absent=HARMLESS,
        usual=(1.2, 1.8),
        piece=True,
    )
    pours: list[Pour] = Field(
        default_factory=list,
        title="pours",
        max_length=20,
        json_schema_extra=shown_only({"hole": [Hole.LINER, Hole.SAND_CONE], "several_pours": [True]}),
    )
    sand_runs: list[SandRun] = Field(
        default_factory=list,
        title="calibration of the sand",
        max_length=10,
        json_schema_extra=shown_only(_SAND | {"sand_runs_here": [True]}),
    )
    length_mm: float | None = reading("length", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    width_mm: float | None = reading("width", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    depth_mm: float | None = reading("depth", "mm", low=10, high=5000, resolution=1, shown=_RULE, absent=REQUIRED)
    mass_air_dry_g: float | None = reading(
        "soil, air-dry",
        "g",
        about="all of it after drying in air, where it is split at 2 mm; blank where a tin of the moist soil is dried",
        low=0,
        high=1e6,
        resolution=1,
        absent=HARMLESS,
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
        beside="mass_air_dry_g",
        instead="mass_coarse_unwashed_g",
    )
    mass_fine_air_dry_g: float | None = reading(
        "fine earth, air-dry",
        "g",
        about="air-dry, below 2 mm",
        low=0,
        high=1e6,
        resolution=0.1,
        absent=REQUIRED,
        beside="mass_air_dry_g",
        instead="mass_fine_dry_g",
    )
    mass_fine_dry_g: float | None = reading(
        "fine earth, oven-dry",
        "g",
        about="oven-dry, below 2 mm; then no tin is needed",
        low=0,
        high=1e6,
        resolution=0.1,
        absent=HARMLESS,
    )
    tins: list[TinRow] = Field(
        default_factory=list, title="water content, of the moist soil or left in the fine earth", max_length=6
    )
    reweighings: list[Reweighing] = weighed_again()
    particle_density: float | None = particle_density_reading()

    @property
    def is_split(self) -> bool:
        """Whether stones and fine earth were weighed apart, or are about to be."""
        parts = (self.mass_air_dry_g, self.mass_coarse_g, self.mass_coarse_unwashed_g)
        return any(part is not None for part in (*parts, self.mass_fine_air_dry_g, self.mass_fine_dry_g))


class ExcavationSettings(Settings):
    """How the hole is measured, and what is assumed."""

    hole: Hole = setting(
        Hole.LINER, "hole volume", "A liner with water suits stony ground; sand cone and rule are the other ways."
    )
    several_pours: bool = setting(False, "several pours", "A large hole takes more than one jar: each is written.")
    sand_runs_here: bool = setting(
        False, "calibration on this sheet", "The sand's density from runs written here, not from the register."
    )
    leads: Leads = setting(
        Leads.TOTAL,
        "headline",
        "Earthworks are judged by all of the soil; roots and water by the fine earth between the stones.",
    )
    stone_water_percent: float = setting(
        0.0,
        "water in air-dry stones",
        "Of their dry mass; only where stones are weighed unwashed and never see the oven.",
        unit="%",
        low=0,
        high=20,
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

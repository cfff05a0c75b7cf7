"""What is written from the mould to the second run."""

from pydantic import Field

from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.plunger.readings import (
    MOST_ROWS,
    BearingSettings,
    PenetrationRow,
    RingContext,
    ring_factor_reading,
    seating_div_reading,
    seating_reading,
)
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Leant, Readings, Row, leant, reading, setting, shown_only
from vadum.soil.physics.bearing import School


class Scheme(Choice):
    """Blows, layers and rammer."""

    BLOWS_62X3 = "62x3-2.5kg", "62 blows x 3, 2.5 kg"
    BLOWS_62X5 = "62x5-4.5kg", "62 blows x 5, 4.5 kg"
    BLOWS_56X5 = "56x5-4.5kg", "56 blows x 5, 4.5 kg"
    BLOWS_56X3 = "56x3-2.5kg", "56 blows x 3, 2.5 kg"
    ANOTHER = "another"


class Finished(Choice):
    """Which of the runs there will be."""

    BOTH = "both", "both runs"
    TOP_ONLY = "top-only", "top only"


class Soaking(Choice):
    """Whether the mould stood under water before the run."""

    SOAKED = "soaked", "soaked 96 h"
    DRY = "not-soaked", "not soaked"


_ANOTHER, _SOAKED = {"scheme": [Scheme.ANOTHER]}, {"soaking": [Soaking.SOAKED]}
_CHECKED = {"school": [School.MPA]}


class SwellRow(Row):
    """The dial on the soaking mould."""

    elapsed_h: float | None = reading("after", "h", about="hours in the water", low=0, high=2000, absent=REQUIRED)
    dial_mm: float | None = reading(
        "dial", "mm", low=-5, high=50, resolution=0.01, hand="row", instrument="dial gauge", absent=REQUIRED
    )


class CbrLabReadings(Readings):
    """The mould, its water, the soaking, and both runs."""

    mass_mould_g: float | None = reading(
        "mould",
        "g",
        about="M1, empty with base, without collar",
        low=0,
        high=40000,
        resolution=1,
        absent=REQUIRED,
        usual=(3000, 15000),
        piece=True,
    )
    mass_mould_soil_g: float | None = reading(
        "mould + soil",
        "g",
        about="M2, struck off level, without collar",
        low=0,
        high=60000,
        resolution=1,
        also=("mould soil", "mass mould soil", "mould and soil"),
        absent=REQUIRED,
    )
    volume_mould_cm3: float | None = reading(
        "volume",
        "cm³",
        about="of this mould; 2305 when left blank, 2124 by ASTM D1883",
        low=500,
        high=10000,
        resolution=1,
        absent="the volume of a standard mould assumed",
        usual=(1900, 3400),
        piece=True,
    )
    removed_percent: float | None = reading(
        "above 20 mm", "%", about="share of the dry mass taken out", low=0, high=100, absent=HARMLESS
    )
    diameter_mould_mm: float | None = reading(
        "diameter of mould",
        "mm",
        about="inside; with the height of the soil it gives the volume where that is blank",
        low=50,
        high=400,
        resolution=0.1,
        absent=HARMLESS,
        usual=(149, 155),
        piece=True,
    )
    blows: int | None = reading("blows a layer", "", low=1, high=500, shown=_ANOTHER, absent="the effort is not known")
    layers: int | None = reading("layers", "", low=1, high=20, shown=_ANOTHER, absent="the effort is not known")
    rammer_kg: float | None = reading(
        "rammer", "kg", low=0.5, high=20, shown=_ANOTHER, absent="the effort is not known", usual=(2, 5)
    )
    ring_factor_n_div: float | None = ring_factor_reading()
    seating_n: float | None = seating_reading()
    seating_div: float | None = seating_div_reading()
    top: list[PenetrationRow] = Field(default_factory=list, title="top", max_length=MOST_ROWS)
    bottom: list[PenetrationRow] = Field(default_factory=list, title="bottom", max_length=MOST_ROWS)
    check_first_percent: float | None = reading(
        "check run at 2.54",
        "%",
        about="ratio of another specimen, run because the one at 5.08 mm was the larger",
        low=0,
        high=500,
        shown=_CHECKED,
        absent=HARMLESS,
    )
    check_second_percent: float | None = reading(
        "check run at 5.08", "%", about="of that specimen", low=0, high=500, shown=_CHECKED, absent=HARMLESS
    )
    tins: list[TinRow] = Field(default_factory=list, title="water content as compacted", max_length=6)
    tins_soaked: list[TinRow] = Field(
        default_factory=list,
        title="water content below the plunger, after soaking",
        max_length=6,
        json_schema_extra=shown_only(_SOAKED),
    )
    mass_soaked_g: float | None = reading(
        "mould + soil, soaked",
        "g",
        about="drained 15 min, without collar, plates and surcharge",
        low=0,
        high=60000,
        resolution=1,
        shown=_SOAKED,
        absent=HARMLESS,
    )
    swell: list[SwellRow] = Field(default_factory=list, title="swell", max_length=40)
    water_content_target_percent: float | None = reading(
        "w wanted", "%", about="the optimum when left blank", low=0, high=100, absent=HARMLESS
    )
    surcharge_kg: float | None = reading("surcharge", "kg", low=0, high=50, absent=HARMLESS)
    height_specimen_mm: float | None = reading(
        "height of soil",
        "mm",
        about="127 when left blank, 116.4 by ASTM D1883",
        low=30,
        high=300,
        absent="the height of a standard mould assumed",
        usual=(100, 180),
    )
    rate_measured_mm_min: float | None = reading(
        "rate run",
        "mm/min",
        about="as run mode or a watch found it",
        low=0.01,
        high=20,
        absent="the rate is not on record",
    )
    particle_density: float | None = particle_density_reading()
    finished: Finished | None = Field(default=None, title="finished", description="no further reading will come")


class CbrLabSettings(BearingSettings):
    """Effort, soaking and the rules for reporting."""

    scheme: Scheme = setting(
        Scheme.BLOWS_62X3, "effort", "62 blows per layer in the 152 mm mould; another count is accepted with a note."
    )
    soaking: Soaking = setting(
        Soaking.SOAKED,
        "soaking",
        "Four days under water with the surcharge on; unsoaked only where the ground stays dry.",
    )
    tangent_top_mm: float | None = setting(
        None, "tangent by hand, top", "Dragged on the figure; empty is the steepest part.", unit="mm", low=0, high=15
    )
    tangent_bottom_mm: float | None = setting(
        None, "tangent by hand, bottom", "Dragged on the figure; empty is the steepest part.", unit="mm", low=0, high=15
    )
    water_percent: float = setting(
        0.5,
        "water off by",
        "Largest distance of the mould's water content from the wanted one.",
        unit="%",
        low=0.1,
        high=5,
    )
    ends_percent: float = setting(
        10.0,
        "top and bottom within",
        "Of their mean; then the mean counts, else both are reported.",
        unit="%",
        low=1,
        high=50,
    )
    assumed_particle_density: float = assumed_setting(2.70)


class CbrLabContext(RingContext):
    """Tins, the ring, and the compaction curve the mould is made by."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
    optimum_water_content: Leant | None = leant("compaction.optimum_water_content", "percent")
    maximum_dry_density: Leant | None = leant("compaction.maximum_dry_density", "g/cm3")

"""What is written at the box: specimens with their loads, and the record of each."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.peak import fall_setting
from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Leant,
    Log,
    Readings,
    Row,
    answer,
    leant,
    reading,
    setting,
)


class Screws(Choice):
    """Where the screws of the box are."""

    REMOVED = "removed"
    LEFT_IN = "left-in", "left in"


class ForceRead(Choice):
    """How the force is read."""

    NEWTONS = "newtons", "in N"
    DIVISIONS = "divisions", "in divisions of a ring"


MOST_SPECIMENS = 6
PEAKS = tuple(f"peak_{n}_mm" for n in range(1, MOST_SPECIMENS + 1))


class SpecimenRow(Row):
    """One specimen: what stood on it, how much soil went in."""

    dead_mass_kg: float | None = reading(
        "dead mass", "kg", about="on the lever, without hanger", low=0, high=500, resolution=0.001, absent=REQUIRED
    )
    mass_before_g: float | None = reading(
        "before",
        "g",
        about="container with soil before filling the box",
        low=0,
        high=20000,
        resolution=0.01,
        absent="the density of the specimen is not known",
    )
    mass_after_g: float | None = reading(
        "after",
        "g",
        about="container with what was left",
        low=0,
        high=20000,
        resolution=0.01,
        absent="the density of the specimen is not known",
    )
    height_mm: float | None = reading(
        "height",
        "mm",
        about="of the specimen under its load",
        low=5,
        high=150,
        resolution=0.01,
        hand="row",
        absent="the density of the specimen is not known",
        usual=(10, 80),
    )
    ring_n_div: float | None = reading(
        "ring",
        "N/div",
        about="of the ring that this specimen was sheared with",
        low=0.01,
        high=500,
        shown={"force_read": [ForceRead.DIVISIONS]},
        absent=REQUIRED,
    )


class AfterRow(Row):
    """What is seen of each specimen when it comes out, in the order of the specimens."""

    mass_dry_g: float | None = reading(
        "dry", "g", about="of the whole specimen", low=0, high=20000, resolution=0.01, absent=HARMLESS
    )
    screws: Screws | None = answer("screws", "while this one was sheared; as said for the box where left blank")


class RecordRow(Row):
    """One line of the record; a blank specimen number stands for the one above."""

    specimen: int | None = reading(
        "no.",
        "",
        about="number of the specimen",
        low=1,
        high=MOST_SPECIMENS,
        also=("test", "specimen no", "sample", "no"),
        absent=HARMLESS,
    )
    horizontal_mm: float | None = reading(
        "travel",
        "mm",
        low=-1,
        high=60,
        resolution=0.001,
        instrument="dial gauge",
        also=("displacement", "horizontal displacement", "shear displacement", "horizontal"),
        absent=REQUIRED,
    )
    force_n: float | None = reading(
        "force",
        "N",
        low=-100,
        high=100000,
        resolution=0.1,
        instrument="load cell",
        shown={"force_read": [ForceRead.NEWTONS]},
        also=("load", "shear force", "shear load", "axial load", "axial force"),
        absent=REQUIRED,
    )
    force_div: float | None = reading(
        "force",
        "div",
        about="divisions of the ring",
        low=-50,
        high=5000,
        resolution=0.1,
        shown={"force_read": [ForceRead.DIVISIONS]},
        also=("ring", "ring dial", "load dial", "divisions"),
        absent=REQUIRED,
    )
    vertical_mm: float | None = reading(
        "vertical",
        "mm",
        about="up is positive: the soil dilates",
        low=-20,
        high=20,
        resolution=0.001,
        hand="row",
        instrument="dial gauge",
        also=("dial", "vertical displacement", "vertical dial"),
        absent=HARMLESS,
    )


class RecordLog(Log):
    """A shear frame's record of all specimens, one after the other."""

    specimen: list[float] = Field(
        title="specimen", json_schema_extra={"unit": "", "also": ["test", "specimen no", "sample", "no"]}
    )
    horizontal_mm: list[float] = Field(
        title="travel",
        json_schema_extra={
            "unit": "mm",
            "also": ["displacement", "horizontal displacement", "shear displacement", "horizontal"],
        },
    )
    force_n: list[float] = Field(
        title="force",
        json_schema_extra={"unit": "N", "also": ["load", "shear force", "shear load", "axial load", "axial force"]},
    )
    vertical_mm: list[float] = Field(
        title="vertical", json_schema_extra={"unit": "mm", "also": ["dial", "vertical displacement", "vertical dial"]}
    )


class DirectShearReadings(Readings):
    """The box, its loading, specimens and record."""

    side_mm: float | None = reading(
        "side or diameter", "mm", low=30, high=400, resolution=0.1, absent=REQUIRED, usual=(45, 320), piece=True
    )
    lever: float | None = reading(
        "lever",
        "",
        about="1 without one",
        low=0.5,
        high=30,
        absent="1 assumed: the dead mass hangs on the specimen itself",
        usual=(0.8, 15),
        piece=True,
    )
    hanger_kg: float | None = reading(
        "hanger",
        "kg",
        about="hanger as it acts on the specimen",
        low=0,
        high=100,
        absent="it is not in the normal stress",
        usual=(3, 8),
        piece=True,
    )
    cap_kg: float | None = reading(
        "cap",
        "kg",
        about="loading cap, half box and ball",
        low=0,
        high=50,
        absent="it is not in the normal stress",
        usual=(0.5, 1.6),
        piece=True,
    )
    specimens: list[SpecimenRow] = Field(default_factory=list, title="specimens", max_length=MOST_SPECIMENS)
    after: list[AfterRow] = Field(default_factory=list, title="after the test", max_length=MOST_SPECIMENS)
    record: list[RecordRow] = Field(default_factory=list, title="record", max_length=900)
    log: RecordLog | None = Field(default=None, title="logger file")
    rate_mm_min: float | None = reading(
        "rate", "mm/min", low=0.0001, high=10, absent="nobody can say whether it was drained"
    )
    t50_min: float | None = reading(
        "t50", "min", about="of consolidation; drained clay needs a rate by it", low=0.01, high=10000, absent=HARMLESS
    )
    screws: Screws | None = answer(
        "screws of the box", "", absent="nobody can say that the halves of the box were free"
    )
    soil: Literal["sand", "clay"] | None = Field(default=None, title="soil")
    particle_density: float | None = particle_density_reading(HARMLESS)
    loosest_g_cm3: float | None = reading(
        "loosest", "g/cm³", about="least dry density, of the sand's own test", low=0.5, high=2.5, absent=HARMLESS
    )
    densest_g_cm3: float | None = reading(
        "densest", "g/cm³", about="largest dry density, of the sand's own test", low=0.8, high=3, absent=HARMLESS
    )


class DirectShearSettings(HandSettings):
    """Box, areas and envelopes."""

    box: Literal["square", "round"] = setting("square", "box", "60 or 100 mm square, or round.")
    force_read: ForceRead = setting(
        ForceRead.NEWTONS, "force read", "In N by a load cell; or in divisions, each specimen with its own ring."
    )
    area: Literal["constant", "corrected"] = setting(
        "constant",
        "area",
        "Constant: normal and shear stress shrink together; corrected by the travel in another school. Printed.",
    )
    cohesion: Literal["free", "none"] = setting(
        "free", "cohesion", "Free: least squares with an intercept. None: through the origin, for clean sand."
    )
    apart_percent: float = setting(
        2.0,
        "densities within",
        "Specimens whose densities differ more are not of one state.",
        unit="%",
        low=0.5,
        high=20,
    )
    travel_percent: float = setting(
        10.0, "travel at least", "Of the box, when no peak was passed.", unit="%", low=2, high=30
    )
    reversals: bool = setting(
        False,
        "residual by reversals",
        "On: the box is pushed back and sheared again until two passes end alike; the last one is residual.",
    )
    passes_within_percent: float = setting(
        5.0,
        "passes end alike within",
        "The last two passes of a specimen; further apart it still falls.",
        unit="%",
        low=1,
        high=20,
    )
    assumed_particle_density: float = assumed_setting(2.65)
    peak_fall_percent: float = fall_setting()
    peak_1_mm: float | None = setting(
        None, "peak by hand, specimen 1", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_2_mm: float | None = setting(
        None, "peak by hand, specimen 2", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_3_mm: float | None = setting(
        None, "peak by hand, specimen 3", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_4_mm: float | None = setting(
        None, "peak by hand, specimen 4", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_5_mm: float | None = setting(
        None, "peak by hand, specimen 5", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_6_mm: float | None = setting(
        None, "peak by hand, specimen 6", "Dragged on the figure.", unit="mm", low=0, high=60
    )


class DirectShearContext(Context):
    """Gs."""

    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")

"""What is written at the box: specimens with their loads, and the record of each."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.particle import particle_density_reading
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, REQUIRED, Log, Readings, Row, answer, reading
from vadum.soil.methods.direct_shear.settings import MOST_SPECIMENS, ForceRead


class Screws(Choice):
    """Where the screws of the box are."""

    REMOVED = "removed"
    LEFT_IN = "left-in", "left in"


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

"""What is written at the cell: specimens, saturation steps, consolidation, shearing."""

from typing import Any, Literal

from pydantic import Field

from vadum.soil.bench.cylinder.failure import Failure
from vadum.soil.bench.cylinder.specimen import CaliperRow
from vadum.soil.bench.particle import particle_density_reading
from vadum.soil.bench.weighing import TinRow
from vadum.soil.contract.field import HARMLESS, REQUIRED, Log, Readings, Row, answer, reading, shown_only
from vadum.soil.physics.triaxial import Ends

MOST_SPECIMENS = 6
_CONSOLIDATED = {"kind": ["CU", "CD"]}


def _number() -> Any:
    """Declare which specimen a row is of; a blank one is of that above."""
    return reading("no.", "", low=1, high=MOST_SPECIMENS, also=("test", "specimen no", "sample", "no"), absent=HARMLESS)


class SpecimenRow(Row):
    """One specimen and its cell."""

    diameter_mm: float | None = reading(
        "D", "mm", about="from the calipers below when left blank", low=20, high=400, resolution=0.01, absent=HARMLESS
    )
    length_mm: float | None = reading(
        "L", "mm", about="from the calipers below when left blank", low=40, high=900, resolution=0.01, absent=HARMLESS
    )
    mass_g: float | None = reading("mass", "g", low=0, high=60000, resolution=0.01, absent="the density is not known")
    cell_kpa: float | None = reading(
        "cell", "kPa", about="cell pressure while shearing", low=0, high=5000, resolution=0.1, absent=REQUIRED
    )
    back_kpa: float | None = reading(
        "back",
        "kPa",
        about="back pressure, or pore pressure when shearing begins",
        low=0,
        high=3000,
        resolution=0.1,
        shown=_CONSOLIDATED,
        absent=REQUIRED,
    )
    out_cm3: float | None = reading(
        "out",
        "cm³",
        about="water that left while it consolidated",
        low=-20,
        high=2000,
        resolution=0.01,
        shown=_CONSOLIDATED,
        absent=REQUIRED,
    )
    shortened_mm: float | None = reading(
        "short.",
        "mm",
        about="shortening while it consolidated",
        low=-5,
        high=100,
        resolution=0.01,
        shown=_CONSOLIDATED,
        hand="row",
        absent=REQUIRED,
    )


class SpecimenCalipers(CaliperRow):
    """One round of the calipers on one of the specimens."""

    specimen: int | None = _number()


class SpecimenTrimmings(TinRow):
    """A tin of trimmings of one of the specimens."""

    specimen: int | None = _number()


class TimesRow(Row):
    """Times of consolidation read off by hand, in the order of the specimens; they lead over the constructed ones."""

    t50_min: float | None = reading("t50", "min", low=0.001, high=100000, absent=HARMLESS)
    t90_min: float | None = reading("t90", "min", low=0.001, high=100000, absent=HARMLESS)
    t100_min: float | None = reading("t100", "min", low=0.001, high=100000, absent=HARMLESS)


class AfterRow(Row):
    """Each specimen while it was saturated and when it came out, in the order of the specimens."""

    saturating_mm: float | None = reading(
        "sat. short.",
        "mm",
        about="shortening while it was saturated; negative when it swelled",
        low=-20,
        high=20,
        resolution=0.01,
        shown=_CONSOLIDATED,
        absent=HARMLESS,
    )
    mass_wet_g: float | None = reading(
        "wet",
        "g",
        about="of the whole specimen, blotted, when it comes out",
        low=0,
        high=60000,
        resolution=0.01,
        absent=HARMLESS,
    )
    mass_dry_g: float | None = reading(
        "dry", "g", about="of the whole specimen", low=0, high=60000, resolution=0.01, absent=HARMLESS
    )
    failure: Failure | None = answer("failed by", "how it broke")
    plane_angle: float | None = reading(
        "angle", "°", about="of the plane from the horizontal", low=0, high=90, absent=HARMLESS
    )


class SaturationRow(Row):
    """Pressures before and after an undrained step of cell pressure; a blank number stands for the one above."""

    specimen: int | None = _number()
    cell_kpa: float | None = reading("cell", "kPa", low=0, high=5000, resolution=0.1, absent=REQUIRED)
    pore_kpa: float | None = reading(
        "pore",
        "kPa",
        low=-100,
        high=5000,
        resolution=0.1,
        hand="row",
        also=("pore pressure", "pore water pressure", "u"),
        absent=REQUIRED,
    )


class ConsolidationRow(Row):
    """Water out of a specimen by time."""

    specimen: int | None = _number()
    elapsed_min: float | None = reading(
        "after", "min", low=0, high=100000, also=("time", "elapsed", "elapsed time", "minutes", "t"), absent=REQUIRED
    )
    out_cm3: float | None = reading("out", "cm³", low=-20, high=2000, resolution=0.01, hand="row", absent=REQUIRED)


class ShearRow(Row):
    """One line of the shearing."""

    specimen: int | None = _number()
    shortening_mm: float | None = reading(
        "short.",
        "mm",
        low=-1,
        high=200,
        resolution=0.01,
        instrument="dial gauge",
        also=("displacement", "axial displacement", "deformation", "shortening"),
        absent=REQUIRED,
    )
    force_n: float | None = reading(
        "force",
        "N",
        low=-50,
        high=500000,
        resolution=0.1,
        instrument="load cell",
        also=("load", "shear force", "shear load", "axial load", "axial force"),
        absent=REQUIRED,
    )
    pore_kpa: float | None = reading(
        "pore",
        "kPa",
        low=-100,
        high=5000,
        resolution=0.1,
        shown={"kind": ["CU"]},
        also=("pore pressure", "pore water pressure", "u"),
        absent=REQUIRED,
    )
    volume_cm3: float | None = reading(
        "out",
        "cm³",
        about="water out since shearing began; negative when it dilates",
        low=-500,
        high=500,
        resolution=0.01,
        shown={"kind": ["CD"]},
        hand="row",
        also=("volume", "volume change"),
        absent=REQUIRED,
    )


class ShearLog(Log):
    """A triaxial frame's record; pore pressure in CU, volume in CD, zeros where it does not apply."""

    specimen: list[float] = Field(
        title="specimen", json_schema_extra={"unit": "", "also": ["test", "specimen no", "sample", "no"]}
    )
    shortening_mm: list[float] = Field(
        title="shortening",
        json_schema_extra={"unit": "mm", "also": ["displacement", "axial displacement", "deformation", "shortening"]},
    )
    force_n: list[float] = Field(
        title="force",
        json_schema_extra={"unit": "N", "also": ["load", "shear force", "shear load", "axial load", "axial force"]},
    )
    pore_kpa: list[float] = Field(
        title="pore pressure", json_schema_extra={"unit": "kPa", "also": ["pore pressure", "pore water pressure", "u"]}
    )
    volume_cm3: list[float] = Field(
        title="volume out", json_schema_extra={"unit": "cm³", "also": ["volume", "volume change"]}
    )


class TriaxialReadings(Readings):
    """Membrane, rate, specimens and all stages."""

    membrane_mm: float | None = reading(
        "membrane",
        "mm",
        about="thickness",
        low=0,
        high=3,
        resolution=0.01,
        absent="the strength of the membrane is not taken off",
        usual=(0.2, 0.5),
        piece=True,
    )
    rate_mm_min: float | None = reading("rate", "mm/min", low=0.00001, high=20, absent="the rate is not on record")
    calipers: list[SpecimenCalipers] = Field(default_factory=list, title="calipers", max_length=36)
    specimens: list[SpecimenRow] = Field(default_factory=list, title="specimens", max_length=MOST_SPECIMENS)
    tins: list[SpecimenTrimmings] = Field(default_factory=list, title="water content of trimmings", max_length=12)
    saturation: list[SaturationRow] = Field(default_factory=list, title="saturation", max_length=120)
    consolidation: list[ConsolidationRow] = Field(default_factory=list, title="consolidation", max_length=300)
    times: list[TimesRow] = Field(
        default_factory=list,
        title="times of consolidation by hand",
        max_length=MOST_SPECIMENS,
        json_schema_extra=shown_only(_CONSOLIDATED),
    )
    shearing: list[ShearRow] = Field(default_factory=list, title="shearing", max_length=900)
    log: ShearLog | None = Field(default=None, title="logger file")
    after: list[AfterRow] = Field(
        default_factory=list, title="while saturating, and after the test", max_length=MOST_SPECIMENS
    )
    particle_density: float | None = particle_density_reading(HARMLESS)
    ends: Ends | None = answer(
        "ends drained", "as it was mounted; as in the settings where left blank", shown=_CONSOLIDATED
    )
    leak_cm3_h: float | None = reading(
        "volume at rest",
        "cm³/h",
        about="drift with everything held, before shearing",
        low=-50,
        high=50,
        absent=HARMLESS,
    )
    patched: Literal["no", "yes"] | None = Field(default=None, title="voids patched")

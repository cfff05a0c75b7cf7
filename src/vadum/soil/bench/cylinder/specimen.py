"""The specimen that the compression tests share: calipers to dimensions, mass and trimmings to density."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi
from typing import Any

from pydantic import Field

from vadum.soil.bench.phases import Phases
from vadum.soil.bench.weighing import TinRow
from vadum.soil.contract.field import HARMLESS, Readings, Row, reading
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE
from vadum.soil.physics.phases import dry_density

SLENDERNESS = warn(
    "slenderness",
    "{who}L/D {ratio:.2f}: a specimen too {which}.",
    "Trim the next one to a length of 2 to 2.5 diameters.",
)
ENDS_NOT_PARALLEL = warn(
    "ends-not-parallel",
    "{who}The lengths differ by {percent:.1f %}: the ends are not parallel.",
    "Trim the ends square; a skew end beds in and looks soft.",
)
SIDES_NOT_TRUE = warn(
    "sides-not-true", "{who}The diameters differ by {percent:.1f %}.", "Trim the next one in the soil lathe."
)
DENSITY_IMPOSSIBLE = stop(
    "density-impossible",
    "{who}A bulk density of {bulk:.2f g/cm³} cannot be.",
    "Check the calipers (mm, not cm) and the mass.",
)
SPECIMEN_OVERFULL = stop(
    "specimen-overfull",
    "{who}S is {saturation:.0f %}: more water than there is room for.",
    "Check calipers, mass and tins, then the Gs.",
)

TOO_SHORT = stop(
    "too-short",
    "{who}A shortening of {short:g mm} cannot be of a specimen {length:.1f mm} long.",
    "Look at the gauge's unit and the column; type the shortening in mm, from its zero.",
)

BULK_DENSITY = Result(
    "bulk_density",
    "ρ",
    "bulk density",
    "g/cm³",
    HUNDREDTH,
    basis="ISO 17892-2",
    impossible=(0.9, 3.0),
    unusual=(1.3, 2.45),
    takes="organic soil, ash or heavy gravel",
)
DRY_DENSITY = Result(
    "dry_density",
    "ρd",
    "dry density",
    "g/cm³",
    HUNDREDTH,
    basis="ISO 17892-2",
    impossible=(0.05, 2.9),
    unusual=(0.9, 2.35),
    takes="organic soil, ash or heavy gravel",
)
WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content of the trimmings",
    "%",
    TENTH,
    basis="ASTM D2216",
    impossible=(0.0, 1000.0),
    unusual=(2.0, 130.0),
    takes="peat, very soft clay or dry sand",
)
SATURATION = Result("saturation", "S", "degree of saturation", "%", WHOLE)

# Water on its surface, and a particle density that is a hundredth off, make pores a little more than full.
_MOST_FULL_PERCENT = 112.0
# Nothing is pressed to less than half.
_MOST_SHORTENED = 0.5
SLENDER = (2.0, 2.5)
# Ends count as parallel, sides as true, within these shares of the mean.
_PARALLEL, _TRUE = 0.01, 0.03


class CaliperRow(Row):
    """One round of the calipers: the diameter at three heights and the length, each round turned by some angle."""

    top_mm: float | None = reading("D top", "mm", low=10, high=400, resolution=0.01, absent=HARMLESS, usual=(25, 160))
    middle_mm: float | None = reading(
        "D middle", "mm", low=10, high=400, resolution=0.01, absent=HARMLESS, usual=(25, 160)
    )
    bottom_mm: float | None = reading(
        "D bottom", "mm", low=10, high=400, resolution=0.01, absent=HARMLESS, usual=(25, 160)
    )
    length_mm: float | None = reading(
        "length", "mm", low=20, high=900, resolution=0.01, hand="row", absent=HARMLESS, usual=(50, 330)
    )

    @property
    def across_mm(self) -> list[float]:
        """Return the diameters that are read."""
        return [v for v in (self.top_mm, self.middle_mm, self.bottom_mm) if v is not None]

    @property
    def mean_mm(self) -> float | None:
        return sum(self.across_mm) / len(self.across_mm) if self.across_mm else None


class SpecimenReadings(Readings):
    """What is measured of the specimen before it is loaded."""

    mass_g: float | None = reading(
        "mass",
        "g",
        about="of the trimmed specimen",
        low=0,
        high=50000,
        resolution=0.01,
        absent="the density is not known",
    )
    calipers: list[CaliperRow] = Field(default_factory=list, title="calipers", max_length=12)


def trimmings() -> Any:
    """Declare the tins of trimmings."""
    return Field(default_factory=list, title="water content of trimmings", max_length=6)


def too_short(table: str, rows: Sequence[Any], length_mm: float | None) -> list[Finding]:
    """Return a stop where readings of a table say that a specimen has shortened by more than half."""
    if not length_mm:
        return []
    return [
        TOO_SHORT.at(f"{table}.{i}.shortening_mm", who="", short=row.shortening_mm, length=length_mm)
        for i, row in enumerate(rows)
        if (row.shortening_mm or 0.0) > _MOST_SHORTENED * length_mm and row.used
    ]


@dataclass(frozen=True)
class Specimen:
    """Dimensions in mm, mass in g, water content in percent; None while a reading is missing."""

    diameter_mm: float | None
    length_mm: float | None
    mass_g: float | None
    water_content: float | None
    length_spread: float
    diameter_spread: float

    @property
    def area_mm2(self) -> float | None:
        return None if self.diameter_mm is None else pi / 4 * self.diameter_mm**2

    @property
    def bulk_density(self) -> float | None:
        """Return the bulk density in g/cm3."""
        area = self.area_mm2
        if area is None or self.length_mm is None or self.mass_g is None:
            return None
        return self.mass_g / (area * self.length_mm / 1000)

    @property
    def slenderness(self) -> float | None:
        return None if self.diameter_mm is None or self.length_mm is None else self.length_mm / self.diameter_mm

    def saturation(self, gs: float) -> float | None:
        if not self.bulk_density or self.water_content is None:
            return None
        phases = Phases(dry_density(self.bulk_density, self.water_content), self.water_content, gs)
        return phases.saturation if phases.void_ratio > 0 else None


def specimen_of(
    mass_g: float | None, calipers: Sequence[CaliperRow], tins: Sequence[TinRow], register: dict[str, float]
) -> Specimen:
    """Return the specimen: means of all calipers, water content as the mean of the tins."""
    rounds = [row for row in calipers if row.used]
    across = [v for row in rounds for v in row.across_mm]
    lengths = [row.length_mm for row in rounds if row.length_mm is not None]
    found = [w for tin in tins if tin.used and (w := tin.water_content(register)) is not None]
    return Specimen(
        diameter_mm=sum(across) / len(across) if across else None,
        length_mm=sum(lengths) / len(lengths) if lengths else None,
        mass_g=mass_g,
        water_content=sum(found) / len(found) if found else None,
        length_spread=(max(lengths) - min(lengths)) / max(lengths) if lengths else 0.0,
        diameter_spread=(max(across) - min(across)) / max(across) if across else 0.0,
    )


def specimen_findings(
    made: Specimen, gs: float, *, who: str = "", calipers: str = "calipers.0", mass: str = "mass_g"
) -> list[Finding]:
    """Return what is wrong with the specimen's shape, density and water; ``who`` it is, and where its readings
    stand."""
    found: list[Finding] = []
    ratio = made.slenderness
    if ratio is not None and not SLENDER[0] - 0.05 <= ratio <= SLENDER[1] + 0.05:
        short = ratio < SLENDER[0]
        found.append(
            SLENDERNESS.at(
                f"{calipers}.length_mm",
                who=who,
                ratio=ratio,
                which="short: its ends hold it together" if short else "long: it may buckle",
            )
        )
    if made.length_spread > _PARALLEL:
        found.append(ENDS_NOT_PARALLEL.at(f"{calipers}.length_mm", who=who, percent=100 * made.length_spread))
    if made.diameter_spread > _TRUE:
        found.append(SIDES_NOT_TRUE.at(f"{calipers}.top_mm", who=who, percent=100 * made.diameter_spread))
    bulk = made.bulk_density
    if bulk is not None and not 0.9 <= bulk <= 2.8:
        found.append(DENSITY_IMPOSSIBLE.at(mass, who=who, bulk=bulk))
    elif (saturation := made.saturation(gs)) is not None and saturation > _MOST_FULL_PERCENT:
        found.append(SPECIMEN_OVERFULL.at(mass, f"{calipers}.length_mm", who=who, saturation=saturation))
    return found


def specimen_parameters(made: Specimen, gs: float | None = None) -> list[Parameter]:
    """Return density, water content and saturation of the specimen."""
    found = []
    if made.bulk_density is not None:
        found.append(BULK_DENSITY.of(made.bulk_density))
        if made.water_content is not None:
            found.append(DRY_DENSITY.of(dry_density(made.bulk_density, made.water_content)))
    if made.water_content is not None:
        found.append(WATER_CONTENT.of(made.water_content))
    if gs is not None and (saturation := made.saturation(gs)) is not None:
        found.append(SATURATION.of(saturation))
    return found

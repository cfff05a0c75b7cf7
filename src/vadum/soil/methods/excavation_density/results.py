"""What the test gives."""

from vadum.soil.bench import phases
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH

DRY_DENSITY = Result(
    "dry_density",
    "ρd total",
    "total dry density (bulk density of soil mechanics)",
    "g/cm³",
    HUNDREDTH,
    basis="ASTM D5030",
    quantity="dry_density",
    card=10,
    impossible=(1.0, 2.6),
    unusual=(1.1, 2.35),
    takes="organic soil, ash or heavy gravel",
)
BULK_DENSITY = Result(
    "bulk_density", "ρ", "bulk density, moist", "g/cm³", HUNDREDTH, basis="ASTM D5030", impossible=(1.0, 3.0)
)
UNIT_WEIGHT, DRY_UNIT_WEIGHT = phases.UNIT_WEIGHT, phases.DRY_UNIT_WEIGHT
FINE_EARTH_DENSITY = Result(
    "fine_earth_density",
    "ρd fine",
    "fine-earth density (bulk density of soil science)",
    "g/cm³",
    HUNDREDTH,
    basis="dry fines / (V − V stones)",
    card=11,
    impossible=(0.05, 2.9),
    unusual=(0.8, 2.3),
    takes="organic soil or ash",
)
STONES_MASS_PERCENT = Result(
    "stones_mass_percent", "stones", "stones above 2 mm, of the dry mass", "%", TENTH, card=12, impossible=(0.0, 100.0)
)
STONES_VOLUME_PERCENT = Result(
    "stones_volume_percent", "stones by volume", "stones above 2 mm, of the volume", "%", TENTH, impossible=(0.0, 90.0)
)
WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content as dug",
    "%",
    TENTH,
    impossible=(0.0, 1000.0),
    unusual=(2.0, 130.0),
    takes="peat, very soft clay or dry sand",
)

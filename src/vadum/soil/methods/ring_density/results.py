"""What the test gives."""

from dataclasses import replace

from vadum.soil.bench import phases
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH

WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content",
    "%",
    TENTH,
    basis="ASTM D2216",
    impossible=(0.0, 1000.0),
    unusual=(2.0, 130.0),
    takes="peat, very soft clay or dry sand",
)
BULK_DENSITY = Result(
    "bulk_density",
    "ρ",
    "bulk density, moist",
    "g/cm³",
    HUNDREDTH,
    basis="ASTM D7263",
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
    basis="ASTM D7263",
    quantity="dry_density",
    card=7,
    impossible=(0.05, 2.9),
    unusual=(0.9, 2.35),
    takes="organic soil, ash or heavy gravel",
)
UNIT_WEIGHT, DRY_UNIT_WEIGHT = phases.UNIT_WEIGHT, phases.DRY_UNIT_WEIGHT
SATURATION_PERCENT = replace(phases.SATURATION_PERCENT, card=8)
VOID_RATIO = replace(phases.VOID_RATIO, card=9)

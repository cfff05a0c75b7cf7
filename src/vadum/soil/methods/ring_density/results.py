"""What the test gives."""

from dataclasses import replace

from vadum.soil.bench import phases
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH

WATER_CONTENT = Result("water_content", "w", "water content", "%", TENTH, basis="ASTM D2216")
BULK_DENSITY = Result("bulk_density", "ρ", "bulk density, moist", "g/cm³", HUNDREDTH, basis="ASTM D7263")
DRY_DENSITY = Result(
    "dry_density", "ρd", "dry density", "g/cm³", HUNDREDTH, basis="ASTM D7263", quantity="dry_density", card=7
)
SATURATION_PERCENT = replace(phases.SATURATION_PERCENT, card=8)
VOID_RATIO = replace(phases.VOID_RATIO, card=9)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH

OPTIMUM_WATER_CONTENT = Result(
    "optimum_water_content",
    "w opt",
    "optimum water content{by_hand}",
    "%",
    TENTH,
    quantity="optimum_water_content",
    card=14,
    meaning="optimum water content",
)
MAXIMUM_DRY_DENSITY = Result(
    "maximum_dry_density", "ρd max", "maximum dry density", "g/cm³", HUNDREDTH, quantity="maximum_dry_density", card=13
)
AIR_PERCENT = Result("air_percent", "air", "air content at the optimum", "%", TENTH, basis="zero-air relation")
CORRECTED_DRY_DENSITY = Result(
    "corrected_dry_density", "ρd max whole", "maximum dry density with oversize", "g/cm³", HUNDREDTH, basis="ASTM D4718"
)
CORRECTED_WATER_CONTENT = Result(
    "corrected_water_content", "w opt whole", "optimum water content with oversize", "%", TENTH, basis="ASTM D4718"
)

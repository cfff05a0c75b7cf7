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
    impossible=(1.0, 150.0),
    unusual=(4.0, 45.0),
    takes="organic or volcanic soil",
)
MAXIMUM_DRY_DENSITY = Result(
    "maximum_dry_density",
    "ρd max",
    "maximum dry density",
    "g/cm³",
    HUNDREDTH,
    quantity="maximum_dry_density",
    card=13,
    impossible=(0.5, 2.8),
    unusual=(1.2, 2.4),
    takes="organic soil, ash or heavy gravel",
)
AIR_PERCENT = Result(
    "air_percent",
    "air",
    "air content at the optimum",
    "%",
    TENTH,
    basis="zero-air relation",
    impossible=(-1.0, 60.0),
    unusual=(0.5, 15.0),
)
CORRECTED_DRY_DENSITY = Result(
    "corrected_dry_density",
    "ρd max whole",
    "maximum dry density with oversize",
    "g/cm³",
    HUNDREDTH,
    basis="ASTM D4718",
    impossible=(0.5, 2.9),
    unusual=(1.2, 2.5),
)
CORRECTED_WATER_CONTENT = Result(
    "corrected_water_content",
    "w opt whole",
    "optimum water content with oversize",
    "%",
    TENTH,
    basis="ASTM D4718",
    impossible=(0.5, 150.0),
    unusual=(2.0, 45.0),
)

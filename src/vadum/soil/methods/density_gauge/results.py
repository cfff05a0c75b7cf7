"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

DRY_DENSITY = Result(
    "dry_density",
    "ρd",
    "dry density, {of}",
    "g/cm³",
    HUNDREDTH,
    meaning="dry density by the gauge",
    quantity="dry_density",
    impossible=(0.3, 2.9),
    unusual=(1.1, 2.35),
    takes="organic soil, ash or heavy gravel",
)
WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content, {of}",
    "%",
    TENTH,
    meaning="water content by the gauge",
    impossible=(0.0, 200.0),
)
DRY_SPOT = Result(
    "dry_density_{number}", "ρd {number}", "dry density, {place}", "g/cm³", HUNDREDTH, sign="ρd", meaning="of one place"
)
WATER_SPOT = Result(
    "water_content_{number}", "w {number}", "water content, {place}", "%", TENTH, sign="w", meaning="of one place"
)
SPREAD_PERCENT = Result(
    "spread_percent", "spread", "largest distance of a place from the mean", "%", WHOLE, agreement=True
)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

ULTIMATE_KPA = Result(
    "ultimate_kpa",
    "qu",
    "ultimate pressure below the plate",
    "kPa",
    WHOLE,
    impossible=(5.0, 20000.0),
    unusual=(40.0, 3000.0),
    takes="rock or mud, or another unit of pressure",
)
SAFE_KPA = Result(
    "safe_kpa",
    "safe",
    "ultimate pressure over the factor of safety",
    "kPa",
    WHOLE,
    quantity="safe_kpa",
    impossible=(1.0, 7000.0),
    opinion=True,
)
ULTIMATE_BY_KPA = Result(
    "ultimate_{code}_kpa",
    "qu {construction}",
    "ultimate pressure by {construction}",
    "kPa",
    WHOLE,
    meaning="ultimate pressure by one construction",
)
FOOTING_ULTIMATE_KPA = Result("footing_ultimate_kpa", "qu footing", "ultimate pressure below the footing", "kPa", WHOLE)
FOOTING_SAFE_KPA = Result(
    "footing_safe_kpa", "safe footing", "safe pressure below the footing", "kPa", WHOLE, opinion=True
)
SETTLEMENT_KPA = Result(
    "settlement_kpa",
    "q at {allowed_mm:g} mm",
    "pressure at which the footing settles as much as allowed",
    "kPa",
    WHOLE,
    sign="q",
    meaning="pressure at which the footing settles as much as allowed",
)
ALLOWABLE_KPA = Result(
    "allowable_kpa",
    "allowable",
    "the smaller of safe pressure and settlement",
    "kPa",
    WHOLE,
    impossible=(1.0, 20000.0),
    unusual=(15.0, 2000.0),
    opinion=True,
)
LARGEST_SETTLEMENT_MM = Result(
    "largest_settlement_mm",
    "s max",
    "settlement at the last increment",
    "mm",
    HUNDREDTH,
    impossible=(0.0, 500.0),
    unusual=(None, 120.0),
)
REBOUND_MM = Result(
    "rebound_mm",
    "rebound",
    "rebound on unloading to {pressure_kpa:g} kPa",
    "mm",
    HUNDREDTH,
    meaning="rebound on unloading",
)
REBOUND_PERCENT = Result(
    "rebound_percent",
    "rebound",
    "share of the settlement that came back",
    "%",
    TENTH,
    impossible=(-5.0, 100.0),
    unusual=(2.0, 70.0),
)

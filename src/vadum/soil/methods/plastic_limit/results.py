"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

PLASTIC_LIMIT = Result(
    "plastic_limit",
    "PL",
    "plastic limit",
    "%",
    WHOLE,
    basis="ASTM D4318",
    quantity="plastic_limit",
    card=3,
    impossible=(3.0, 500.0),
    unusual=(9.0, 80.0),
    takes="organic soil or silt",
)
SPREAD = Result("spread", "Δ", "spread of portions", "%", TENTH, agreement=True)
PLASTICITY_INDEX = Result(
    "plasticity_index",
    "PI",
    "plasticity index",
    "%",
    WHOLE,
    basis="ASTM D4318",
    quantity="plasticity_index",
    card=4,
    impossible=(-5.0, 900.0),
    unusual=(None, 110.0),
    takes="bentonite",
)
LIQUIDITY_INDEX = Result(
    "liquidity_index",
    "LI",
    "liquidity index",
    "",
    HUNDREDTH,
    quantity="liquidity_index",
    card=5,
    impossible=(-10.0, 30.0),
    unusual=(-1.5, 3.0),
)
CONSISTENCY_INDEX = Result(
    "consistency_index",
    "IC",
    "consistency index",
    "",
    HUNDREDTH,
    basis="ISO 17892-12",
    impossible=(-30.0, 12.0),
    unusual=(-2.0, 2.5),
)
ACTIVITY = Result(
    "activity", "A", "activity", "", HUNDREDTH, basis="Skempton 1953", impossible=(0.0, 30.0), unusual=(None, 7.0)
)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

PLASTIC_LIMIT = Result(
    "plastic_limit", "PL", "plastic limit", "%", WHOLE, basis="ASTM D4318", quantity="plastic_limit", card=3
)
SPREAD = Result("spread", "Δ", "spread of portions", "%", TENTH, agreement=True)
PLASTICITY_INDEX = Result(
    "plasticity_index", "PI", "plasticity index", "%", WHOLE, basis="ASTM D4318", quantity="plasticity_index", card=4
)
LIQUIDITY_INDEX = Result("liquidity_index", "LI", "liquidity index", "", HUNDREDTH, quantity="liquidity_index", card=5)
CONSISTENCY_INDEX = Result("consistency_index", "IC", "consistency index", "", HUNDREDTH, basis="ISO 17892-12")
ACTIVITY = Result("activity", "A", "activity", "", HUNDREDTH, basis="Skempton 1953")

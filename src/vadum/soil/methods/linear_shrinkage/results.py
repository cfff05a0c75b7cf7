"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

LINEAR_SHRINKAGE = Result(
    "linear_shrinkage",
    "LS",
    "linear shrinkage",
    "%",
    WHOLE,
    basis="BS 1377-2 clause 6.5",
    impossible=(0.0, 60.0),
    unusual=(None, 30.0),
    card=10,
)
SPREAD = Result("spread", "Δ", "spread of bars", "%", TENTH, agreement=True)
PLASTICITY_INDEX_ESTIMATE = Result(
    "plasticity_index_estimate",
    "PI est.",
    "plasticity index by the shrinkage, a guide",
    "%",
    WHOLE,
    basis="2.13 LS",
    opinion=True,
)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, THOUSANDTH

DILATION = Result("dilation", "ψ", "angle of dilation at the peak, mean", "°", TENTH, basis="rise over travel")
FRICTION_PEAK = Result(
    "friction_peak", "φ′", "angle of friction at the peak", "°", TENTH, basis="ISO 17892-10", quantity="friction"
)
COHESION_PEAK = Result(
    "cohesion_peak", "c′", "cohesion at the peak", "kPa", TENTH, basis="ISO 17892-10", quantity="cohesion"
)
FRICTION_END = Result(
    "friction_end", "φ′ end", "angle of friction at the end of the test", "°", TENTH, basis="ISO 17892-10"
)
COHESION_END = Result("cohesion_end", "c′ end", "cohesion at the end of the test", "kPa", TENTH, basis="ISO 17892-10")
R_SQUARED = Result("r_squared", "r²", "correlation", "", THOUSANDTH, agreement=True)

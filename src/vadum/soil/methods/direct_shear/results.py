"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, THOUSANDTH

DILATION = Result("dilation", "ψ", "angle of dilation at the peak, mean", "°", TENTH, basis="rise over travel")
FRICTION = Result("friction_{key}", "φ′{words}", "angle of friction {what}", "°", TENTH, basis="ISO 17892-10")
COHESION = Result("cohesion_{key}", "c′{words}", "cohesion {what}", "kPa", TENTH, basis="ISO 17892-10")
R_SQUARED = Result("r_squared", "r²", "correlation", "", THOUSANDTH)

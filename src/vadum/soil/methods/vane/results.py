"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

SU_MEAN = Result(
    "su_mean",
    "su",
    "undrained strength as measured, mean of the profile",
    "kPa",
    WHOLE,
    basis="ASTM D2573",
    quantity="su_vane",
)
SU_CORRECTED_MEAN = Result(
    "su_corrected_mean",
    "su corr.",
    "corrected undrained strength, mean of the profile",
    "kPa",
    WHOLE,
    basis="mu times su",
)
SU_LEAST = Result(
    "su_least", "least", "least strength of the profile", "kPa", WHOLE, basis="ASTM D2573", agreement=True
)
SU_MOST = Result("su_most", "most", "largest strength of the profile", "kPa", WHOLE, basis="ASTM D2573", agreement=True)
SENSITIVITY = Result(
    "sensitivity", "St", "sensitivity, median of the profile", "", TENTH, basis="undisturbed over remoulded"
)
SENSITIVITY_CLASS = Result("sensitivity_class", "class", "class of sensitivity", basis="Skempton and Northey (1952)")
STRENGTH_CLASS = Result("strength_class", "strength", "class of strength", basis="ISO 14688-2")

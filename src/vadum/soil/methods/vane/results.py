"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, THOUSANDTH, WHOLE

SU_MEAN = Result(
    "su_mean",
    "su",
    "undrained strength as measured, mean of the profile",
    "kPa",
    WHOLE,
    basis="ASTM D2573",
    quantity="su_vane",
    impossible=(0.0, 1000.0),
    unusual=(3.0, 200.0),
    takes="hard ground, or the constant of another vane",
)
SU_CORRECTED_MEAN = Result(
    "su_corrected_mean",
    "su corr.",
    "corrected undrained strength, mean of the profile",
    "kPa",
    WHOLE,
    basis="mu times su",
    impossible=(0.0, 1000.0),
)
SU_LEAST = Result(
    "su_least",
    "least",
    "least strength of the profile",
    "kPa",
    WHOLE,
    basis="ASTM D2573",
    agreement=True,
    impossible=(0.0, 1000.0),
    unusual=(1.0, None),
    takes="hard ground, or the constant of another vane",
)
SU_MOST = Result(
    "su_most",
    "most",
    "largest strength of the profile",
    "kPa",
    WHOLE,
    basis="ASTM D2573",
    agreement=True,
    impossible=(0.0, 1000.0),
    unusual=(None, 250.0),
    takes="hard ground, or the constant of another vane",
)
GRADIENT = Result(
    "gradient",
    "k",
    "growth of the strength with depth, as measured",
    "kPa/m",
    TENTH,
    basis="least squares of su on depth",
)
TREND = Result("trend", "r²", "correlation of su on depth", "", THOUSANDTH, agreement=True)
SENSITIVITY = Result(
    "sensitivity",
    "St",
    "sensitivity, median of the profile",
    "",
    TENTH,
    basis="undisturbed over remoulded",
    impossible=(0.5, 1000.0),
    unusual=(1.0, 30.0),
)
SENSITIVITY_CLASS = Result("sensitivity_class", "class", "class of sensitivity", opinion=True)
STRENGTH_CLASS = Result("strength_class", "strength", "class of strength", opinion=True)

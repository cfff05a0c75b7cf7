"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

QU = Result(
    "qu",
    "qu",
    "unconfined compressive strength, {how}",
    "kPa",
    WHOLE,
    basis="ASTM D2166",
    meaning="unconfined compressive strength",
    impossible=(0.0, 20000.0),
    unusual=(8.0, 700.0),
    takes="very soft or cemented soil, or kN typed for N",
)
SU = Result(
    "su",
    "su",
    "undrained shear strength, half of it",
    "kPa",
    WHOLE,
    basis="ASTM D2166",
    quantity="su_unconfined",
    impossible=(0.0, 10000.0),
)
STRAIN_PERCENT = Result(
    "strain_percent",
    "εf",
    "strain at failure",
    "%",
    TENTH,
    basis="ASTM D2166",
    impossible=(0.1, 25.0),
    unusual=(0.8, None),
)
E50 = Result(
    "e50",
    "E50",
    "secant modulus at half the strength",
    "MPa",
    TENTH,
    basis="ISO 17892-7",
    impossible=(0.02, 3000.0),
    unusual=(0.3, 80.0),
    takes="cemented soil, or a gauge in another unit",
)
CONSISTENCY = Result("consistency", "consistency", "class of strength", opinion=True)
MINUTES_TO_FAILURE = Result(
    "minutes_to_failure", "t failure", "time from the start to failure, by the rate", "min", TENTH, basis="ASTM D2166"
)
QU_REMOULDED = Result(
    "qu_remoulded", "qu rem.", "strength remoulded", "kPa", TENTH, basis="ASTM D2166", impossible=(0.0, 20000.0)
)
SENSITIVITY = Result(
    "sensitivity",
    "St",
    "sensitivity",
    "",
    TENTH,
    basis="undisturbed over remoulded",
    impossible=(0.0, 1000.0),
    unusual=(1.0, 20.0),
)
SENSITIVITY_CLASS = Result("sensitivity_class", "class", "class of sensitivity", opinion=True)

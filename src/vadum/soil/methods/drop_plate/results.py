"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

EVD = Result(
    "evd",
    "Evd",
    "dynamic modulus, {of}",
    "MPa",
    TENTH,
    basis="TP BF-StB part B 8.3",
    meaning="dynamic modulus by the drop plate",
    quantity="evd",
    impossible=(1.0, 500.0),
    unusual=(5.0, 150.0),
    takes="rock or mud, or divisions typed for millimetres",
)
EVD_LEAST = Result(
    "evd_least", "Evd least", "least dynamic modulus, {place}", "MPa", TENTH, meaning="least of the places"
)
EVD_PLACE = Result(
    "evd_{number}",
    "Evd {number}",
    "dynamic modulus, {place}",
    "MPa",
    TENTH,
    sign="Evd",
    meaning="dynamic modulus of one place",
)
RATIO = Result(
    "ratio_{number}",
    "s/v {number}",
    "settlement over velocity, {place}",
    "ms",
    TENTH,
    sign="s/v",
    meaning="of one place",
)
SPREAD_PERCENT = Result(
    "spread_percent", "spread", "standard deviation over the mean of the places", "%", WHOLE, agreement=True
)
JUDGEMENT = Result("judgement", "limit", "judgement against the project's limit", opinion=True)

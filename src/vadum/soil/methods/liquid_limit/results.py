"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, THOUSANDTH, WHOLE

LIQUID_LIMIT = Result(
    "liquid_limit",
    "LL",
    "liquid limit",
    "%",
    WHOLE,
    basis="ASTM D4318 clause 15",
    quantity="liquid_limit",
    card=2,
    impossible=(5.0, 1000.0),
    unusual=(15.0, 150.0),
    takes="bentonite, peat or silt",
)
LIQUID_LIMIT_OVEN_DRIED = Result(
    "liquid_limit_oven_dried",
    "LL oven",
    "liquid limit after drying at 110 °C",
    "%",
    WHOLE,
    basis="ASTM D2487",
    impossible=(5.0, 1000.0),
)
STATE = Result("state", "state", "state of the soil before it was mixed")
DEVICE = Result("device", "by", "device the liquid limit was found with")
RETAINED = Result(
    "retained_0_425_mm", "R", "retained on 0.425 mm and taken out", "%", WHOLE, basis="ASTM D4318 clause 11"
)
FLOW_INDEX = Result(
    "flow_index",
    "IF",
    "flow index",
    "%",
    TENTH,
    basis="slope per log cycle of blows",
    impossible=(0.0, 500.0),
    unusual=(1.0, 60.0),
)
R_SQUARED = Result("r_squared", "r²", "correlation", "", THOUSANDTH, agreement=True)
SPREAD = Result("spread", "Δ", "spread of determinations", "%", TENTH, agreement=True)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH, significant

THETA_S = Result(
    "theta_s",
    "θ sat",
    "water at saturation, as weighed",
    "%",
    TENTH,
    basis="ISO 11274, ASTM D6836",
    impossible=(1.0, 98.0),
    unusual=(20.0, 80.0),
)
DRY_DENSITY = Result(
    "dry_density",
    "ρd",
    "dry density",
    "g/cm³",
    HUNDREDTH,
    basis="ISO 11272",
    impossible=(0.05, 2.5),
    unusual=(0.5, 2.1),
    takes="organic soil, ash or heavy gravel",
)
POROSITY = Result("porosity", "n", "porosity, Gs {gs:.2f} {source}", "%", TENTH, meaning="porosity")
FIELD_CAPACITY = Result(
    "field_capacity",
    "θ fc",
    "water at field capacity, {kpa:g} kPa{beyond}",
    "%",
    TENTH,
    basis="ISO 11274, ASTM D6836",
    quantity="field_capacity",
    meaning="water at field capacity",
    impossible=(0.0, 98.0),
    unusual=(1.0, 65.0),
)
DRAINABLE = Result(
    "drainable",
    "drainable",
    "saturation less field capacity: drainable porosity",
    "%",
    TENTH,
    impossible=(0.0, 80.0),
    unusual=(1.0, 60.0),
)
WILTING = Result(
    "wilting",
    "θ 1500",
    "water at the wilting point, 1500 kPa{beyond}",
    "%",
    TENTH,
    meaning="water at the wilting point, 1500 kPa",
)
AVAILABLE = Result(
    "available",
    "available",
    "field capacity less wilting point{beyond}",
    "%",
    TENTH,
    meaning="field capacity less wilting point",
    quantity="available",
    impossible=(-1.0, 70.0),
    unusual=(0.3, 40.0),
)
AIC = Result(
    "aic_{code}", "AIC {curve}", "Akaike's value of {curve}", "", TENTH, meaning="Akaike's value of a fitted curve"
)
THETA_R = Result("theta_r", "θr", "θr of {curve}", "", THOUSANDTH, meaning="water that no suction of the curve takes")
THETA_S_FIT = Result("theta_s_fit", "θs", "θs of {curve}", "", THOUSANDTH, meaning="water at saturation of the curve")
ALPHA = Result(
    "alpha",
    "α",
    "α of {curve}",
    "1/kPa",
    significant(3),
    meaning="scale of suction of the curve",
    impossible=(0.0, 100.0),
    unusual=(0.002, 5.0),
)
N = Result(
    "n",
    "n",
    "n of {curve}",
    "",
    significant(3),
    meaning="steepness of the curve",
    impossible=(1.0, 20.0),
    unusual=(1.02, 8.0),
)
ENTRY_KPA = Result("entry_kpa", "ψb", "ψb of {curve}", "kPa", significant(3), meaning="suction at which air enters")
LAMBDA = Result("lambda", "λ", "λ of {curve}", "", significant(3), meaning="steepness of the curve, Brooks and Corey")
OF_CURVE = {one.symbol: one for one in (THETA_R, THETA_S_FIT, ALPHA, N, ENTRY_KPA, LAMBDA)}

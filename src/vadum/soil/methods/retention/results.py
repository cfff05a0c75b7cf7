"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH, significant

THETA_S = Result("theta_s", "θ sat", "water at saturation, as weighed", "%", TENTH, basis="ISO 11274, ASTM D6836")
DRY_DENSITY = Result("dry_density", "ρd", "dry density", "g/cm³", HUNDREDTH, basis="ISO 11272")
POROSITY = Result("porosity", "n", "porosity, Gs {gs:.2f} {source}", "%", TENTH)
FIELD_CAPACITY = Result(
    "field_capacity", "θ 33", "water at field capacity, 33 kPa{beyond}", "%", TENTH, basis="ISO 11274, ASTM D6836"
)
DRAINABLE = Result("drainable", "drainable", "saturation less field capacity: drainable porosity", "%", TENTH)
WILTING = Result("wilting", "θ 1500", "water at the wilting point, 1500 kPa; extrapolated", "%", TENTH)
AVAILABLE = Result("available", "available", "field capacity less wilting point; extrapolated", "%", TENTH)
AIC = Result("aic_{code}", "AIC {curve}", "Akaike's value of {curve}", "", TENTH)
THETA_R = Result("theta_r", "θr", "θr of {curve}", "", THOUSANDTH)
THETA_S_FIT = Result("theta_s_fit", "θs", "θs of {curve}", "", THOUSANDTH)
ALPHA = Result("alpha", "α", "α of {curve}", "1/kPa", significant(3))
N = Result("n", "n", "n of {curve}", "", significant(3))
ENTRY_KPA = Result("entry_kpa", "ψb", "ψb of {curve}", "kPa", significant(3))
LAMBDA = Result("lambda", "λ", "λ of {curve}", "", significant(3))
OF_CURVE = {one.symbol: one for one in (THETA_R, THETA_S_FIT, ALPHA, N, ENTRY_KPA, LAMBDA)}

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH, WHOLE

CU = Result("cu", "cu", "undrained strength, mean of the circles' radii", "kPa", WHOLE)
FRICTION = Result("friction_{key}", "φ{prime}", "angle of friction, {key} stresses", "°", TENTH)
COHESION = Result("cohesion_{key}", "c{prime}", "cohesion, {key} stresses", "kPa", TENTH)
R_SQUARED = Result("r_squared", "r²", "correlation of t on s", "", THOUSANDTH)
DEVIATOR = Result("deviator_{number}", "q {number}", "deviator at failure, specimen {number}", "kPa", WHOLE)
A = Result("a_{number}", "Af {number}", "pore-pressure coefficient at failure, specimen {number}", "", HUNDREDTH)
E50 = Result("e50_{number}", "E50 {number}", "secant modulus, specimen {number}", "MPa", TENTH)
T100 = Result(
    "t100_{k}",
    "t100 {k}",
    "time of full consolidation, specimen {k}",
    "min",
    TENTH,
    basis="root time, Bishop and Henkel",
)
T90 = Result(
    "t90_{k}", "t90 {k}", "time of nine tenths of consolidation, specimen {k}", "min", TENTH, basis="root time, Taylor"
)
T50 = Result(
    "t50_{k}", "t50 {k}", "time of half of consolidation, specimen {k}", "min", TENTH, basis="log time, Casagrande"
)
CV = Result("cv_{k}", "cv {k}", "coefficient of consolidation, specimen {k}", "m²/a", HUNDREDTH)

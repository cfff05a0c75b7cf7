"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH, WHOLE

CU = Result(
    "cu",
    "cu",
    "undrained strength, mean of the circles' radii",
    "kPa",
    WHOLE,
    quantity="su_triaxial",
    impossible=(0.0, 20000.0),
    unusual=(4.0, 600.0),
    takes="very soft or cemented soil, or kN typed for N",
)
CU_SPREAD = Result(
    "cu_spread", "spread of cu", "largest distance of a circle's radius from the mean", "%", WHOLE, agreement=True
)
FRICTION_EFFECTIVE = Result(
    "friction_effective",
    "φ′",
    "angle of friction, effective stresses",
    "°",
    TENTH,
    quantity="friction",
    impossible=(0.0, 70.0),
    unusual=(14.0, 46.0),
    takes="dense angular gravel, or organic clay",
)
COHESION_EFFECTIVE = Result(
    "cohesion_effective",
    "c′",
    "cohesion, effective stresses",
    "kPa",
    TENTH,
    quantity="cohesion",
    impossible=(0.0, 2000.0),
    unusual=(None, 60.0),
    takes="cemented soil, or another unit of force",
)
FRICTION_TOTAL = Result(
    "friction_total",
    "φ",
    "angle of friction, total stresses less the back pressure",
    "°",
    TENTH,
    impossible=(-5.0, 70.0),
    unusual=(-2.0, 44.0),
    takes="gravel, or an undrained clay",
)
COHESION_TOTAL = Result(
    "cohesion_total",
    "c",
    "cohesion, total stresses less the back pressure",
    "kPa",
    TENTH,
    impossible=(0.0, 2000.0),
    unusual=(None, 150.0),
    takes="cemented soil, or another unit of force",
)
R_SQUARED = Result("r_squared", "r²", "correlation of t on s", "", THOUSANDTH, agreement=True)
TOGETHER = Result(
    "correlation", "r(c′, tan φ′)", "how cohesion and friction go together in the fit", "", HUNDREDTH, agreement=True
)
DEVIATOR = Result(
    "deviator_{number}",
    "q {number}",
    "deviator at failure, specimen {number}",
    "kPa",
    WHOLE,
    meaning="deviator at failure of a specimen",
)
SECANT = Result(
    "secant_{number}",
    "φ′s {number}",
    "secant angle of friction, c′ = 0, specimen {number}",
    "°",
    TENTH,
    basis="sin φ′s = t / s′",
    meaning="secant angle of friction of one specimen",
    impossible=(0.0, 75.0),
    unusual=(12.0, 60.0),
)
A = Result(
    "a_{number}",
    "Af {number}",
    "pore-pressure coefficient at failure, specimen {number}",
    "",
    HUNDREDTH,
    meaning="pore-pressure coefficient at failure",
    impossible=(-5.0, 10.0),
    unusual=(-0.8, 1.6),
)
E50 = Result(
    "e50_{number}",
    "E50 {number}",
    "secant modulus, specimen {number}",
    "MPa",
    TENTH,
    meaning="secant modulus of a specimen",
    impossible=(0.02, 3000.0),
    unusual=(0.2, 120.0),
)
T100 = Result(
    "t100_{k}",
    "t100 {k}",
    "time of full consolidation, specimen {k}",
    "min",
    TENTH,
    basis="root time, Bishop and Henkel",
    meaning="time of full consolidation",
)
T90 = Result(
    "t90_{k}",
    "t90 {k}",
    "time of nine tenths of consolidation, specimen {k}",
    "min",
    TENTH,
    basis="root time, Taylor",
    meaning="time of nine tenths of consolidation",
)
T50 = Result(
    "t50_{k}",
    "t50 {k}",
    "time of half of consolidation, specimen {k}",
    "min",
    TENTH,
    basis="log time, Casagrande",
    meaning="time of half of consolidation",
)
CV = Result(
    "cv_{k}",
    "cv {k}",
    "coefficient of consolidation, specimen {k}",
    "m²/a",
    HUNDREDTH,
    meaning="coefficient of consolidation",
    impossible=(0.0001, 10000.0),
    unusual=(0.02, 300.0),
)

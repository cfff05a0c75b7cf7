"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH

DILATION = Result(
    "dilation",
    "ψ",
    "angle of dilation at the peak, mean",
    "°",
    TENTH,
    basis="rise over travel",
    impossible=(-30.0, 45.0),
    unusual=(-8.0, 22.0),
)
FRICTION_PEAK = Result(
    "friction_peak",
    "φ′",
    "angle of friction at the peak",
    "°",
    TENTH,
    basis="ISO 17892-10",
    quantity="friction",
    impossible=(0.0, 75.0),
    unusual=(10.0, 52.0),
    takes="dense angular gravel, or organic clay",
)
COHESION_PEAK = Result(
    "cohesion_peak",
    "c′",
    "cohesion at the peak",
    "kPa",
    TENTH,
    basis="ISO 17892-10",
    quantity="cohesion",
    impossible=(0.0, 1000.0),
    unusual=(None, 60.0),
    takes="cemented soil, or another lever than typed",
)
FRICTION_END = Result(
    "friction_end",
    "φ′ end",
    "angle of friction at the end of the test",
    "°",
    TENTH,
    basis="ISO 17892-10",
    impossible=(0.0, 65.0),
    unusual=(6.0, 42.0),
    takes="gravel, or a clay of high plasticity",
)
COHESION_END = Result(
    "cohesion_end",
    "c′ end",
    "cohesion at the end of the test",
    "kPa",
    TENTH,
    basis="ISO 17892-10",
    impossible=(0.0, 1000.0),
    unusual=(None, 30.0),
)
FRICTION_RESIDUAL = Result(
    "friction_residual",
    "φ′r",
    "residual angle of friction, after reversals",
    "°",
    TENTH,
    basis="BS 1377-7 clause 5",
    impossible=(0.0, 60.0),
    unusual=(4.0, 38.0),
    takes="gravel, or a clay of very high plasticity",
)
COHESION_RESIDUAL = Result(
    "cohesion_residual",
    "c′r",
    "residual cohesion, after reversals",
    "kPa",
    TENTH,
    basis="BS 1377-7 clause 5",
    impossible=(0.0, 1000.0),
    unusual=(None, 15.0),
    takes="passes too few for the residual state",
)
R_SQUARED = Result("r_squared", "r²", "correlation", "", THOUSANDTH, agreement=True)
TOGETHER = Result(
    "correlation", "r(c′, tan φ′)", "how cohesion and friction go together in the fit", "", HUNDREDTH, agreement=True
)

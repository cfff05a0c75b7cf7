"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

CBR_SOFTEST = Result(
    "cbr_softest",
    "CBR cone",
    "CBR of the softest layer, {top:.2f} to {bottom:.2f} m",
    "%",
    meaning="bearing ratio of the softest layer, by the cone",
    quantity="cbr_cone",
    impossible=(0.2, 400.0),
    unusual=(1.0, 200.0),
    takes="peat or rock, or centimetres typed for millimetres",
)
LAYERS = Result("layers", "layers", "layers told apart", "", WHOLE)
DEPTH_REACHED = Result("depth_reached", "depth", "depth reached below ground", "m", HUNDREDTH, impossible=(0.0, 25.0))
CBR_LAYER = Result(
    "cbr_{number}",
    "CBR {number}",
    "CBR by the cone, {top:.2f} to {bottom:.2f} m",
    "%",
    sign="CBR",
    meaning="bearing ratio of one layer, by the cone",
)
INDEX_LAYER = Result(
    "index_{number}",
    "d {number}",
    "penetration per blow, {top:.2f} to {bottom:.2f} m",
    "mm",
    TENTH,
    sign="d",
    meaning="penetration per blow of the 8 kg hammer",
    impossible=(0.1, 250.0),
    unusual=(0.8, 120.0),
)

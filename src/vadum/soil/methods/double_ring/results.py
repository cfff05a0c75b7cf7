"""What the test gives."""

from vadum.soil.bench.infiltrating import DESIGN_MM_H, JUDGED, RATE_20
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, significant

INFILTRATION = Result(
    "rate",
    "i",
    "steady infiltration of the inner ring, at the water's temperature",
    "mm/h",
    significant(3),
    basis="ASTM D3385",
    quantity="infiltration",
    impossible=(0.0, 50000.0),
    unusual=(0.1, 1500.0),
    takes="gravel or tight clay, or seconds typed for minutes",
)
ANNULAR = Result("annular", "i annular", "steady infiltration between the rings", "mm/h", significant(3))
RATIO = Result("rings_ratio", "inner/annular", "velocity of the inner ring over that between them", "", HUNDREDTH)
RATE_M_S = Result("rate_m_s", "i", "the same in SI", "m/s", significant(2))
__all__ = ["ANNULAR", "DESIGN_MM_H", "INFILTRATION", "JUDGED", "RATE_20", "RATE_M_S", "RATIO"]

"""What the test gives."""

from vadum.soil.bench.infiltrating import DESIGN_MM_H, JUDGED, RATE_20
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import significant

PERCOLATION = Result(
    "percolation",
    "percolation",
    "time for a fall of 10 mm",
    "min/cm",
    significant(3),
    basis="EPA 625/1-80-012",
    impossible=(0.0, None),
    unusual=(0.05, 150.0),
    takes="gravel or tight clay, or seconds typed for minutes",
)
FALL = Result(
    "fall_mm_h", "fall", "speed of the water's fall in the hole; no infiltration rate", "mm/h", significant(3)
)
INFILTRATION = Result(
    "rate",
    "i",
    "infiltration rate through wall and base, at the water's temperature",
    "mm/h",
    significant(3),
    basis="van Hoorn (1979)",
    quantity="infiltration",
    impossible=(0.0, 50000.0),
    unusual=(0.2, 1500.0),
    takes="gravel or tight clay, or seconds typed for minutes",
)
__all__ = ["DESIGN_MM_H", "FALL", "INFILTRATION", "JUDGED", "PERCOLATION", "RATE_20"]

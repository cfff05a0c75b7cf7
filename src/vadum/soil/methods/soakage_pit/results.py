"""What the test gives."""

from vadum.soil.bench.infiltrating import DESIGN_MM_H, JUDGED, RATE_20
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import significant

RATE = Result(
    "rate_m_s",
    "f",
    "soil infiltration rate, {over}",
    "m/s",
    significant(2),
    basis="BRE Digest 365 (2016)",
    meaning="soil infiltration rate of a pit, the least of its fills",
    impossible=(0.0, 0.1),
    unusual=(1e-7, 1e-3),
    takes="tight clay or open gravel, or another unit",
)
INFILTRATION = Result(
    "rate", "f", "the same in mm/h", "mm/h", significant(3), basis="BRE Digest 365 (2016)", quantity="infiltration"
)
OF_FILL = Result(
    "rate_{number}",
    "f {number}",
    "fill {number}: from three quarters to one quarter in {minutes:.3g} min",
    "m/s",
    significant(2),
    basis="BRE Digest 365 (2016)",
    meaning="soil infiltration rate by one fill",
)
NOT_EMPTY = Result("bound", "f", "bound: fill {number} has not fallen to a quarter", meaning="bound of the rate")
__all__ = ["DESIGN_MM_H", "INFILTRATION", "JUDGED", "NOT_EMPTY", "OF_FILL", "RATE", "RATE_20"]

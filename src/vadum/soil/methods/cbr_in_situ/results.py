"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

SPREAD_PERCENT = Result("spread_percent", "spread", "largest distance of a position from the mean", "%", WHOLE)
LARGEST_CBR = Result("largest_cbr", "measurable", "largest ratio the reaction can measure", "%", WHOLE)
WATER_CONTENT = Result("water_content", "w", "water content beside the test", "%", TENTH)

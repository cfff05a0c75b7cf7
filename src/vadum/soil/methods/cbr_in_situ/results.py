"""What the test gives."""

from dataclasses import replace

from vadum.soil.bench.plunger import report
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE

SPREAD_PERCENT = Result(
    "spread_percent", "spread", "largest distance of a position from the mean", "%", WHOLE, agreement=True
)
LARGEST_CBR = Result(
    "largest_cbr",
    "measurable",
    "largest ratio the reaction can measure",
    "%",
    WHOLE,
    agreement=True,
    impossible=(0.0, 2000.0),
)
WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content beside the test",
    "%",
    TENTH,
    impossible=(0.0, 300.0),
    unusual=(3.0, 70.0),
    takes="peat, very soft clay or dry sand",
)
CBR = replace(report.CBR, quantity="cbr_in_place")

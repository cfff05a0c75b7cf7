"""What the test gives."""

from vadum.soil.contract.result import Result

WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content",
    "%",
    quantity="water_content",
    card=1,
    impossible=(0.0, 2000.0),
    unusual=(2.0, 150.0),
    takes="peat, very soft clay or dry sand",
)

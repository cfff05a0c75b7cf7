"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH

WASH_LOSS_PERCENT = Result(
    "wash_loss_percent", "wash loss", "lost in washing", "%", TENTH, basis="ASTM D1140", impossible=(0.0, 100.0)
)

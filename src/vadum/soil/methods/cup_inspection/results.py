"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH

VERDICT = Result("verdict", "cup", "state of the cup", basis="ASTM D4318 clauses 6 and 11")
DROP_HEIGHT = Result(
    "drop_height", "h", "drop height", "mm", TENTH, basis="ASTM D4318 clauses 6 and 11", impossible=(0.0, 100.0)
)

"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, WHOLE

LIME_PERCENT = Result(
    "lime_percent",
    "lime",
    "{kind} by dry mass of soil, by pH, {branch}; an indication for a mix design",
    "%",
    WHOLE,
    basis="ASTM D6276",
    quantity="lime_percent",
    meaning="lime demand by pH, by dry mass of soil",
    impossible=(0.5, 20.0),
    unusual=(1.0, 10.0),
    takes="organic soil or spent lime",
)
HIGHEST_PH = Result(
    "highest_ph", "pH max", "highest pH of a soil bottle at 25 °C", "", HUNDREDTH, impossible=(6.0, 13.2)
)
LIME_ONLY_PH = Result("lime_only_ph", "pH lime", "lime only at 25 °C", "", HUNDREDTH, impossible=(11.0, 13.2))
BRANCH = Result("branch", "decision", "{decided}", basis="ASTM D6276", meaning="decision on the lime demand")

"""What a method makes of readings: everything that is known from them so far."""

from pydantic import BaseModel, Field

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Drawing, Point
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.result import Parameter

DONE = "Done. Let a second person check the sheet."
NOT_FINISHED = "There is no result yet: look for rows that are blank or left out."


class Reduction(BaseModel):
    """All that is known from the readings so far.

    ``computed`` are worked-out cells by path (``trials.0.water_content_percent``), ``expected`` the range the next
    reading should fall in by path, ``school`` names the choices a sheet must print. ``curve`` is what other tests of
    the sample lean on beyond parameters, such as percent finer by diameter in mm.
    """

    parameters: list[Parameter] = []
    findings: list[Finding] = []
    derivation: list[Step] = []
    figures: list[Drawing] = []
    computed: dict[str, float | str] = {}
    expected: dict[str, tuple[float, float]] = {}
    next_action: str = ""
    curve: list[Point] = []
    school: str = ""
    leads: str = ""
    """The result that is shown large, where a setting chooses it; else the first of the method's headline."""
    follows: list[str] = []
    """The standards whose way was gone, by school and instrument; all of the method's where there is only one way."""
    next_step: str = Field(default="", exclude=True)
    """What to measure next when nothing is wrong; "" when nothing is left to measure. The pipeline decides."""
    later: str = Field(default="", exclude=True)
    """What is left to do and can wait until doubts are settled: drying, weighing dry."""
    afterwards: str = Field(default=DONE, exclude=True)
    """What to do when all is measured and nothing is doubted."""
    in_hand: str = Field(default="", exclude=True)
    """Beginning of the paths of the row that is being measured: doubts about it come before the next step."""
    complete: bool = False
    reportable: bool = False

    def parameter(self, key: str) -> Parameter | None:
        return next((p for p in self.parameters if p.key == key), None)

    def headline(self, keys: tuple[str, ...]) -> tuple[str, ...]:
        """Return a method's headline with what leads in front."""
        return (self.leads, *(key for key in keys if key != self.leads)) if self.leads else keys

    def codes(self) -> list[str]:
        return [finding.code for finding in self.findings]

    def concerns_row_in_hand(self, finding: Finding) -> bool:
        return bool(self.in_hand) and any(cell.startswith(self.in_hand) for cell in finding.cells)

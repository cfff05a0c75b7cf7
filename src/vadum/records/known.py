"""How well the results of a test on record are known: the core's uncertainty with the steps of the balance in use."""

from dataclasses import dataclass
from math import floor, log10
from typing import Any

from sqlmodel import Session

from vadum.records.context import gather
from vadum.records.tables import Test
from vadum.soil.field import instrument_of
from vadum.soil.parameter import Parameter
from vadum.soil.registry import method as method_of
from vadum.soil.uncertainty import Lead, cells_of, uncertainties


@dataclass(frozen=True)
class Known:
    """A result with its standard uncertainty, in its unit, and the readings that matter most."""

    parameter: Parameter
    standard: float
    leading: tuple[Lead, ...]

    @property
    def text(self) -> str:
        """The standard uncertainty with two figures."""
        return f"{self.standard:.{max(0, 1 - floor(log10(self.standard)))}f}"


def known_of(session: Session, test: Test) -> list[Known]:
    """Return every numeric result of a test that readings with a resolution leave in doubt."""
    method = method_of(test.method)
    readings = method.Readings.model_validate(test.readings)
    settings = method.Settings.model_validate(test.settings)
    context = method.Context.model_validate(gather(session, test, method))
    shown = {p.key: p for p in method.reduced(readings, settings, context).parameters}
    found = uncertainties(method, readings, settings, context, _resolutions(test, readings))
    return [Known(shown[one.key], one.standard, one.leading) for one in found if one.standard > 0]


def _resolutions(test: Test, readings: Any) -> dict[str, float]:
    """Return the resolution of the balance in use for every mass, where it is the only one."""
    steps = [piece.resolution for piece in test.uses if piece.kind == "balance" and piece.resolution]
    if len(steps) != 1:
        return {}
    weighed = (cell for cell in cells_of(readings) if instrument_of(type(cell.holder), cell.name) == "balance")
    return {cell.path: steps[0] for cell in weighed}

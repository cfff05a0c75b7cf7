"""How well the results of a test are known."""

from math import floor, log10
from typing import Any

from fastapi import APIRouter

from vadum.records.context import gather
from vadum.records.tables import Test
from vadum.soil.field import instrument_of
from vadum.soil.registry import method as method_of
from vadum.soil.uncertainty import cells_of, uncertainties
from vadum.web.pages import Db, get

router = APIRouter(prefix="/api/tests/{test_id}")


@router.get("/uncertainty")
def uncertainty(session: Db, test_id: int) -> list[dict[str, Any]]:
    """Return the standard uncertainty of every numeric result, with the three readings that matter most."""
    test = get(session, Test, test_id, "test")
    method = method_of(test.method)
    readings = method.Readings.model_validate(test.readings)
    settings = method.Settings.model_validate(test.settings)
    context = method.Context.model_validate(gather(session, test, method))
    shown = {p.key: p for p in method.reduced(readings, settings, context).parameters}
    found = uncertainties(method, readings, settings, context, _resolutions(test, readings))
    return [
        {
            "key": one.key,
            "symbol": shown[one.key].symbol,
            "text": shown[one.key].text,
            "unit": shown[one.key].unit,
            "standard": one.standard,
            "standardText": _two_figures(one.standard),
            "leading": [{"path": lead.path, "label": lead.label, "share": lead.share} for lead in one.leading],
        }
        for one in found
        if one.standard > 0
    ]


def _resolutions(test: Test, readings: Any) -> dict[str, float]:
    """Return the resolution of the balance in use for every mass, where it is the only one."""
    steps = [piece.resolution for piece in test.uses if piece.kind == "balance" and piece.resolution]
    if len(steps) != 1:
        return {}
    weighed = (cell for cell in cells_of(readings) if instrument_of(type(cell.holder), cell.name) == "balance")
    return {cell.path: steps[0] for cell in weighed}


def _two_figures(value: float) -> str:
    return f"{value:.{max(0, 1 - floor(log10(value)))}f}"

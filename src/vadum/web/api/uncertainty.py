"""How well the results of a test are known."""

from typing import Any

from fastapi import APIRouter

from vadum.records.known import known_of
from vadum.records.tables import Test
from vadum.records.units import units_of_test
from vadum.soil.uncertainty.words import marked, notes
from vadum.web.rendering import Db, get

router = APIRouter(prefix="/api/tests/{test_id}")


@router.get("/uncertainty")
def uncertainty(session: Db, test_id: int) -> dict[str, Any]:
    """Return the uncertainty of every numeric result, what matters most in each, and what belongs below them."""
    test = get(session, Test, test_id, "test")
    found, units = known_of(session, test), units_of_test(test)
    return {
        "results": [
            {
                "key": one.parameter.key,
                "symbol": one.parameter.symbol,
                "text": one.parameter.text,
                "unit": one.parameter.unit,
                "standard": one.standard,
                "instruments": one.instruments,
                "hand": {"standard": one.hand.standard, "source": one.hand.source} if one.hand else None,
                "k": one.k,
                "expanded": None if one.as_factor else one.expanded,
                "factor": one.factor if one.as_factor else None,
                "expandedText": units.marked(marked(one)),
                "leading": [
                    {"path": lead.path, "label": units.words(lead.label), "share": lead.share} for lead in one.leads
                ],
            }
            for one in found
        ],
        "notes": [units.words(note) for note in notes(found)],
    }

"""How well the results of a test are known."""

from typing import Any

from fastapi import APIRouter

from vadum.records.known import known_of
from vadum.records.tables import Test
from vadum.web.rendering import Db, get

router = APIRouter(prefix="/api/tests/{test_id}")


@router.get("/uncertainty")
def uncertainty(session: Db, test_id: int) -> list[dict[str, Any]]:
    """Return the standard uncertainty of every numeric result, with the three readings that matter most."""
    return [
        {
            "key": one.parameter.key,
            "symbol": one.parameter.symbol,
            "text": one.parameter.text,
            "unit": one.parameter.unit,
            "standard": one.standard,
            "standardText": one.text,
            "leading": [{"path": lead.path, "label": lead.label, "share": lead.share} for lead in one.leading],
        }
        for one in known_of(session, get(session, Test, test_id, "test"))
    ]

"""The history of a test: who changed what and when, what an earlier state was, and back to it."""

from dataclasses import asdict
from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field
from sqlmodel import col, select

from vadum.present import reduction_in
from vadum.records.history import begun_since, differences, reduced_then, restore, state_at
from vadum.records.logs import with_logs
from vadum.records.review import review
from vadum.records.saving import StaleSave, entered, revisions_after
from vadum.records.tables import Revision, Test
from vadum.records.units import units_of_test
from vadum.soil.registry import method as method_of
from vadum.web.errors import conflict
from vadum.web.rendering import Db, Who, get

router = APIRouter(prefix="/api/tests/{test_id}")
_MOST = 200
_MOST_CELLS = 4000


@router.get("/review")
def what_to_check(session: Db, test_id: int) -> dict[str, Any]:
    """Return what a checker weighs: changes, points left out, choices by hand, findings, a second computation."""
    found = review(session, get(session, Test, test_id, "test"))
    return asdict(found) | {
        "findings": [f.model_dump(include={"severity", "message", "action"}) for f in found.findings]
    }


class Restoring(BaseModel):
    """Back to an earlier state, on top of the revision the person was looking at."""

    base_revision: int
    save_key: str = Field(min_length=8, max_length=64)
    reason: str = Field(min_length=2, max_length=400)


@router.get("/history")
def history(session: Db, test_id: int) -> list[dict[str, Any]]:
    """Return the revisions of a test, newest first."""
    get(session, Test, test_id, "test")
    revisions = session.exec(
        select(Revision).where(Revision.test_id == test_id).order_by(col(Revision.number).desc()).limit(_MOST)
    ).all()
    return [_told(r) for r in revisions]


def _told(r: Revision) -> dict[str, Any]:
    typed = r.typed_at.isoformat() if r.typed_at else ""
    return {
        "number": r.number,
        "at": r.at.isoformat(),
        "typedAt": typed,
        "who": r.who,
        "what": r.what,
        "reason": r.reason,
        "state": r.state,
    }


@router.get("/history/{number}")
def earlier_state(session: Db, test_id: int, number: int) -> dict[str, Any]:
    """Return an earlier state: its readings, what they come to, and the cells in which it differs from now."""
    test = get(session, Test, test_id, "test")
    then = state_at(session, test, number)
    reduction, readings = reduced_then(session, test, then), with_logs(session, then.readings)
    shown = reduction_in(reduction, units_of_test(test), method_of(test.method))
    return {
        "number": number,
        "readings": readings,
        "settings": then.settings,
        "parameters": [{"symbol": p.symbol, "text": p.text, "unit": p.unit} for p in shown.parameters[:6]],
        "differences": [
            {"path": path, "then": before, "now": after}
            for path, before, after in differences(
                method_of(test.method).Readings, (readings, then.unread), (test.readings, test.unread)
            )
        ],
    }


class Typed(BaseModel):
    """Cells typed on one revision."""

    base_revision: int = Field(ge=0)
    cells: dict[str, str] = Field(default_factory=dict, max_length=_MOST_CELLS)


class Waiting(BaseModel):
    """What waits in a browser, in the order of the hand; the revision it was typed on has been overtaken."""

    changes: list[Typed] = Field(max_length=_MOST_CELLS)


@router.post("/against")
def against(session: Db, test_id: int, waiting: Waiting) -> dict[str, Any]:
    """Return all that waits beside what is on record, and where rows were begun there since each revision that
    something was typed on."""
    test = get(session, Test, test_id, "test")
    cells = {path: text for one in waiting.changes for path, text in one.cells.items()}
    bases = {one.base_revision for one in waiting.changes}
    since = revisions_after(session, test, min(bases, default=test.revision))
    both = conflict(StaleSave(test, since, entered(test, cells)))
    begun = begun_since(session, test, bases)
    return both | {"begun": {base: {t: {"then": n, "now": m} for t, (n, m) in begun[base].items()} for base in bases}}


@router.post("/history/{number}/restore")
def go_back(session: Db, who: Who, test_id: int, number: int, sent: Restoring) -> dict[str, Any]:
    """Make an earlier state the newest; the answer names the new revision."""
    test = get(session, Test, test_id, "test")
    restore(
        session, test, number, base_revision=sent.base_revision, who=who, reason=sent.reason, save_key=sent.save_key
    )
    return {"revision": test.revision}

"""Practice: any method on the virtual bench, and what was true afterwards."""

import secrets

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlmodel import col, select

from vadum.bench.recorded import clock_of
from vadum.instruments.port import InstrumentTrouble
from vadum.records import practice
from vadum.records.standing import result_of
from vadum.records.tables import Test, of_record
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.web.nothere import NotHere
from vadum.web.pages.instruments.routes import Instruments
from vadum.web.rendering import Db, get, page
from vadum.web.taking import usual_bindings

router = APIRouter(prefix="/practice")
SPEEDS = (1, 10, 60, 600)
_SHOWN = 30


@router.get("", response_class=HTMLResponse)
def practice_page(request: Request, session: Db) -> HTMLResponse:
    query = select(Test).where(~of_record()).order_by(col(Test.id).desc()).limit(_SHOWN)
    offered = [m for m in METHODS.values() if m.mistakes]
    return page(request, "practice/practice.html", tests=session.exec(query).all(), offered=offered, speeds=SPEEDS)


@router.post("", response_class=RedirectResponse)
def begin(
    session: Db,
    bench: Instruments,
    method: str = Form(),
    speed: float = Form(60, ge=1, le=600),
    mistakes: int = Form(0, ge=0, le=3),
) -> RedirectResponse:
    """Begin a test of a hidden soil, its columns bound to the instruments on the bench."""
    test = practice.begin(method_of(method), secrets.randbelow(2**31), speed, mistakes)
    try:
        test.bindings = usual_bindings(method_of(method), bench.identities())
    except InstrumentTrouble:
        test.bindings = {}  # the virtual bench shows its values by itself
    session.add(test)
    session.commit()
    return RedirectResponse(f"/tests/{test.id}/run?one=1", 303)


@router.get("/{test_id}", response_class=HTMLResponse)
def compare(request: Request, session: Db, test_id: int) -> HTMLResponse:
    """Show the truth, the reduced values, what was caught and what was missed."""
    test = get(session, Test, test_id, "practice test")
    if not test.practice:
        raise NotHere("practice test")
    dues = clock_of(session, test)
    missed = [due.operation.what for due in dues if due.standing == "missed" and due.operation.after]
    found = practice.compare(test, result_of(session, test), missed)
    return page(request, "practice/compare.html", test=test, method=method_of(test.method), found=found)

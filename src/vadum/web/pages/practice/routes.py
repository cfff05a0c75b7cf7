"""Practice: any method on the virtual bench, and what was true afterwards."""

import secrets
from typing import Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy import String, cast
from sqlmodel import Session, col, select

from vadum.bench.recorded import clock_of
from vadum.instruments.port import InstrumentTrouble
from vadum.records import practice
from vadum.records.competence import practised
from vadum.records.conditions import of_practice
from vadum.records.standing import result_of
from vadum.records.tables import Test
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.web.nothere import NotHere
from vadum.web.pages.instruments.routes import Instruments
from vadum.web.rendering import Db, Who, get, page, to
from vadum.web.taking import usual_bindings

router = APIRouter(prefix="/practice")
SPEEDS = (1, 10, 60, 600)
_SHOWN = 30
_SOILS = 3


@router.get("", response_class=HTMLResponse)
def practice_page(request: Request, session: Db, who: Who, method: str = "") -> HTMLResponse:
    """Show what can be practised, with ``method`` chosen, and how often who asks has practised each method."""
    query = select(Test).where(of_practice()).order_by(col(Test.id).desc()).limit(_SHOWN)
    offered = [m for m in METHODS.values() if m.mistakes]
    return page(
        request,
        "practice/practice.html",
        tests=session.exec(query).all(),
        offered=offered,
        speeds=SPEEDS,
        chosen=method,
        practised=practised(session, who),
    )


@router.post("", response_class=RedirectResponse)
def begin(
    session: Db,
    bench: Instruments,
    method: str = Form(),
    speed: float = Form(60, ge=1, le=600),
    mistakes: int = Form(0, ge=0, le=3),
    level: Literal["guided", "blind", "series"] = Form("blind"),
) -> RedirectResponse:
    """Begin a test of a hidden soil, its columns bound to the instruments on the bench: guided by the procedure, blind,
    or the first of a series of soils."""
    chosen = method_of(method)
    try:
        identities = bench.identities()
    except InstrumentTrouble:
        identities = []  # the virtual bench shows its values by itself
    guided, series = level == "guided", secrets.token_hex(8) if level == "series" else ""
    tests = []
    for _ in range(_SOILS if series else 1):
        planted, seed = 0 if guided else mistakes, secrets.randbelow(2**31)
        test = practice.begin(chosen, seed, min(speed, chosen.followed_at), planted, guided=guided, series=series)
        test.bindings = usual_bindings(chosen, identities, practice.hidden(test, planted=True))
        tests.append(test)
    session.add_all(tests)
    session.commit()
    return RedirectResponse(f"/tests/{min(test.id or 0 for test in tests)}/run?one=1", 303)


@router.get("/{test_id}", response_class=HTMLResponse)
def compare(request: Request, session: Db, test_id: int) -> HTMLResponse:
    """Show what came of a practice test; while it is under way, only how to hand it in."""
    test = _practice(session, test_id)
    verdict = result_of(session, test)
    return page(
        request,
        "practice/compare.html",
        test=test,
        method=method_of(test.method),
        found=practice.handed_in(test),
        next_soil=_next_of_series(session, test),
        complete=verdict.complete,
        next_action=verdict.next_action,
    )


@router.post("/{test_id}/hand-in")
def hand_in(request: Request, session: Db, who: Who, test_id: int) -> RedirectResponse:
    """End a practice test: its readings stay, its truth is shown."""
    test = _practice(session, test_id)
    if not practice.handed_in(test):
        dues = clock_of(session, test)
        missed = [due.operation.what for due in dues if due.standing == "missed" and due.operation.after]
        practice.hand_in(test, result_of(session, test), missed, who)
        session.add(test)
        session.commit()
    return to(request, "compare", test_id=test_id)


def _next_of_series(session: Session, test: Test) -> Test | None:
    """Return the next soil of a test's series that was not handed in."""
    series = test.practice.get("series")
    if not series:
        return None
    query = select(Test).where(of_practice(), cast(col(Test.practice), String).contains(series)).order_by(col(Test.id))
    return next((one for one in session.exec(query) if not practice.handed_in(one)), None)


def _practice(session: Session, test_id: int) -> Test:
    test = get(session, Test, test_id, "practice test")
    if not test.practice:
        raise NotHere("practice test")
    return test

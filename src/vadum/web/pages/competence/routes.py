"""The competence of a person: a line for each method, and a signature with its day."""

from datetime import date, timedelta

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlmodel import Session, col, select

from vadum.records.competence import standings
from vadum.records.signatures import CompetenceError, sign, withdraw
from vadum.records.tables import Competence, Person
from vadum.records.zone import today
from vadum.web.access import require
from vadum.web.rendering import Db, Posted, Who, get, page, to

router = APIRouter()
_USUAL = timedelta(days=365)


@router.get("/competence", response_class=HTMLResponse)
def own_competence(request: Request, session: Db) -> Response:
    """Show the competence of whoever looks; before anybody has a name here, where people are added."""
    signed_in = getattr(request.state, "person", None)
    if signed_in is None:
        return to(request, "people_page")
    return to(request, "competence_page", person_id=signed_in.id)


@router.get("/people/{person_id}/competence", response_class=HTMLResponse)
def competence_page(request: Request, session: Db, person_id: int) -> HTMLResponse:
    """Show how somebody stands: to themselves, and to those who check."""
    return _page(request, session, get(session, Person, person_id, "person"))


def _page(request: Request, session: Session, whose: Person, **more: object) -> HTMLResponse:
    signed_in = getattr(request.state, "person", None)
    if signed_in is not None and signed_in.id != whose.id:
        require(request, "check")
    day = today(session)
    return page(
        request,
        "competence/competence.html",
        status_code=422 if more.get("problem") else 200,
        whose=whose,
        lines=standings(session, whose, day),
        usual=(day + _USUAL).isoformat(),
        others=session.exec(select(Person).where(col(Person.active)).order_by(Person.name)).all(),
        **more,
    )


@router.post("/people/{person_id}/competence", response_class=HTMLResponse)
def sign_off(request: Request, session: Db, who: Who, form: Posted, person_id: int) -> Response:
    """Sign that somebody may measure by a method alone."""
    whose = get(session, Person, person_id, "person")
    try:
        until = date.fromisoformat(str(form.get("until", "")))
        sign(session, whose, str(form.get("method", "")), until, who, str(form.get("grounds", "")))
    except CompetenceError as error:
        return _page(request, session, whose, problem=str(error), typed=dict(form))
    except ValueError:
        return _page(request, session, whose, problem="Give the day until which it holds.", typed=dict(form))
    return to(request, "competence_page", person_id=person_id)


@router.post("/competence/{competence_id}/withdraw")
def withdraw_signature(request: Request, session: Db, who: Who, competence_id: int) -> RedirectResponse:
    """End a signature; what was measured under it stays."""
    one = get(session, Competence, competence_id, "signature")
    withdraw(session, one, who)
    return to(request, "competence_page", person_id=one.person_id)

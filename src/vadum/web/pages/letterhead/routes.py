"""The laboratory's letterhead: what stands at the head of everything printed."""

from typing import Annotated, Any
from zoneinfo import available_timezones

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import ValidationError
from sqlmodel import Session
from starlette.datastructures import UploadFile

from vadum.records.hours import DAYS, WorkingHours, hours_of, keep_hours
from vadum.records.letterhead import Letterhead, LogoError, keep_letterhead, letterhead_of, with_logo
from vadum.records.rules import Rules, keep_rules, rules_of
from vadum.records.units import first_units, keep_first_units
from vadum.records.zone import ZoneError, keep_zone
from vadum.report.letterhead_trial import set_once
from vadum.soil.contract.complaint import complaints
from vadum.soil.numbers.unit_sets import MARKS, SETS
from vadum.web.guard import SANDBOXED
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, page, to

router = APIRouter()
_MEDIA = {"png": "image/png", "jpg": "image/jpeg", "svg": "image/svg+xml"}


@router.get("/letterhead", response_class=HTMLResponse)
def letterhead_page(request: Request, session: Db) -> HTMLResponse:
    return _page(request, session, letterhead_of(session))


def _page(request: Request, session: Session, head: Letterhead, **more: Any) -> HTMLResponse:
    hours = hours_of(session)
    return page(
        request,
        "letterhead/letterhead.html",
        status_code=422 if more else 200,
        head=head,
        rules=rules_of(session),
        zones=sorted(available_timezones()),
        week=list(zip(DAYS, more.pop("typed_week", hours.words), strict=True)),
        closed=more.pop("typed_closed", " ".join(day.isoformat() for day in hours.closed)),
        out=more.pop("typed_out", "; ".join(map(str, hours.out))),
        first=first_units(session),
        sets=list(SETS),
        marks=MARKS,
        **more,
    )


@router.post("/letterhead", response_class=HTMLResponse)
def change_letterhead(request: Request, session: Db, form: Posted) -> Response:
    """Keep name, address and logo; a logo that cannot be printed is refused and nothing is changed."""
    kept = letterhead_of(session)
    typed = {name: str(form.get(name, "")).strip() for name in ("name", "address")}
    logo = form.get("logo")
    try:
        head = Letterhead.model_validate(kept.model_dump() | typed)
        if form.get("without_logo"):
            head = head.model_copy(update={"logo": "", "logo_kind": ""})
        if isinstance(logo, UploadFile) and logo.filename:
            head = with_logo(head, logo.file.read())
            set_once(head)
    except ValidationError as error:
        problem = "; ".join(f"{fault.place}: {fault.message}" for fault in complaints(error))
        return _page(request, session, kept.model_copy(update=typed), problem=problem)
    except LogoError as error:
        return _page(request, session, kept.model_copy(update=typed), problem=str(error))
    keep_letterhead(session, head)
    return to(request, "letterhead_page")


@router.post("/zone", response_class=HTMLResponse)
def change_zone(request: Request, session: Db, zone: Annotated[str, Form(max_length=80)] = "") -> Response:
    """Read days and hours in a zone from now on."""
    try:
        keep_zone(session, zone.strip())
    except ZoneError as error:
        return _page(request, session, letterhead_of(session), zone_problem=str(error))
    request.app.state.zone = zone.strip()
    return to(request, "letterhead_page")


@router.post("/hours", response_class=HTMLResponse)
def change_hours(request: Request, session: Db, form: Posted) -> Response:
    """Plan within these hours from now on."""
    week, closed, out = [str(day) for day in form.getlist("day")], str(form.get("closed", "")), str(form.get("out", ""))
    try:
        hours = WorkingHours.model_validate({"week": week, "closed": closed, "out": out})
    except ValidationError as error:
        problem = "; ".join(fault.message for fault in complaints(error))
        typed = {"typed_week": (week + [""] * len(DAYS))[: len(DAYS)], "typed_closed": closed, "typed_out": out}
        return _page(request, session, letterhead_of(session), hours_problem=problem, **typed)
    keep_hours(session, hours)
    return to(request, "letterhead_page")


@router.post("/units")
def change_first_units(
    request: Request,
    session: Db,
    units: Annotated[str, Form(max_length=40)] = "",
    decimal_mark: Annotated[str, Form(max_length=2)] = "",
) -> RedirectResponse:
    """Show projects that are begun from now on in these units."""
    keep_first_units(session, units, decimal_mark)
    return to(request, "letterhead_page")


@router.post("/rules")
def change_rules(
    request: Request,
    session: Db,
    one_checks_and_issues: Annotated[bool, Form()] = False,
    technicians_add: Annotated[bool, Form()] = False,
    competence_needed: Annotated[bool, Form()] = False,
) -> RedirectResponse:
    """Keep the rules the laboratory sets for itself."""
    rules = Rules(
        one_checks_and_issues=one_checks_and_issues,
        technicians_add=technicians_add,
        competence_needed=competence_needed,
    )
    keep_rules(session, rules)
    request.app.state.technicians_add = technicians_add
    return to(request, "letterhead_page")


@router.get("/letterhead/logo", response_class=Response)
def logo(session: Db) -> Response:
    """Return the logo as it was given."""
    head = letterhead_of(session)
    if not head.logo:
        raise NotHere("logo")
    # A drawing may carry a script; in this sandbox none runs.
    return Response(head.logo_bytes, media_type=_MEDIA[head.logo_kind], headers=SANDBOXED)

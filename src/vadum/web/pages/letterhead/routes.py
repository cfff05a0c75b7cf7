"""The laboratory's letterhead: what stands at the head of everything printed."""

from operator import attrgetter
from typing import Any
from zoneinfo import available_timezones

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, Field, ValidationError
from sqlmodel import Session
from starlette.datastructures import FormData, UploadFile

from vadum.records.chosen import beside, changes_of, choose
from vadum.records.corrections import CorrectionError
from vadum.records.hours import DAYS, WorkingHours, hours_of, keep_hours
from vadum.records.letterhead import Letterhead, LogoError, keep_letterhead, letterhead_of, with_logo
from vadum.records.rules import Rules, keep_rules, rules_of
from vadum.records.units import first_units, keep_first_units, shown_in
from vadum.records.zone import ZoneError, keep_zone, zone_name
from vadum.report.letterhead_trial import set_once
from vadum.soil.contract.complaint import complaints
from vadum.soil.numbers.unit_sets import MARKS, SETS
from vadum.web.correcting import seen_by, typed_in
from vadum.web.guard import SANDBOXED
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, Who, page, to

router = APIRouter()
_MEDIA = {"png": "image/png", "jpg": "image/jpeg", "svg": "image/svg+xml"}


# What each form of the page is about, as a list of changes says it.
LETTERHEAD, ZONE, HOURS, NEW_PROJECTS, RULES = PARTS = ("letterhead", "time", "hours", "new projects", "rules")


class Zone(BaseModel):
    """The zone in which days and hours are read; blank for the server's."""

    zone: str = Field(default="", title="zone")


@router.get("/letterhead", response_class=HTMLResponse)
def letterhead_page(request: Request, session: Db) -> HTMLResponse:
    return _page(request, session)


def _page(
    request: Request, session: Session, part: str = "", problem: str = "", form: FormData | None = None, **typed: Any
) -> HTMLResponse:
    """Return the page; where something was refused, with what was typed in its part and why.

    A form that was not overtaken says again what its hand saw.
    """
    kept = {
        "head": letterhead_of(session),
        "rules": rules_of(session),
        "zone_typed": zone_name(session),
        "first": first_units(session),
        **_as_typed(hours_of(session)),
    }
    return page(
        request,
        "letterhead/letterhead.html",
        status_code=422 if part else 200,
        days=DAYS,
        zones=sorted(available_timezones()),
        sets=list(SETS),
        marks=MARKS,
        changes=changes_of(session, None, *PARTS),
        problems={part: problem},
        drawn={part: typed_in(form or FormData())},
        **(kept | typed),
    )


def _as_typed(hours: WorkingHours) -> dict[str, Any]:
    return hours.told | {"week": hours.words}


@router.post("/letterhead", response_class=HTMLResponse)
def change_letterhead(request: Request, session: Db, form: Posted, who: Who) -> Response:
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
        head = choose(session, None, LETTERHEAD, kept, head, who, seen_by(form))
    except ValidationError as error:
        problem = "; ".join(f"{fault.place}: {fault.message}" for fault in complaints(error))
        return _page(request, session, LETTERHEAD, problem, form, head=kept.model_copy(update=typed))
    except LogoError as error:
        return _page(request, session, LETTERHEAD, str(error), form, head=kept.model_copy(update=typed))
    except CorrectionError as error:
        return _page(request, session, LETTERHEAD, str(error), head=beside(kept, head, error.others))
    keep_letterhead(session, head)
    return to(request, "letterhead_page")


@router.post("/zone", response_class=HTMLResponse)
def change_zone(request: Request, session: Db, form: Posted, who: Who) -> Response:
    """Read days and hours in a zone from now on."""
    typed = str(form.get("zone", "")).strip()[:80]
    try:
        zone = choose(session, None, ZONE, Zone(zone=zone_name(session)), Zone(zone=typed), who, seen_by(form)).zone
        keep_zone(session, zone)
    except CorrectionError as error:
        return _page(request, session, ZONE, str(error), zone_typed=typed)
    except ZoneError as error:
        session.rollback()
        return _page(request, session, ZONE, str(error), form, zone_typed=typed)
    request.app.state.zone = zone
    return to(request, "letterhead_page")


@router.post("/hours", response_class=HTMLResponse)
def change_hours(request: Request, session: Db, form: Posted, who: Who) -> Response:
    """Plan within these hours from now on."""
    week, closed, out = [str(day) for day in form.getlist("day")], str(form.get("closed", "")), str(form.get("out", ""))
    try:
        wanted = WorkingHours.model_validate({"week": week, "closed": closed, "out": out})
        told = attrgetter("told")
        hours = choose(session, None, HOURS, hours_of(session), wanted, who, seen_by(form), told)
    except ValidationError as error:
        problem = "; ".join(fault.message for fault in complaints(error))
        typed = {"week": (week + [""] * len(DAYS))[: len(DAYS)], "closed": closed, "out": out}
        return _page(request, session, HOURS, problem, form, **typed)
    except CorrectionError as error:
        shown = beside(hours_of(session), wanted, error.others)
        return _page(request, session, HOURS, str(error), **_as_typed(shown))
    keep_hours(session, hours)
    return to(request, "letterhead_page")


@router.post("/units", response_class=HTMLResponse)
def change_first_units(request: Request, session: Db, form: Posted, who: Who) -> Response:
    """Show projects that are begun from now on in these units."""
    wanted = shown_in(str(form.get("units", "")), str(form.get("decimal_mark", "")))
    try:
        first = choose(session, None, NEW_PROJECTS, first_units(session), wanted, who, seen_by(form))
    except CorrectionError as error:
        first = beside(first_units(session), wanted, error.others)
        return _page(request, session, NEW_PROJECTS, str(error), first=first)
    keep_first_units(session, first)
    return to(request, "letterhead_page")


@router.post("/rules", response_class=HTMLResponse)
def change_rules(request: Request, session: Db, form: Posted, who: Who) -> Response:
    """Keep the rules the laboratory sets for itself: a rule that is not sent is off."""
    try:
        wanted = Rules.model_validate({name: str(form[name]) for name in Rules.model_fields if name in form})
    except ValidationError as error:
        return _page(request, session, RULES, complaints(error)[0].message, form)
    try:
        rules = choose(session, None, RULES, rules_of(session), wanted, who, seen_by(form))
    except CorrectionError as error:
        rules = beside(rules_of(session), wanted, error.others)
        return _page(request, session, RULES, str(error), rules=rules)
    keep_rules(session, rules)
    request.app.state.technicians_add = rules.technicians_add
    return to(request, "letterhead_page")


@router.get("/letterhead/logo", response_class=Response)
def logo(session: Db) -> Response:
    """Return the logo as it was given."""
    head = letterhead_of(session)
    if not head.logo:
        raise NotHere("logo")
    # A drawing may carry a script; in this sandbox none runs.
    return Response(head.logo_bytes, media_type=_MEDIA[head.logo_kind], headers=SANDBOXED)

"""A day's field densities with their verdicts, table and plan; what the project asks is typed here."""

from datetime import date
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlmodel import Session

from vadum.drawing import render
from vadum.present import drawing_in
from vadum.records.chosen import changes_of
from vadum.records.corrections import CorrectionError
from vadum.records.lift import (
    NATURAL,
    REQUIRED,
    FieldDensity,
    HeldAgainst,
    LiftRule,
    against_part,
    compactions,
    field_densities,
    keep_against,
    keep_rule,
    requirement_of,
    rule_of,
)
from vadum.records.positions import tests_in
from vadum.records.tables import Project, Test
from vadum.records.units import units_of_project
from vadum.soil.bench.position import Position
from vadum.soil.site.figures import place_figure
from vadum.soil.site.lift import lift_figure
from vadum.soil.site.map import Sited
from vadum.web.correcting import refused, seen_by
from vadum.web.forms import AgainstForm, LiftForm, filled
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, Who, address, get, page, to

router = APIRouter(prefix="/projects/{project_id}/densities")
_FIGURE = (560.0, 380.0)


@router.get("", response_class=HTMLResponse)
def densities(request: Request, session: Db, project_id: int, day: str = "") -> HTMLResponse:
    return _page(request, session, get(session, Project, project_id, "project"), day=day)


@router.post("", response_class=HTMLResponse)
def require(request: Request, session: Db, form: Posted, who: Who, project_id: int) -> Response:
    project = get(session, Project, project_id, "project")
    made, errors = filled(LiftForm, form)
    if made is not None and made.compaction not in {test.id for test in compactions(project)}:
        errors = {"compaction": "choose a compaction test of this project that is done"}
    if made is None or errors:
        return _page(request, session, project, errors=errors, typed=dict(form))
    try:
        keep_rule(session, project, LiftRule(**made.model_dump()), who, seen_by(form))
    except CorrectionError as error:
        errors, typed = refused(error, form)
        return _page(request, session, project, errors=errors, typed=typed)
    return to(request, "densities", project_id=project_id)


@router.post("/{test_id}", response_class=HTMLResponse)
def held_against(
    request: Request, session: Db, form: Posted, who: Who, project_id: int, test_id: int, day: str = ""
) -> Response:
    project = get(session, Project, project_id, "project")
    test = next((t for t in _tests(project, field_densities(session, project)) if t.id == test_id), None)
    if test is None:
        raise NotHere("density in this project")
    made, errors = filled(AgainstForm, form)
    if made is not None and made.compaction not in {NATURAL, *(one.id for one in compactions(project))}:
        errors = {"compaction": "choose natural ground, or a compaction test of this project that is done"}
    if made is None or errors:
        return _page(request, session, project, day, refused=(test_id, errors, dict(form)))
    try:
        keep_against(session, project, test, HeldAgainst(compaction=made.compaction), who, seen_by(form))
    except CorrectionError as error:
        return _page(request, session, project, day, refused=(test_id, *refused(error, form)))
    where = address(request, "densities", project_id=project_id)
    return RedirectResponse(f"{where}?{urlencode({'day': day})}" if day else where, 303)


def _page(request: Request, session: Session, project: Project, day: str = "", **more: Any) -> HTMLResponse:
    every, asked = field_densities(session, project), requirement_of(project)
    days = sorted({one.day for one in every}, reverse=True)
    chosen = next((one for one in days if one.isoformat() == day), None if day == "all" else next(iter(days), None))
    shown = [one for one in every if chosen is None or one.day == chosen]
    tests = _tests(project, shown)
    return page(
        request,
        "densities/densities.html",
        status_code=422 if more.get("errors") or more.get("refused") else 200,
        project=project,
        days=days,
        chosen=chosen,
        shown=shown,
        asked=asked,
        rule=rule_of(project),
        compactions=compactions(project),
        changes=changes_of(session, project, REQUIRED),
        natural=NATURAL,
        units=units_of_project(project),
        tests=tests,
        regrouped=changes_of(session, project, *map(against_part, tests)) if tests else [],
        figures=_figures(project, shown, chosen),
        **more,
    )


def _tests(project: Project, shown: list[FieldDensity]) -> list[Test]:
    """Return the tests that found these densities, each once."""
    found = {one.test for one in shown}
    return [test for _, test in tests_in(project) if test.id in found]


def _figures(project: Project, shown: list[FieldDensity], day: date | None) -> list[str]:
    """Draw the places of each soil in its accepted field, and where they lie."""
    drawn = []
    for compaction in dict.fromkeys(one.against for one in shown if one.judged is not None):
        asked, places = requirement_of(project, compaction), [one for one in shown if one.against == compaction]
        measured = [(p.name or p.location, p.water_percent, p.dry_g_cm3) for p in places if p.water_percent is not None]
        if asked is not None:
            drawn.append(lift_figure(measured, asked, key=f"lift-{compaction}"))
    title = f"Densities of {day.isoformat()}" if day else "Densities"
    plan, units = place_figure(_sited(shown), key="densities", title=title), units_of_project(project)
    return [render(drawing_in(figure, units), *_FIGURE) for figure in [*drawn, *([plan] if plan else [])]]


def _sited(shown: list[FieldDensity]) -> list[Sited]:
    """Return each position with its place, or with how many of its places pass."""
    at: dict[Position, list[FieldDensity]] = {}
    for one in shown:
        if one.position is not None:
            at.setdefault(one.position, []).append(one)
    return [Sited(position, _words(places)) for position, places in at.items()]


def _words(places: list[FieldDensity]) -> str:
    one, judged = places[0], [place.judged for place in places if place.judged is not None]
    if len(places) == 1:
        said = f"{judged[0].degree_percent:.1f} % {judged[0].verdict}" if judged else f"{one.dry_g_cm3:.2f} g/cm³"
        return f"{one.place}: {said}"
    passing = sum(each.passes for each in judged)
    return f"{one.location}: " + (f"{passing} of {len(judged)} pass" if judged else f"{len(places)} places")

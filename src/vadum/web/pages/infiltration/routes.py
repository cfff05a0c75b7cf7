"""The places of a project that take water: by class in plan, their mean with its band, held against a rate."""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session

from vadum.drawing import render
from vadum.present import drawing_in
from vadum.records.chosen import changes_of
from vadum.records.corrections import CorrectionError
from vadum.records.infiltration import ASKED, InfiltrationRule, Place, keep_rule, kinds_of, places_of, rule_of
from vadum.records.tables import Project
from vadum.records.units import units_of_project
from vadum.soil.choice import labels_of
from vadum.soil.numbers.written import with_figures
from vadum.soil.site.infiltration import By, Kind, Outcome, class_of, class_plan, outcome, rates_figure
from vadum.soil.site.map import Sited
from vadum.web.correcting import refused, seen_by
from vadum.web.forms import InfiltrationForm, filled
from vadum.web.rendering import Db, Posted, Who, get, page, to

router = APIRouter(prefix="/projects/{project_id}/infiltration")
_FIGURE = (560.0, 380.0)


@router.get("", response_class=HTMLResponse)
def infiltration(request: Request, session: Db, project_id: int) -> HTMLResponse:
    return _page(request, session, get(session, Project, project_id, "project"))


@router.post("", response_class=HTMLResponse)
def ask_of_ground(request: Request, session: Db, form: Posted, who: Who, project_id: int) -> Response:
    project = get(session, Project, project_id, "project")
    made, errors = filled(InfiltrationForm, form)
    if made is None or errors:
        return _page(request, session, project, errors=errors, typed=dict(form))
    try:
        keep_rule(session, project, InfiltrationRule(**made.model_dump()), who, seen_by(form))
    except CorrectionError as error:
        errors, typed = refused(error, form)
        return _page(request, session, project, errors=errors, typed=typed)
    return to(request, "infiltration", project_id=project_id)


def _page(request: Request, session: Session, project: Project, **more: Any) -> HTMLResponse:
    rule, every = rule_of(project), places_of(project)
    kinds = kinds_of(every)
    # Nothing was asked yet: what most places give is shown.
    kind = rule.kind if project.infiltration_rule or not kinds else kinds[0]
    shown = [one for one in every if one.kind == kind]
    made = outcome([one.rate_mm_h for one in shown])
    return page(
        request,
        "infiltration/infiltration.html",
        status_code=422 if more.get("errors") else 200,
        project=project,
        rule=rule,
        kind=kind,
        kinds=labels_of(Kind),
        ways=labels_of(By),
        shown=shown,
        others=len(every) - len(shown),
        made=made,
        value=_value(made, rule),
        class_of=class_of,
        units=units_of_project(project),
        figures_of=with_figures,
        changes=changes_of(session, project, ASKED),
        figures=_figures(project, shown, made, rule),
        **more,
    )


def _value(made: Outcome | None, rule: InfiltrationRule) -> tuple[float, bool] | None:
    """Return the rate that counts of the site, and whether it meets what is asked; None where it cannot be said."""
    found = made.value(rule.by) if made and rule.demand else None
    if found is None or rule.demand is None:
        return None
    design = rule.demand.design(found)
    return design, design >= rule.demand.required_mm_h


def _figures(project: Project, shown: list[Place], made: Outcome | None, rule: InfiltrationRule) -> list[str]:
    if made is None:
        return []
    sited = [(Sited(one.position, one.text), one.rate_mm_h) for one in shown if one.position is not None]
    drawn = [class_plan(sited)] if sited else []
    units = units_of_project(project)
    return [
        render(drawing_in(figure, units), *_FIGURE)
        for figure in [*drawn, rates_figure([(one.name, one.rate_mm_h) for one in shown], made, rule.demand)]
    ]

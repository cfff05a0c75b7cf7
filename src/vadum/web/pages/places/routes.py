"""Projects with their ground columns, and samples with their tests."""

from collections import Counter
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import ValidationError
from sqlmodel import Session

from vadum.drawing import render
from vadum.records.agreement import disagreements
from vadum.records.chosen import beside
from vadum.records.corrections import CorrectionError, corrections_of, name_taken, needs_reason, remove, tests_of
from vadum.records.custody import KINDS, PREPARATIONS, Custody, changes_of, custody_lines, custody_of, keep_custody
from vadum.records.decision_rule import HowShown, how_shown, keep_how_shown
from vadum.records.identity import card_of, graded_beside
from vadum.records.ledger import ledger_of, need_of
from vadum.records.planning import offered_in_ground, planned
from vadum.records.presets import Presets, words
from vadum.records.row_number import row_numbers
from vadum.records.tables import STATES, Location, Project, Sample, Test
from vadum.records.together import hole_of, places_of
from vadum.records.units import shown_in
from vadum.soil.contract.method import SoilNeed
from vadum.soil.numbers.unit_sets import MARKS, SETS
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.web.column import ground_column
from vadum.web.correcting import corrected, refused, seen_by, together
from vadum.web.forms import LOCATION_FIELDS, PLACE_KINDS, PROJECT_FIELDS, LocationForm, ProjectForm, SampleForm, filled
from vadum.web.rendering import STATE_WORDS, Db, Posted, Who, get, page, to

router = APIRouter()
_DRAWN = 12


@router.get("/projects/{project_id}", response_class=HTMLResponse)
def project(request: Request, session: Db, project_id: int) -> HTMLResponse:
    return _project(request, session, get(session, Project, project_id, "project"))


def _project(request: Request, session: Session, found: Project, **more: Any) -> HTMLResponse:
    places = places_of(session, found, readings=False)
    # Of many locations a list says more than columns that nobody sees side by side.
    drawn = [(place, ground_column(place)) for place in places] if len(places) <= _DRAWN else None
    return page(
        request,
        "places/project.html",
        status_code=422 if more.get("errors") else 200,
        project=found,
        places=places,
        columns=drawn,
        tallies={place.id: _tally(tests_of(place)) for place in places},
        in_ground=offered_in_ground(Presets.of(session, found)),
        sets=list(SETS),
        marks=MARKS,
        kinds=KINDS,
        place_kinds=PLACE_KINDS,
        asked=PROJECT_FIELDS,
        location_fields=LOCATION_FIELDS,
        needs_reason=needs_reason,
        corrections=corrections_of(session, found),
        **({"how_shown": how_shown(found)} | more),
    )


def _tally(tests: list[Test]) -> str:
    """Return how many tests are in which state, in the order in which they go on: 2 running, 1 checked."""
    counts = Counter(test.state for test in tests if test.state != "void")
    return ", ".join(f"{counts[state]} {STATE_WORDS[state].split(',')[0]}" for state in STATES if counts[state])


@router.post("/projects/{project_id}", response_class=HTMLResponse)
def change_project(request: Request, session: Db, form: Posted, who: Who, project_id: int) -> Response:
    """Correct what a project is called and for whom it is."""
    found = get(session, Project, project_id, "project")
    if no := corrected(session, found, ProjectForm, form, who):
        return _project(request, session, found, errors=no[0], typed=no[1], opened="project")
    return to(request, "project", project_id=project_id)


@router.post("/samples/{sample_id}", response_class=HTMLResponse)
def change_sample(request: Request, session: Db, form: Posted, who: Who, sample_id: int) -> Response:
    """Correct what was typed of a sample."""
    found = get(session, Sample, sample_id, "sample")
    if no := corrected(session, found, SampleForm, form, who):
        return _sample(request, session, found, correcting=no[0], corrected_as=no[1])
    return to(request, "sample", sample_id=sample_id)


@router.post("/samples/{sample_id}/remove", response_class=HTMLResponse)
def remove_sample(request: Request, session: Db, who: Who, sample_id: int) -> Response:
    """Take away a sample that nobody tested."""
    found = get(session, Sample, sample_id, "sample")
    project = found.location.project_id
    try:
        remove(session, found, who)
    except CorrectionError as error:
        return _sample(request, session, found, correcting={"": str(error)}, corrected_as={})
    return to(request, "project", project_id=project)


@router.post("/projects/{project_id}/units", response_class=HTMLResponse)
def show_in(request: Request, session: Db, form: Posted, who: Who, project_id: int) -> Response:
    """Choose in what units the project is shown and printed, and how its limits are judged, from now on."""
    found = get(session, Project, project_id, "project")
    shown = shown_in(str(form.get("units")), str(form.get("decimal_mark")))
    wanted = HowShown(**shown.model_dump(), guarded=form.get("limits") == "guarded")
    try:
        keep_how_shown(session, found, wanted, who, seen_by(form))
    except CorrectionError as error:
        errors, wanted = {error.field: str(error)}, beside(how_shown(found), wanted, error.others)
        return _project(request, session, found, errors=errors, how_shown=wanted, typed={}, opened="shown")
    return to(request, "project", project_id=project_id)


@router.post("/projects/{project_id}/locations", response_class=HTMLResponse)
def add_location(request: Request, session: Db, form: Posted, project_id: int) -> Response:
    found = get(session, Project, project_id, "project")
    made, errors = filled(LocationForm, form)
    if made and (taken := name_taken(session, Location, made.name, project_id)):
        made, errors = None, {"name": f"there is “{taken}” already"}
    if made is None:
        return _project(request, session, found, errors=errors, typed=dict(form), opened="location")
    session.add(Location(project_id=project_id, **made.model_dump()))
    session.commit()
    return to(request, "project", project_id=project_id)


@router.get("/samples/{sample_id}", response_class=HTMLResponse)
def sample(request: Request, session: Db, sample_id: int) -> HTMLResponse:
    return _sample(request, session, get(session, Sample, sample_id, "sample"))


@router.post("/samples/{sample_id}/custody", response_class=HTMLResponse)
def tell_custody(request: Request, session: Db, form: Posted, who: Who, sample_id: int) -> Response:
    """Keep how a sample was taken, came in and is kept; refused when somebody changed it since the page was drawn."""
    found = get(session, Sample, sample_id, "sample")
    made, errors = filled(Custody, form)
    if made is None:
        return _sample(request, session, found, errors=errors, typed=dict(form))
    try:
        keep_custody(session, found, made, who, seen_by(form))
    except ValidationError as error:
        return _sample(request, session, found, errors={"together": together(error)}, typed=dict(form))
    except CorrectionError as error:
        errors, typed = refused(error, form, custody_of(found).model_dump(mode="json"))
        return _sample(request, session, found, errors=errors, typed=typed)
    return to(request, "sample", sample_id=sample_id)


def _sample(request: Request, session: Session, found: Sample, **more: Any) -> HTMLResponse:
    # The ledger reads the sample's tests: the card asks for none of them again.
    ledger, card = ledger_of(found), card_of(session, found)
    chosen = row_numbers(request.query_params.getlist("with"))
    graded = graded_beside(session, found)
    company = [(f"{s.location.name} {s.name}", points) for s, points in graded if s.id in chosen]
    return page(
        request,
        "places/sample.html",
        status_code=409 if "short" in more else 422 if more.get("errors") or more.get("correcting") else 200,
        sample=found,
        kinds=KINDS,
        needs_reason=needs_reason,
        corrections=corrections_of(session, found),
        custody=custody_of(found).model_dump(mode="json"),
        custody_fields=[(name, info.title, info.description or "") for name, info in Custody.model_fields.items()],
        custody_lines=custody_lines(found),
        custody_changes=changes_of(found),
        preparations=PREPARATIONS,
        card=card,
        disagreements=disagreements(session, found),
        ledger=ledger,
        curve=render(card.figure(company), 640, 400) if card.has_curve else "",
        graded=[(s, s.id in chosen) for s, _ in graded],
        column=ground_column(hole_of(session, found.location), chosen=found),
        offered=_offered(session, found),
        **more,
    )


@router.post("/locations/{location_id}/tests")
def plan_in_ground(request: Request, session: Db, form: Posted, location_id: int) -> RedirectResponse:
    """Plan a test in the ground at a location."""
    place = get(session, Location, location_id, "location")
    test = planned(session, str(form.get("method", "")), place)
    session.commit()
    return to(request, "worksheet", test_id=test.id)


def _offered(session: Session, sample: Sample) -> list[tuple[Any, SoilNeed | None, str]]:
    """Return the methods that may be planned on a sample: what soil each takes, and what it is begun with."""
    found, presets = [], Presets.of(session, sample.location.project)
    for method in METHODS.values():
        if method.applies_to == "sample":
            chosen = presets.chosen(method)
            found.append((method, need_of(sample, method.code, chosen), words(method, chosen)))
    return found


@router.post("/samples/{sample_id}/tests", response_class=HTMLResponse)
def plan_test(request: Request, session: Db, form: Posted, sample_id: int) -> Response:
    """Plan a test with the equipment of the newest test of its method; said first when the soil does not reach."""
    found = get(session, Sample, sample_id, "sample")
    method = method_of(str(form.get("method", "")))
    need = need_of(found, method.code, Presets.of(session, found.location.project).chosen(method))
    short = ledger_of(found).short_for(need)
    if short and not form.get("anyway"):
        return _sample(request, session, found, short=short, wanted=method, need=need)
    test = planned(session, method.code, found)
    session.commit()
    return to(request, "worksheet", test_id=test.id)

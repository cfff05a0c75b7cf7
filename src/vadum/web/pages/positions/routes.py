"""Where a project's tests stand: a plan drawn from coordinates, the site's mean, and the positions as a file."""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, JSONResponse, Response

from vadum.drawing import render
from vadum.exchange.geojson import collection, point
from vadum.present import drawing_in
from vadum.records.infiltration import kinds_of, places_of
from vadum.records.positions import PlacedTest, placed_tests
from vadum.records.tables import Project
from vadum.records.units import units_of_project
from vadum.soil.bench.position import Position
from vadum.soil.numbers.written import with_figures
from vadum.soil.registry import method as method_of
from vadum.soil.site.infiltration import Kind, Outcome, outcome
from vadum.soil.site.map import Sited, plan_figure
from vadum.web.rendering import Db, get, page

router = APIRouter()
_PLAN = (620.0, 560.0)


@router.get("/projects/{project_id}/positions", response_class=HTMLResponse)
def positions(request: Request, session: Db, project_id: int) -> HTMLResponse:
    project = get(session, Project, project_id, "project")
    placed = placed_tests(project)
    spots = _spots(placed)
    sited, units = [Sited(at, words) for at, words in spots], units_of_project(project)
    return page(
        request,
        "positions/positions.html",
        project=project,
        placed=placed,
        plan=render(drawing_in(plan_figure(sited), units), *_PLAN) if sited else "",
        water=_takes_water(project),
        methods_by_code=method_of,
        units=units,
        figures_of=with_figures,
    )


class GeoJSON(JSONResponse):
    media_type = "application/geo+json"


@router.get("/projects/{project_id}/positions.geojson", response_class=GeoJSON)
def positions_file(session: Db, project_id: int) -> Response:
    """Return every placed test with its results as GeoJSON."""
    project = get(session, Project, project_id, "project")
    features = [_feature(one) for one in placed_tests(project)]
    headers = {"Content-Disposition": f'attachment; filename="positions-{project_id}.geojson"'}
    return GeoJSON(collection(project.name, features), headers=headers)


def _spots(placed: list[PlacedTest]) -> list[tuple[Position, str]]:
    """Return each position once, with what is written beside it: the result of a test with a place of its own, else the
    location and how many tests it has."""
    found: dict[Position, list[PlacedTest]] = {}
    for one in placed:
        found.setdefault(one.position, []).append(one)
    return [(at, _words(tests)) for at, tests in found.items()]


def _words(tests: list[PlacedTest]) -> str:
    one = tests[0]
    if len(tests) == 1:
        return one.headline or one.location.name
    return f"{one.location.name}, {len(tests)} tests"


def _feature(one: PlacedTest) -> dict[str, Any]:
    test = one.test
    properties = {
        "location": one.location.name,
        "sample": test.sample.name if test.sample else None,
        "test": test.id,
        "place": one.path or None,
        "method": test.method,
        "title": method_of(test.method).title,
        "state": test.state,
        "reportable": bool(test.summary.get("reportable")),
    }
    # Flat, as readers of maps expect: a number, or words, by the result's key, and its unit beside it.
    for key, kept in one.results.items():
        properties[key] = kept["text"] if kept.get("reported") is None else kept["reported"]
        if kept.get("unit"):
            properties[f"{key}_unit"] = kept["unit"]
    return point(f"{test.id}/{one.path}" if one.path else f"{test.id}", one.position, properties)


def _takes_water(project: Project) -> tuple[Kind, Outcome] | None:
    """Return what most places that take water say together; None without two of them."""
    places = places_of(project)
    kind = next(iter(kinds_of(places)), None)
    made = outcome([one.rate_mm_h for one in places if one.kind == kind])
    return None if kind is None or made is None or made.count == 1 else (kind, made)

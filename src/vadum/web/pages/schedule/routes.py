"""The schedule of a project: looked at, then planned as one."""

from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session
from starlette.datastructures import FormData

from vadum.records.ledger import ledger_of, need_of
from vadum.records.planning import planned
from vadum.records.presets import Presets
from vadum.records.tables import Location, Project, Sample
from vadum.records.together import places_of
from vadum.soil.registry import METHODS
from vadum.web.forms import PLACE_KINDS
from vadum.web.pages.schedule.pasting import NewSample, Pasted, pasted
from vadum.web.rendering import Db, Posted, get, page, to

router = APIRouter(prefix="/projects/{project_id}/schedule")
_OF_SAMPLES = [method for method in METHODS.values() if method.applies_to == "sample"]


@dataclass(frozen=True)
class Line:
    """A row of the grid: its key in the form, what it is called, the soil left, and by method the need in g and the
    states of the tests that are there."""

    key: str
    name: str
    new: bool
    left_g: float | None
    needs: dict[str, float]
    tests: dict[str, list[Any]]

    def short(self, ticked: set[str]) -> float:
        """Return by how many g the soil falls short of what is ticked."""
        wanted = sum(need for code, need in self.needs.items() if f"{self.key}:{code}" in ticked)
        return 0.0 if self.left_g is None else max(0.0, wanted - self.left_g)


@router.get("", response_class=HTMLResponse)
def schedule(request: Request, session: Db, project_id: int) -> HTMLResponse:
    return _page(request, session, get(session, Project, project_id, "project"), FormData())


@router.post("", response_class=HTMLResponse)
def plan_schedule(request: Request, session: Db, form: Posted, project_id: int) -> Response:
    """Look at the pasted samples, or bring them in and plan all that is ticked at once; whole or not at all."""
    project = get(session, Project, project_id, "project")
    ticked = {str(one) for one in form.getlist("plan")}
    if not form.get("save"):
        return _page(request, session, project, form)
    places = places_of(session, project)
    found = pasted(_text(form), places)
    if found.faults:
        return _page(request, session, project, form, status=422)
    short = [line for line in _lines(session, project, places, found) if line.short(ticked)]
    if short and not form.get("anyway"):
        return _page(request, session, project, form, short=short, status=409)
    rows = {f"s{one.id}": one for place in places for one in place.samples}
    rows |= {f"n{i}": one for i, one in enumerate(_brought(session, project, found.samples, str(form.get("kind"))))}
    for one in sorted(ticked):
        key, _, code = one.partition(":")
        if key in rows and code in METHODS:
            planned(session, code, rows[key])
            session.flush()
    session.commit()
    return to(request, "project", project_id=project_id)


def _brought(session: Session, project: Project, samples: list[NewSample], kind: str) -> list[Sample]:
    """Bring in the samples of a list; a location that is not there yet is as deep as its deepest sample."""
    places = {place.name.casefold(): place for place in project.locations}
    made = []
    for one in samples:
        key = one.location.casefold()
        if key not in places:
            deepest = max(other.form.base_m for other in samples if other.location.casefold() == key)
            places[key] = Location(
                project_id=project.id or 0,
                name=one.location,
                kind=kind if kind in PLACE_KINDS else PLACE_KINDS[0],
                depth_m=deepest,
            )
            session.add(places[key])
            session.flush()
        sample = Sample(location_id=places[key].id or 0, **one.form.model_dump())
        session.add(sample)
        session.flush()
        made.append(sample)
    return made


def _text(form: FormData) -> str:
    return str(form.get("text", "")).replace("\r\n", "\n")


def _page(
    request: Request, session: Session, project: Project, form: FormData, status: int = 200, **more: Any
) -> HTMLResponse:
    places = places_of(session, project)
    found = pasted(_text(form), places)
    return page(
        request,
        "schedule/schedule.html",
        status_code=status,
        project=project,
        methods_of=_OF_SAMPLES,
        lines=_lines(session, project, places, found),
        faults=found.faults,
        text=_text(form),
        ticked={str(one) for one in form.getlist("plan")},
        kind=str(form.get("kind", "")),
        place_kinds=PLACE_KINDS,
        **more,
    )


def _lines(session: Session, project: Project, places: list[Location], found: Pasted) -> list[Line]:
    presets = Presets.of(session, project)
    chosen = {method.code: presets.chosen(method) for method in _OF_SAMPLES}

    def needs(sample: Sample) -> dict[str, float]:
        each = {code: need_of(sample, code, settings) for code, settings in chosen.items()}
        return {code: need.mass_g for code, need in each.items() if need is not None}

    lines = []
    for place in places:
        for sample in place.samples:
            tests: dict[str, list[Any]] = {}
            for test in sample.tests:
                tests.setdefault(test.method, []).append(test)
            left, name = ledger_of(sample).left_g, f"{place.name} {sample.name}"
            lines.append(Line(f"s{sample.id}", name, False, left, needs(sample), tests))
    for i, one in enumerate(found.samples):
        sample = Sample(location_id=0, **one.form.model_dump())
        lines.append(Line(f"n{i}", f"{one.location} {one.form.name}", True, sample.mass_g, needs(sample), {}))
    return lines

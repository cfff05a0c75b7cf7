"""Projects with their ground columns, and samples with their tests."""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlmodel import Session, col, select

from vadum.records.tables import Equipment, Location, Project, Sample, Test
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.web.forms import LocationForm, SampleForm, filled
from vadum.web.ground import ground_column
from vadum.web.pages import Db, get, page

router = APIRouter()


@router.get("/projects/{project_id}", response_class=HTMLResponse)
def project(request: Request, session: Db, project_id: int) -> HTMLResponse:
    return _project(request, get(session, Project, project_id, "project"))


def _project(request: Request, found: Project, **more: Any) -> HTMLResponse:
    columns = [(location, ground_column(location)) for location in found.locations]
    status = 422 if more.get("errors") else 200
    return page(request, "project.html", status_code=status, project=found, columns=columns, **more)


@router.post("/projects/{project_id}/locations", response_class=HTMLResponse)
async def add_location(request: Request, session: Db, project_id: int) -> Response:
    found = get(session, Project, project_id, "project")
    form = await request.form()
    made, errors = filled(LocationForm, form)
    if made is None:
        return _project(request, found, errors=errors, typed=dict(form), opened="location")
    session.add(Location(project_id=project_id, **made.model_dump()))
    session.commit()
    return RedirectResponse(f"/projects/{project_id}", 303)


@router.post("/locations/{location_id}/samples", response_class=HTMLResponse)
async def add_sample(request: Request, session: Db, location_id: int) -> Response:
    location = get(session, Location, location_id, "location")
    form = await request.form()
    made, errors = filled(SampleForm, form)
    if made is not None and made.base_m > location.depth_m:
        errors = {"base_m": f"{location.name} is {location.depth_m:g} m deep"}
        made = None
    if made is None:
        return _project(request, location.project, errors=errors, typed=dict(form), opened=f"sample-{location_id}")
    sample = Sample(location_id=location_id, **made.model_dump())
    session.add(sample)
    session.commit()
    return RedirectResponse(f"/samples/{sample.id}", 303)


@router.get("/samples/{sample_id}", response_class=HTMLResponse)
def sample(request: Request, session: Db, sample_id: int) -> HTMLResponse:
    found = get(session, Sample, sample_id, "sample")
    return page(
        request,
        "sample.html",
        sample=found,
        column=ground_column(found.location, chosen=found),
        offered=[m for m in METHODS.values() if m.applies_to == "sample"],
    )


@router.post("/samples/{sample_id}/tests")
async def plan_test(request: Request, session: Db, sample_id: int) -> RedirectResponse:
    """Plan a test; the equipment of the sample's newest test of this method is proposed with it."""
    found = get(session, Sample, sample_id, "sample")
    form = await request.form()
    method = method_of(str(form.get("method", "")))
    test = Test(method=method.code, sample_id=found.id)
    test.uses = _usual_equipment(session, method.code)
    session.add(test)
    session.commit()
    return RedirectResponse(f"/tests/{test.id}", 303)


def _usual_equipment(session: Session, method: str) -> list[Equipment]:
    last = session.exec(select(Test).where(Test.method == method).order_by(col(Test.id).desc())).first()
    return list(last.uses) if last else []

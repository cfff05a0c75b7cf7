"""One location: its ground column at full length, its samples and tests, its layers, and what was typed of it."""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session

from vadum.records.corrections import CorrectionError, corrections_of, name_taken, needs_reason, remove
from vadum.records.custody import KINDS
from vadum.records.layers import Typed, keep_layers
from vadum.records.merging import merge
from vadum.records.planning import offered_in_ground
from vadum.records.presets import Presets
from vadum.records.tables import Location, Sample
from vadum.records.together import hole_of
from vadum.web.column import ground_column
from vadum.web.correcting import corrected, seen_by
from vadum.web.forms import LOCATION_FIELDS, PLACE_KINDS, LocationForm, SampleForm, filled
from vadum.web.rendering import Db, Posted, Who, get, page, to

router = APIRouter()
# Lines to type into below the layers that stand.
_BLANK_LINES = 3


@router.get("/locations/{location_id}", response_class=HTMLResponse)
def location(request: Request, session: Db, location_id: int) -> HTMLResponse:
    return _location(request, session, get(session, Location, location_id, "location"))


def _location(request: Request, session: Session, found: Location, **more: Any) -> HTMLResponse:
    """Show a location; ``opened`` is the form that was refused, with its ``errors`` and what was ``typed``."""
    found = hole_of(session, found)
    logged = [Typed(f"{one.top_m:g}", f"{one.base_m:g}", one.description) for one in found.strata]
    return page(
        request,
        "location/location.html",
        status_code=422 if more.get("errors") else 200,
        location=found,
        column=ground_column(found),
        in_ground=offered_in_ground(Presets.of(session, found.project)),
        layers=more.pop("layers", logged) + [Typed("", "", "")] * _BLANK_LINES,
        kinds=KINDS,
        place_kinds=PLACE_KINDS,
        asked=LOCATION_FIELDS,
        needs_reason=needs_reason,
        corrections=corrections_of(session, found),
        others=[one for one in found.project.locations if one.id != found.id],
        **more,
    )


@router.post("/locations/{location_id}", response_class=HTMLResponse)
def change_location(request: Request, session: Db, form: Posted, who: Who, location_id: int) -> Response:
    """Correct what was typed of a location."""
    found = get(session, Location, location_id, "location")
    if no := corrected(session, found, LocationForm, form, who):
        return _location(request, session, found, errors=no[0], typed=no[1], opened="correct")
    return to(request, "location", location_id=location_id)


@router.post("/locations/{location_id}/layers", response_class=HTMLResponse)
def log_layers(request: Request, session: Db, form: Posted, who: Who, location_id: int) -> Response:
    """Keep the layers as they are typed, from the top down."""
    found = get(session, Location, location_id, "location")
    columns = [[str(text) for text in form.getlist(name)] for name in ("top", "base", "description")]
    lines = [Typed(*line) for line in zip(*columns, strict=False)]
    try:
        keep_layers(session, found, lines, who, str(form.get("reason", "")), seen_by(form))
    except CorrectionError as error:
        layers = [line for line in lines if not line.blank]
        errors = {error.field: str(error)}
        return _location(request, session, found, errors=errors, typed=dict(form), opened="layers", layers=layers)
    return to(request, "location", location_id=location_id)


@router.post("/locations/{location_id}/merge", response_class=HTMLResponse)
def merge_location(request: Request, session: Db, form: Posted, who: Who, location_id: int) -> Response:
    """Move what was made at a location to another one of its project, and take it away."""
    found = get(session, Location, location_id, "location")
    chosen = str(form.get("into", ""))
    into = next((one for one in found.project.locations if str(one.id) == chosen), found)
    try:
        merge(session, found, into, who, str(form.get("reason", "")))
    except CorrectionError as error:
        errors = {error.field: str(error)}
        return _location(request, session, found, errors=errors, typed=dict(form), opened="merge")
    return to(request, "location", location_id=into.id)


@router.post("/locations/{location_id}/remove", response_class=HTMLResponse)
def remove_location(request: Request, session: Db, who: Who, location_id: int) -> Response:
    """Take away a location that nothing was made at."""
    found = get(session, Location, location_id, "location")
    project_id = found.project_id
    try:
        remove(session, found, who)
    except CorrectionError as error:
        return _location(request, session, found, errors={"": str(error)}, typed={}, opened="correct")
    return to(request, "project", project_id=project_id)


@router.post("/locations/{location_id}/samples", response_class=HTMLResponse)
def add_sample(request: Request, session: Db, form: Posted, location_id: int) -> Response:
    found = get(session, Location, location_id, "location")
    made, errors = filled(SampleForm, form)
    if made and (taken := name_taken(session, Sample, made.name, location_id)):
        made, errors = None, {"name": f"there is “{taken}” already"}
    if made is not None and made.base_m > found.depth_m:
        made, errors = None, {"base_m": f"{found.name} is {found.depth_m:g} m deep"}
    if made is None:
        return _location(request, session, found, errors=errors, typed=dict(form), opened="sample")
    sample = Sample(location_id=location_id, **made.model_dump())
    session.add(sample)
    session.commit()
    return to(request, "sample", sample_id=sample.id)

"""The published geotechnical transfer format: a project out; locations and samples in, after a look at what changes."""

import hashlib
from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session, select

from vadum.exchange.ags4 import ENDING, MEDIA_TYPE
from vadum.exchange.ags4.letters import told_apart
from vadum.exchange.ags4.read import Received, TransferError, read_transfer
from vadum.exchange.ags4.sent import Layer, Place, Sent, Taken, Transfer, Way
from vadum.exchange.ags4.write import transfer_file
from vadum.records.calibrations import day_of
from vadum.records.corrections import CorrectionError, name_taken
from vadum.records.custody import LONGEST, Custody, custody_of
from vadum.records.intake import Brought, Chosen, changes, take
from vadum.records.letterhead import letterhead_of
from vadum.records.positions import tests_with_readings
from vadum.records.standing import standing_of
from vadum.records.tables import Location, Project, Sample, Test, now
from vadum.records.zone import local
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Who, get, page, to

router = APIRouter()
# Who made the file, before a letterhead says it.
_NAMELESS = "The laboratory"


@router.get("/projects/{project_id}/results.ags", response_class=Response)
def out(session: Db, project_id: int) -> Response:
    """Return a project with its complete tests in the transfer format."""
    project = get(session, Project, project_id, "project")
    headers = {"Content-Disposition": f'attachment; filename="results-{project_id}{ENDING}"'}
    return Response(transfer_file(_sent(session, project)), media_type=MEDIA_TYPE, headers=headers)


@router.get("/transfer", response_class=HTMLResponse)
def transfer_page(request: Request, session: Db, project: int = 0) -> HTMLResponse:
    return page(request, "transfer/transfer.html", projects=_projects(request, session), into=project)


@router.post("/transfer", response_class=HTMLResponse)
def transfer_received(
    request: Request,
    session: Db,
    who: Who,
    file: Annotated[UploadFile, File()],
    into: Annotated[int, Form()] = 0,
    seen_sha256: Annotated[str, Form()] = "",
    chosen: Annotated[list[str] | None, Form()] = None,
    reason: Annotated[str, Form(max_length=400)] = "",
) -> Response:
    """Show what a file would change; with the hash of what was seen, take it in."""
    data = file.file.read()
    sha = hashlib.sha256(data).hexdigest()
    projects = _projects(request, session)
    known = next((project for project in projects if project.id == into), None)
    if into and known is None:
        raise NotHere("project")
    shown: dict[str, Any] = {"projects": projects, "into": into, "name": file.filename}
    try:
        received = read_transfer(data)
    except TransferError as error:
        return page(request, "transfer/transfer.html", status_code=422, problem=str(error), **shown)
    if received.faults:
        return page(request, "transfer/transfer.html", status_code=422, received=received, changed=[], **shown)
    brought = [_brought(place) for place in received.places]
    if seen_sha256 == f"{sha}-{into}":
        project = known or Project(name=received.name, client=received.client, note=received.note)
        try:
            take(session, brought, project, Chosen(chosen or (), who, reason))
            return to(request, "project", project_id=project.id)
        except CorrectionError as error:
            shown["problem"] = str(error)
            known = next((one for one in _projects(request, session) if one.id == into), None)
    _remark(session, received, known)
    changed = changes(session, brought, known)
    return page(
        request,
        "transfer/transfer.html",
        status_code=422 if shown.get("problem") else 200,
        received=received,
        changed=changed,
        chosen=chosen or (),
        reason=reason,
        seen=f"{sha}-{into}",
        target=known.name if known else "",
        **shown,
    )


def _remark(session: Session, received: Received, into: Project | None) -> None:
    if into is None and (taken := name_taken(session, Project, received.name)):
        received.notes.append(f"A project called {taken} is here already; this comes as a second one beside it.")
    if into is not None and into.name != received.name:
        received.notes.append(f"The file is of {received.name}; what it holds goes into {into.name}.")


def _projects(request: Request, session: Session) -> list[Project]:
    """Return the projects that the person may see."""
    seen = getattr(request.state, "projects", None)
    every = session.exec(select(Project).order_by(Project.name)).all()
    return [project for project in every if seen is None or project.id in seen]


def _brought(place: Place) -> Brought:
    values = asdict(place)
    layers, samples = values.pop("layers"), values.pop("samples")
    for sample in samples:
        way = sample.pop("way")
        told = Custody(
            taken_by=way["by"][:LONGEST], taken_how=way["how"][:LONGEST], condition=way["condition"][:LONGEST]
        )
        sample["custody"] = {"now": told.model_dump(mode="json")} if told != Custody() else {}
    return Brought(values, layers, samples)


def _sent(session: Session, project: Project) -> Transfer:
    places: dict[int, Place] = {}
    samples: dict[int, Taken] = {}
    for location, name in zip(project.locations, told_apart(p.name for p in project.locations), strict=True):
        taken = [
            _taken(s, n) for s, n in zip(location.samples, told_apart(s.name for s in location.samples), strict=True)
        ]
        samples |= {s.id or 0: one for s, one in zip(location.samples, taken, strict=True)}
        places[location.id or 0] = _place(location, name, tuple(taken))
    return Transfer(
        number=project.id or 0,
        name=project.name,
        client=project.client,
        note=project.note,
        by=letterhead_of(session).name or _NAMELESS,
        made=local(session, now()),
        places=tuple(places.values()),
        tests=tuple(
            _test(session, test, places[location.id or 0], samples.get(test.sample_id or 0))
            for location, test in tests_with_readings(project)
        ),
    )


def _place(location: Location, name: str, samples: tuple[Taken, ...]) -> Place:
    return Place(
        name=name,
        kind=location.kind,
        depth_m=location.depth_m,
        level_m=location.level_m,
        easting_m=location.easting_m,
        northing_m=location.northing_m,
        latitude_deg=location.latitude_deg,
        longitude_deg=location.longitude_deg,
        layers=tuple(Layer(s.top_m, s.base_m, s.description) for s in location.strata),
        samples=samples,
    )


def _taken(sample: Sample, name: str) -> Taken:
    way = custody_of(sample)
    # The format wants a time of day beside the day, which nobody said.
    days = [f"taken {way.taken_on}" if way.taken_on else "", f"received {way.received_on}" if way.received_on else ""]
    return Taken(
        name,
        sample.kind,
        sample.top_m,
        sample.base_m,
        sample.description,
        Way(way.taken_by, way.taken_how, way.condition, ", ".join(day for day in days if day).capitalize()),
    )


def _test(session: Session, test: Test, place: Place, sample: Taken | None) -> Sent:
    standing = standing_of(session, test)
    method, reduction = standing.method, standing.reduction
    basis = next((p.basis for p in reduction.parameters if p.basis), method.basis[0])
    return Sent(
        number=test.id or 0,
        method=test.method,
        basis=basis,
        state=test.state,
        on=day_of(session, test),
        place=place,
        sample=sample,
        readings=method.Readings.model_validate(standing.readings),
        settings=method.Settings.model_validate(standing.settings),
        reduction=reduction,
    )

"""The start page: what is under way in the laboratory."""

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlalchemy import and_, bindparam
from sqlmodel import col, func, select

from vadum.records.apart import told_apart
from vadum.records.conditions import among, on_soil
from vadum.records.context import inspection_states
from vadum.records.corrections import name_taken
from vadum.records.setting_up import left_to_do
from vadum.records.tables import Equipment, Location, Project, Test
from vadum.records.together import Listed
from vadum.records.units import first_units
from vadum.records.zone import today
from vadum.web.access import may
from vadum.web.forms import PROJECT_FIELDS, ProjectForm, filled
from vadum.web.rendering import ROLES, Db, Posted, first_seen, page, to
from vadum.web.turning import turning

router = APIRouter()
_SHOWN_AT_ONCE = 12
_PROJECTS_AT_ONCE = 20
_IN_STATE = Listed(and_(col(Test.state) == bindparam("state"), on_soil()), col(Test.updated_at).desc())
_CUPS = select(Equipment).where(Equipment.kind == "cup").order_by(Equipment.name)
_PROJECTS = select(Project).order_by(col(Project.id).desc()).offset(bindparam("skip")).limit(_PROJECTS_AT_ONCE)
_PLACES = (
    select(Location.project_id, func.count())
    .where(among(Location.project_id, "projects"))
    .group_by(col(Location.project_id))
)


@router.get("/", response_class=HTMLResponse)
def start(request: Request, session: Db, skip: Annotated[int, Query(ge=0, le=100_000)] = 0) -> HTMLResponse:
    return _start(request, session, skip)


def _start(request: Request, session: Db, skip: int = 0, **more: object) -> HTMLResponse:
    theirs = getattr(request.state, "projects", None)

    running, waiting = (
        first_seen(request, session, _IN_STATE, _SHOWN_AT_ONCE, state=state) for state in ("running", "reduced")
    )
    mine = [] if theirs is None else [col(Project.id).in_(theirs)]
    projects = session.exec(_PROJECTS.where(*mine) if mine else _PROJECTS, params={"skip": skip}).all()
    places = dict(session.exec(_PLACES, params={"projects": [one.id for one in projects]}).all())
    count = session.exec(select(func.count()).select_from(Project).where(*mine)).one()
    day = today(session)
    cups = session.exec(_CUPS).all()
    inspected = inspection_states(session, cups, day)
    return page(
        request,
        "start/start.html",
        status_code=422 if more.get("errors") else 200,
        projects=[(one, places.get(one.id or 0, 0)) for one in projects],
        count=count,
        turn=turning("start", skip, _PROJECTS_AT_ONCE, more=count > skip + _PROJECTS_AT_ONCE),
        running=running[0],
        waiting=waiting[0],
        called=told_apart([*running[0], *waiting[0]], projects=running[1] + waiting[1] > len(running[0] + waiting[0])),
        counts=(running[1], waiting[1]),
        first_walk=request.app.state.demo,
        asked=PROJECT_FIELDS,
        to_do=[step for step in left_to_do(session) if may(request, step.done_by)],
        cups=[(cup, inspected[cup.id or 0]) for cup in cups],
        **more,
    )


@router.post("/projects", response_class=HTMLResponse)
def add_project(request: Request, session: Db, form: Posted) -> Response:
    made, errors = filled(ProjectForm, form)
    if made and (taken := name_taken(session, Project, made.name)):
        made, errors = None, {"name": f"there is “{taken}” already"}
    if made is None:
        return _start(request, session, errors=errors, typed=dict(form))
    project = Project(**made.model_dump(), **first_units(session).model_dump())
    session.add(project)
    session.commit()
    return to(request, "project", project_id=project.id)


@router.post("/who")
def work_as(role: str = Form(), back: str = Form("/")) -> RedirectResponse:
    """Remember which role the person works in."""
    target = back if back.startswith("/") and not back.startswith("//") else "/"
    response = RedirectResponse(target, 303)
    response.set_cookie(
        "vadum_who", role if role in ROLES else ROLES[0], httponly=True, samesite="lax", max_age=31_536_000
    )
    return response

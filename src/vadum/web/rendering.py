"""Rendering of pages: the template environment and what every page knows."""

from collections.abc import AsyncIterator, Iterable
from functools import cache
from pathlib import Path
from typing import Annotated, Any, TypeVar
from zoneinfo import ZoneInfo

from fastapi import Depends, Request
from fastapi.responses import HTMLResponse, RedirectResponse
from fastapi.templating import Jinja2Templates
from jinja2 import pass_context
from jinja2.runtime import Context
from sqlmodel import Session, SQLModel
from starlette.datastructures import FormData

from vadum.records.database import session_on
from vadum.records.tables import Test
from vadum.records.together import Listed, row_of
from vadum.records.unchanged import hold
from vadum.records.units import found_by
from vadum.records.zone import server_zone
from vadum.soil.registry import METHODS
from vadum.web.access import may
from vadum.web.nothere import NotHere
from vadum.web.rooms import ROOMS, door_of, room_of
from vadum.web.tour import Here, Stop, here, stops
from vadum.web.walks import walks

# Until somebody is registered, a person says which role they work in; it is written beside every change.
ROLES = ("technician 1", "technician 2", "checker")
STATE_WORDS = {
    "planned": "planned",
    "running": "running",
    "reduced": "done, waits for a check",
    "checked": "checked",
    "issued": "issued",
    "void": "void",
}
T = TypeVar("T", bound=SQLModel)


async def db(request: Request) -> Any:
    # Neither opening nor closing a session waits for anything: sent to a thread, each would cost more than it does.
    with session_on(request.app.state.engine) as session:
        yield session


Db = Annotated[Session, Depends(db)]


async def posted(request: Request) -> AsyncIterator[FormData]:
    """Yield the form of a request, one form after the other: what is on record is not compared with one while another
    is being kept. The route itself runs beside pages and readings, not before them."""
    form = await request.form()
    async with request.app.state.forms:
        yield form


# The next may come before a slow line has taken the answer.
Posted = Annotated[FormData, Depends(posted, scope="function")]


async def _who(request: Request) -> str:
    return who(request)


def who(request: Request) -> str:
    """Return who works: the person signed in; before anybody is registered the role the person said to work in."""
    person = getattr(request.state, "person", None)
    if person is not None:
        return str(person.name)
    said = request.cookies.get("vadum_who", "")
    return said if said in ROLES else ROLES[0]


def role_of(request: Request) -> str:
    """Return the role of the person signed in; "" before anybody is registered."""
    person = getattr(request.state, "person", None)
    return str(person.role) if person is not None else ""


def in_sight(request: Request, project_id: int) -> bool:
    """Return whether the person may see a project."""
    projects = getattr(request.state, "projects", None)
    return projects is None or project_id in projects


def seen(request: Request, tests: Iterable[Test]) -> list[Test]:
    """Return the tests whose project the person may see; those of equipment are everybody's."""
    return [t for t in tests if t.ground is None or in_sight(request, t.ground.project_id)]


def first_seen(request: Request, session: Session, listed: Listed, most: int, **asked: Any) -> tuple[list[Test], int]:
    """Return the first of a list that the person may see, and how many there are in all."""
    if getattr(request.state, "projects", None) is None:
        return listed.first(session, most, **asked) if most else [], listed.count(session, **asked)
    mine = seen(request, listed.first(session, None, **asked))
    return mine[:most], len(mine)


Who = Annotated[str, Depends(_who)]


def get(session: Session, table: type[T], key: int, what: str) -> T:
    """Return a row by its key.

    Raises
    ------
    NotHere
        If there is none.
    """
    row = row_of(session, table, key) if abs(key) < 2**62 else None
    if row is None:
        raise NotHere(what)
    return row


PAGES = Path(__file__).parent / "pages"


@cache
def _templates() -> Jinja2Templates:
    templates = Jinja2Templates(directory=[Path(__file__).parent / "templates", PAGES])
    templates.env.globals |= {
        "methods": METHODS,
        "roles": ROLES,
        "state_words": STATE_WORDS,
        "found_by": found_by,
        "rooms": ROOMS,
    }
    templates.env.globals |= {"url_for": _address, "may": _may}
    templates.env.trim_blocks = templates.env.lstrip_blocks = True
    return templates


# By the name of a route or file and of what its path is filled with. Every application has the same routes.
_addresses: dict[tuple[str, ...], str] = {}


def address(request: Request, name: str, /, **params: Any) -> str:
    """Return the path of a route or file by name.

    Every page asks for hundreds of them, and the router goes through all its routes each time: it is asked once.
    """
    asked = (name, *params)
    if asked not in _addresses:
        _addresses[asked] = str(request.app.url_path_for(name, **{one: f"{{{one}}}" for one in params}))
    return _addresses[asked].format_map(params)


@pass_context
def _address(context: Context, name: str, /, **params: Any) -> str:
    """Return the path of a route or file by name, as templates write it; without the host, whatever it was asked by."""
    return address(context["request"], name, **params)


@pass_context
def _may(context: Context, name: str) -> bool:
    """Return whether the route of a name is for who looks at the page."""
    return may(context["request"], name)


def to(request: Request, name: str, /, **params: Any) -> RedirectResponse:
    """Return the way to a page by its route's name, after something was posted."""
    return RedirectResponse(address(request, name, **params), 303)


def page(request: Request, template: str, status_code: int = 200, **context: Any) -> HTMLResponse:
    """Return a page rendered from a template."""
    person, stranger = getattr(request.state, "person", None), getattr(request.state, "stranger", True)
    context |= {"who": who(request), "path": request.url.path, "person": person, "stranger": stranger}
    # A walk goes from place to place of the record: a stranger is told nothing of it.
    context["tour"] = None if stranger else _tour(request)
    context["room"] = room = room_of(request.url.path)
    context["door"] = door_of(request.url.path, (address(request, route) for _, route in room.doors))
    zone: str = request.app.state.zone
    context |= {"zone_name": zone, "zone": ZoneInfo(zone) if zone else server_zone()}
    return _templates().TemplateResponse(request, template, context, status_code=status_code)


def _tour(request: Request) -> Here | None:
    """Return the stop of the walk through the laboratory that the address is at."""
    number = request.query_params.get("tour")
    if number is None:
        return None
    projects: set[int] | None = getattr(request.state, "projects", None)
    engine, seen_by = request.app.state.engine, None if projects is None else frozenset(projects)
    job, _, at = number.rpartition(".")

    def read() -> list[Stop]:
        with session_on(engine) as session:
            if not job:
                return stops(session, projects)
            walk = walks(session, projects).get(job)
            return walk.stops if walk else []

    # Where a walk goes changes when something is written, not from page to page.
    return here(hold(engine, ("walk", job, seen_by), read), at, f"{job}." if job else "")


def as_download(name: str) -> str:
    """Return the header that lets a browser keep a file under a name of plain letters."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "._- ") else "_" for c in name)
    return f'attachment; filename="{plain}"'


@cache
def template_exists(name: str) -> bool:
    # To say it the environment walks every folder of pages: the board asked for each of its lines.
    return name in _templates().env.list_templates()

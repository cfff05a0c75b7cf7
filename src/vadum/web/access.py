"""Who may do what: every request is weighed here, before its route sees it."""

from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Any, Literal
from urllib.parse import quote, unquote, urlsplit

from fastapi import HTTPException, Request
from fastapi.concurrency import run_in_threadpool
from itsdangerous import BadSignature, URLSafeSerializer
from sqlalchemy import Engine

from vadum.records.database import session_on
from vadum.records.people import anybody, current, hash_of, project_of, projects_of, whose
from vadum.records.row_number import row_number
from vadum.records.tables import Person, SignIn
from vadum.records.unchanged import held, hold
from vadum.web.nothere import NotHere

Need = Literal["open", "read", "measure", "add", "check", "manage"]
COOKIE = "vadum_session"
MAY: dict[str, frozenset[str]] = {
    "reader": frozenset({"open", "read"}),
    "technician": frozenset({"open", "read", "measure"}),
    "checker": frozenset({"open", "read", "measure", "check"}),
    "manager": frozenset({"open", "read", "measure", "add", "check", "manage"}),
}
# Whose rights a token of a scope has at most.
_SCOPES = {"read": "reader", "measure": "technician"}
# Routes that need something else than reading with GET, and measuring otherwise.
NEEDS: dict[tuple[str, str], Need] = {
    ("GET", "/sign-in"): "open",
    ("POST", "/sign-in"): "open",
    ("POST", "/sign-out"): "open",
    ("GET", "/worker.js"): "open",
    ("GET", "/manifest.webmanifest"): "open",
    ("GET", "/no-line"): "open",
    ("GET", "/api/docs"): "open",
    ("GET", "/api/methods"): "open",
    ("GET", "/api/methods/{code}"): "open",
    ("POST", "/api/reduce"): "open",
    ("POST", "/api/preparation"): "read",
    ("POST", "/api/code"): "read",
    ("POST", "/api/tests/{test_id}/preview"): "read",
    ("POST", "/api/tests/{test_id}/against"): "read",
    ("POST", "/api/plan"): "read",
    ("POST", "/api/pattern"): "read",
    ("POST", "/who"): "read",
    ("POST", "/projects"): "add",
    ("POST", "/projects/{project_id}"): "manage",
    ("POST", "/projects/{project_id}/units"): "check",
    ("POST", "/locations/{location_id}/remove"): "check",
    ("POST", "/locations/{location_id}/merge"): "check",
    ("POST", "/samples/{sample_id}/remove"): "check",
    ("POST", "/equipment"): "add",
    ("GET", "/equipment/tins"): "add",
    ("POST", "/equipment/tins"): "add",
    ("POST", "/equipment/{equipment_id}"): "manage",
    ("POST", "/equipment/{equipment_id}/remove"): "manage",
    ("POST", "/equipment/{equipment_id}/calibrations"): "manage",
    ("GET", "/archives"): "manage",
    ("POST", "/archives"): "manage",
    ("GET", "/transfer"): "manage",
    ("POST", "/transfer"): "manage",
    ("GET", "/letterhead"): "manage",
    ("POST", "/letterhead"): "manage",
    ("GET", "/letterhead/logo"): "manage",
    ("POST", "/rules"): "manage",
    ("POST", "/zone"): "manage",
    ("POST", "/hours"): "manage",
    ("POST", "/units"): "manage",
    ("POST", "/presets/{code}"): "manage",
    ("POST", "/projects/{project_id}/presets/{code}"): "manage",
    ("POST", "/projects/{project_id}/densities"): "check",
    ("POST", "/projects/{project_id}/densities/{test_id}"): "check",
    ("POST", "/projects/{project_id}/infiltration"): "check",
    ("POST", "/reports/{report_id}/issue"): "check",
    ("GET", "/people"): "manage",
    ("POST", "/people"): "manage",
    ("POST", "/people/{person_id}/deactivate"): "manage",
    ("POST", "/people/{person_id}/role"): "manage",
    ("POST", "/people/{person_id}/name"): "manage",
    ("POST", "/people/{person_id}/back"): "manage",
    ("POST", "/people/{person_id}/password"): "manage",
    ("POST", "/people/{person_id}/competence"): "check",
    ("POST", "/competence/{competence_id}/withdraw"): "check",
    ("GET", "/password"): "read",
    ("POST", "/password"): "read",
    ("POST", "/people/{person_id}/tokens"): "manage",
    ("POST", "/tokens/{token_id}/revoke"): "manage",
}
_SIGNED_OUT = (
    "You are signed out, and nothing was kept. Sign in in another tab, then go back here and look at what the form"
    " still holds."
)
_SAYS = {
    "measure": "A reader looks only: ask a technician to change this.",
    "add": "The manager does this, or lets technicians do it (Letterhead, Rules).",
    "check": "A checker or manager does this.",
    "manage": "The manager does this.",
}


class Elsewhere(HTTPException):
    """A page that is seen only after signing in."""

    def __init__(self, back: str) -> None:
        super().__init__(303, "Sign in first.", headers={"Location": f"/sign-in?back={quote(back)}"})


def need_of(method: str, path: str) -> Need:
    """Return what a route needs."""
    return NEEDS.get((method, path)) or ("read" if method in ("GET", "HEAD") else "measure")


@dataclass(frozen=True)
class _Caller:
    """Whose a secret is and which projects they see, None for all; ``person`` is None for a secret that is nobody's.

    ``registered`` is whether somebody is: before, everybody may do everything.
    """

    registered: bool
    person: Person | None = None
    entry: SignIn | None = None
    projects: set[int] | None = None


def _caller(engine: Engine, secret: str) -> _Caller:
    with session_on(engine) as session:
        found = whose(session, secret) if secret else None
        if found is None:
            return _Caller(anybody(session))
        person, entry = found
        return _Caller(True, person, entry, projects_of(session, person))


def _project(engine: Engine, names: dict[str, Any]) -> int | None:
    with session_on(engine) as session:
        return project_of(session, names)


async def allowed(request: Request) -> None:
    """Refuse what the person may not do; note who it is. Before anybody is registered everybody may do everything.

    Raises
    ------
    HTTPException
        401 or a way to the sign-in, 403 for a role or a foreign page that may not, 404 for what is not there for them.
    """
    _from_here(request)
    _plainly_numbered(request)
    need = need_of(request.method, request.scope["route"].path)
    await recognise(request)
    if request.state.stranger:
        if need == "open":
            return
        if request.url.path.startswith("/api/"):
            raise HTTPException(401, "Sign in first, or send a token.")
        if request.method != "GET":
            raise HTTPException(401, _SIGNED_OUT)
        raise Elsewhere(request.url.path)
    person, projects = getattr(request.state, "person", None), getattr(request.state, "projects", None)
    if person is None:
        return
    _as_meant(request, person.name)
    require(request, need)
    if projects is not None:
        project = await run_in_threadpool(_project, request.app.state.engine, request.path_params)
        if project is not None and project not in projects:
            raise NotHere("thing")


async def recognise(request: Request) -> None:
    """Note on a request who asks, what they may do and which projects they see; a stranger may and sees nothing.

    Before anybody is registered nobody is a stranger.
    """
    engine, (secret, scope) = request.app.state.engine, _secret(request)
    # Every key on a worksheet comes by here: known callers need neither the database nor a thread.
    key = ("caller", hash_of(secret))
    caller: _Caller = held(engine, key) or await run_in_threadpool(hold, engine, key, partial(_caller, engine, secret))
    person, entry, state = caller.person, caller.entry, request.state
    state.stranger = False
    if not caller.registered:
        return
    if person is None or entry is None or not current(entry) or (scope == "token") != bool(entry.token_name):
        state.stranger, state.may, state.projects = True, frozenset(), set()
        return
    state.person, state.entry, state.projects = person, entry, caller.projects
    state.may = rights_of(person, entry, adding=request.app.state.technicians_add)


def rights_of(person: Person, entry: SignIn, *, adding: bool = False) -> frozenset[str]:
    """Return what may be done: by a session what the role may, by a token the lesser of role and scope.

    ``adding`` is whether the laboratory lets those who measure add projects and pieces.
    """
    if entry.token_name:
        return MAY[person.role] & MAY[_SCOPES[entry.scope]]
    return MAY[person.role] | ({"add"} if adding and "measure" in MAY[person.role] else set())


def may(request: Request, name: str) -> bool:
    """Return whether the route of a name is for who asks: what is not is not offered."""
    held: frozenset[str] | None = getattr(request.state, "may", None)
    return held is None or request.app.state.needs[name] in held


def require(request: Request, need: Need) -> None:
    """Refuse what needs more than the person, or the token, may do; the one place where this is decided.

    Raises
    ------
    HTTPException
        403 if it may not be done.
    """
    if need not in getattr(request.state, "may", {need}):
        raise HTTPException(403, _SAYS.get(need, "This may not be done."))


def _as_meant(request: Request, name: str) -> None:
    """Refuse a change that a page sends which was made for somebody else: two share a browser, and the other one signed
    in in a second tab."""
    meant = unquote(request.headers.get("vadum-person", ""))
    if meant and meant != name and request.method not in ("GET", "HEAD"):
        words = f"{name} is signed in in this browser now, and this page is {meant}'s. Nothing was done"
        raise HTTPException(403, f"{words}: sign in as {meant}, or open the page again.")


def _plainly_numbered(request: Request) -> None:
    """Refuse an address whose numbers are not written in plain digits: a route would read " 3" and "3.0" as 3, and what
    is weighed here must be what it reads."""
    numbers = (given for name, given in request.path_params.items() if name.endswith("_id"))
    if any(row_number(given) is None for given in numbers):
        raise NotHere("thing")


def _from_here(request: Request) -> None:
    """Refuse a change that another site's page sends with this browser's cookies."""
    if request.method in ("GET", "HEAD"):
        return
    site, origin = request.headers.get("sec-fetch-site"), request.headers.get("origin")
    foreign = site not in (None, "same-origin", "none")
    if origin and origin != "null":
        foreign = foreign or urlsplit(origin).netloc != request.headers.get("host", "")
    if foreign or origin == "null":
        raise HTTPException(403, "This came from another site's page; open Vadum itself.")


def _secret(request: Request) -> tuple[str, str]:
    """Return the secret of a token or of the session's cookie, and which of them it is."""
    kind, _, given = request.headers.get("authorization", "").partition(" ")
    if kind.lower() == "bearer" and given:
        return given.strip(), "token"
    return _of_cookie(request.app.state.cookie_key, request.cookies.get(COOKIE, ""))


@lru_cache(64)
def _of_cookie(key: str, cookie: str) -> tuple[str, str]:
    """Return the secret in a session's cookie, when it was signed with a key."""
    try:
        return str(_signer(key).loads(cookie)), "session"
    except BadSignature:
        return "", ""


def signer(request: Request) -> URLSafeSerializer:
    """Return what signs the cookies of this laboratory, with the key that lies in its database."""
    return _signer(request.app.state.cookie_key)


def _signer(key: str) -> URLSafeSerializer:
    return URLSafeSerializer(key, salt="session")

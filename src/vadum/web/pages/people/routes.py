"""Signing in and out, and the people of the laboratory with their tokens."""

from hmac import compare_digest
from math import ceil
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlmodel import Session, col, select

from vadum.records import people
from vadum.records.row_number import row_numbers
from vadum.records.tables import Person, Project, SignIn
from vadum.web.access import COOKIE, signer
from vadum.web.attempts import HASHING
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, get, page, to

router = APIRouter()
_TWELVE_HOURS = 43_200


@router.get("/sign-in", response_class=HTMLResponse)
def sign_in_page(request: Request, session: Db, back: str = "/") -> HTMLResponse:
    return _sign_in_page(request, session, back)


def _sign_in_page(request: Request, session: Session, back: str, problem: str = "", status: int = 200) -> HTMLResponse:
    by_click = []
    if request.app.state.demo:
        by_click = list(
            session.exec(
                select(Person).where(Person.password_hash == "", col(Person.active)).order_by(col(Person.id))
            ).all()
        )
    return page(
        request, "people/sign-in.html", status_code=status, back=_inside(back), problem=problem, by_click=by_click
    )


@router.post("/sign-in", response_class=HTMLResponse)
def sign_in(
    request: Request,
    session: Db,
    name: Annotated[str, Form(max_length=80)],
    password: Annotated[str, Form(max_length=400)] = "",
    back: Annotated[str, Form()] = "/",
) -> Response:
    attempts, address = request.app.state.attempts, request.client.host if request.client else ""
    if (wait := attempts.begin(name, address)) > 0:
        return _sign_in_page(request, session, back, f"Too many tries. Wait {ceil(wait / 60)} min.", 429)
    with HASHING:
        person = people.by_password(session, name, password)
    if person is None and request.app.state.demo and not password:
        person = session.exec(
            select(Person).where(Person.name == name, Person.password_hash == "", col(Person.active))
        ).first()
    if person is None:
        return _sign_in_page(request, session, back, "Name and password do not fit.", 401)
    attempts.succeeded(name, address)
    response = RedirectResponse(_inside(back), 303)
    response.set_cookie(
        COOKIE,
        signer(request).dumps(people.sign_in(session, person)),
        max_age=_TWELVE_HOURS,
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )
    return response


@router.post("/sign-out")
def sign_out(request: Request, session: Db) -> RedirectResponse:
    """End the session on the server: the cookie is worth nothing from now on, wherever it is."""
    entry = getattr(request.state, "entry", None)
    if entry is not None:
        people.end(session, get(session, SignIn, entry.id, "session"))
    response = to(request, "sign_in_page")
    response.delete_cookie(COOKIE)
    return response


@router.get("/people", response_class=HTMLResponse)
def people_page(request: Request, session: Db) -> HTMLResponse:
    return _people_page(request, session)


def _people_page(request: Request, session: Session, **more: Any) -> HTMLResponse:
    tokens = session.exec(select(SignIn).where(SignIn.token_name != "").order_by(col(SignIn.id))).all()
    return page(
        request,
        "people/people.html",
        status_code=422 if more.get("problem") else 200,
        everybody=session.exec(select(Person).order_by(Person.name)).all(),
        tokens=tokens,
        projects=session.exec(select(Project).order_by(Project.name)).all(),
        roles_known=people.ROLE_NAMES,
        least=people.LEAST_PASSWORD,
        code_wanted=not people.anybody(session),
        **more,
    )


@router.post("/people", response_class=HTMLResponse)
def add(request: Request, session: Db, form: Posted) -> Response:
    """Register a person."""
    code = request.app.state.first_code
    if not people.anybody(session) and not (code and compare_digest(str(form.get("code", "")), code)):
        said = (
            "The first manager registers with the code that was printed when Vadum was started, or by vadum user add."
        )
        return _people_page(request, session, problem=said, typed=dict(form))
    chosen = sorted(row_numbers(form.getlist("projects")))
    password = str(form.get("password", ""))
    try:
        if not password:
            raise people.PeopleError("Give a password.")
        with HASHING:
            people.add_person(session, str(form.get("name", "")), str(form.get("role", "")), password, chosen or None)
    except people.PeopleError as error:
        return _people_page(request, session, problem=str(error), typed=dict(form))
    return to(request, "people_page")


@router.post("/people/{person_id}/deactivate", response_class=HTMLResponse)
def deactivate(request: Request, session: Db, person_id: int) -> Response:
    try:
        people.deactivate(session, get(session, Person, person_id, "person"))
    except people.PeopleError as error:
        return _people_page(request, session, problem=str(error))
    return to(request, "people_page")


@router.post("/people/{person_id}/back")
def bring_back(request: Request, session: Db, person_id: int) -> RedirectResponse:
    people.bring_back(session, get(session, Person, person_id, "person"))
    return to(request, "people_page")


@router.post("/people/{person_id}/password", response_class=HTMLResponse)
def reset_password(request: Request, session: Db, person_id: int) -> HTMLResponse:
    """Give somebody who forgot theirs a new password; it is shown once."""
    person = get(session, Person, person_id, "person")
    with HASHING:
        given = people.reset_password(session, person)
    return _people_page(request, session, secret=given, secret_of=f"Password of {person.name}")


@router.post("/people/{person_id}/role", response_class=HTMLResponse)
def change_role(
    request: Request,
    session: Db,
    person_id: int,
    role: Annotated[str, Form(max_length=40)],
    function: Annotated[str, Form(max_length=80)] = "",
) -> Response:
    """Let somebody work in another role from now on, and say what they are in the laboratory."""
    try:
        people.change_role(session, get(session, Person, person_id, "person"), role, function)
    except people.PeopleError as error:
        return _people_page(request, session, problem=str(error))
    return to(request, "people_page")


@router.post("/people/{person_id}/name", response_class=HTMLResponse)
def change_name(
    request: Request, session: Db, person_id: int, name: Annotated[str, Form(max_length=80)] = ""
) -> Response:
    """Put a name right that was mistyped, before anything is signed with it."""
    try:
        people.rename(session, get(session, Person, person_id, "person"), name)
    except people.PeopleError as error:
        return _people_page(request, session, problem=str(error))
    return to(request, "people_page")


@router.get("/password", response_class=HTMLResponse)
def password_page(request: Request) -> HTMLResponse:
    return page(request, "people/password.html", least=people.LEAST_PASSWORD)


@router.post("/password", response_class=HTMLResponse)
def change_password(
    request: Request,
    session: Db,
    present: Annotated[str, Form(max_length=400)] = "",
    new: Annotated[str, Form(max_length=400)] = "",
    again: Annotated[str, Form(max_length=400)] = "",
) -> Response:
    """Change one's own password; all other sessions of the person end."""
    signed, entry = getattr(request.state, "person", None), getattr(request.state, "entry", None)
    if signed is None or entry is None or entry.token_name:
        raise NotHere("person signed in")
    person, address = get(session, Person, signed.id, "person"), request.client.host if request.client else ""
    problem = "The new password is not the same twice." if new != again else ""
    if not problem and request.app.state.attempts.begin(person.name, address) > 0:
        problem = "Too many tries. Wait a few minutes."
    if not problem:
        with HASHING:
            try:
                if people.by_password(session, person.name, present) is None and person.password_hash:
                    raise people.PeopleError("The present password does not fit.")
                people.change_password(session, person, new, keep=entry)
            except people.PeopleError as error:
                problem = str(error)
    if problem:
        return page(request, "people/password.html", status_code=422, least=people.LEAST_PASSWORD, problem=problem)
    request.app.state.attempts.succeeded(person.name, address)
    return page(request, "people/password.html", least=people.LEAST_PASSWORD, done=True)


@router.post("/people/{person_id}/tokens", response_class=HTMLResponse)
def make_token(
    request: Request,
    session: Db,
    person_id: int,
    name: Annotated[str, Form(min_length=1, max_length=80)],
    scope: Annotated[people.Scope, Form()] = "read",
) -> HTMLResponse:
    """Make a token; its secret is shown once."""
    person = get(session, Person, person_id, "person")
    secret = people.sign_in(session, person, token_name=name, scope=scope)
    return _people_page(request, session, secret=secret, secret_of=f"Token {name}")


@router.post("/tokens/{token_id}/revoke")
def revoke(request: Request, session: Db, token_id: int) -> RedirectResponse:
    token = get(session, SignIn, token_id, "token")
    if not token.token_name:
        raise NotHere("token")
    people.end(session, token)
    return to(request, "people_page")


def _inside(back: str) -> str:
    return back if back.startswith("/") and not back.startswith(("//", "/\\")) else "/"

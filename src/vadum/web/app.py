"""The application factory."""

import secrets
from collections.abc import Iterable
from pathlib import Path

from fastapi import Depends, FastAPI
from fastapi.staticfiles import StaticFiles

from vadum import __version__
from vadum.instruments.client import DEFAULT_PORT, Line
from vadum.records.database import open_database, session_on
from vadum.records.people import anybody, cookie_key
from vadum.web import errors
from vadum.web.access import allowed
from vadum.web.attempts import Attempts
from vadum.web.guard import Guard
from vadum.web.routes import (
    api,
    archives,
    attachments,
    board,
    calibrations,
    cylinders,
    equipment,
    guide,
    history,
    imports,
    instruments,
    letterhead,
    people,
    places,
    plan,
    positions,
    practice,
    preparation,
    reducing,
    reports,
    results,
    searching,
    sheets,
    start,
    summary,
    transfer,
    uncertainty,
    worksheet,
)

STATIC = Path(__file__).parent / "static"


def create_app(
    database: Path, instruments_port: int = DEFAULT_PORT, *, demo: bool = False, names: Iterable[str] = ()
) -> FastAPI:
    """Return the application on a database file, which is made or migrated as needed, with a line to the instruments.

    In a ``demo`` people without a password sign in by a click. ``names`` are those it answers to beside its machine's
    own. ``app.state.first_code`` is the one-time code with which the first manager registers; "" when there is
    somebody.
    """
    app = FastAPI(
        title="Vadum",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        dependencies=[Depends(allowed)],
    )
    app.state.demo = demo
    app.state.attempts = Attempts()
    app.state.report_processes = {}
    app.state.engine = open_database(database)
    with session_on(app.state.engine) as session:
        app.state.cookie_key = cookie_key(session)
        app.state.first_code = "" if anybody(session) else secrets.token_hex(4)
    app.state.instruments = Line(port=instruments_port)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for module in (
        start,
        places,
        worksheet,
        sheets,
        attachments,
        equipment,
        api,
        reducing,
        results,
        preparation,
        cylinders,
        imports,
        board,
        plan,
        positions,
        instruments,
        practice,
        people,
        history,
        searching,
        calibrations,
        archives,
        transfer,
        uncertainty,
        letterhead,
        summary,
        reports,
        guide,
    ):
        app.include_router(module.router, responses=errors.ANSWERS)
    errors.install(app)

    app.add_middleware(Guard, names=names)
    return app

"""The application factory."""

from pathlib import Path

from fastapi import Depends, FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from vadum import __version__
from vadum.instruments.client import DEFAULT_PORT, Line
from vadum.records.database import open_database, session_on
from vadum.records.people import cookie_key
from vadum.web import errors
from vadum.web.access import Attempts, allowed
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
LARGEST_BODY = 8_000_000
LARGEST_DRAINED = 200_000_000

_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


class Guard:
    """Refuses bodies too large by their own account and adds the security headers; plain ASGI, since every keystroke passes."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(_HEADERS)
            await send(message)

        length = Headers(scope=scope).get("content-length", "0")
        if length.isdigit() and int(length) > LARGEST_BODY:
            # Read to its end and thrown away: a browser cut off in the middle would say that the line is down.
            if int(length) <= LARGEST_DRAINED:
                while (await receive()).get("more_body"):
                    pass
            said = f"The file has {int(length) / 1e6:.0f} MB; at most {LARGEST_BODY / 1e6:.0f} MB are read."
            await errors.answer(413, said)(scope, receive, guarded)
            return
        await self.app(scope, receive, guarded)


def create_app(database: Path, instruments_port: int = DEFAULT_PORT, *, demo: bool = False) -> FastAPI:
    """Return the application on a database file, which is made or migrated as needed, with a line to the instruments.

    In a ``demo`` people without a password sign in by a click.
    """
    app = FastAPI(
        title="Vadum", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json",
        dependencies=[Depends(allowed)],
    )  # fmt: skip
    app.state.demo = demo
    app.state.attempts = Attempts()
    app.state.report_processes = {}
    app.state.engine = open_database(database)
    with session_on(app.state.engine) as session:
        app.state.cookie_key = cookie_key(session)
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

    app.add_middleware(Guard)
    return app

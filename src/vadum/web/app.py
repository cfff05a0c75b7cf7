"""The application factory."""

from collections.abc import Awaitable, Callable
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.staticfiles import StaticFiles

from vadum import __version__
from vadum.records.database import open_database
from vadum.web import errors
from vadum.web.routes import api, equipment, places, reducing, sheets, start, worksheet

STATIC = Path(__file__).parent / "static"
LARGEST_BODY = 8_000_000

_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


def create_app(database: Path) -> FastAPI:
    """Return the application on a database file, which is made or migrated as needed."""
    app = FastAPI(title="Vadum", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json")
    app.state.engine = open_database(database)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for module in (start, places, worksheet, sheets, equipment, api, reducing):
        app.include_router(module.router)
    errors.install(app)

    @app.middleware("http")
    async def guard(request: Request, proceed: Callable[[Request], Awaitable[Response]]) -> Response:
        length = request.headers.get("content-length", "0")
        if length.isdigit() and int(length) > LARGEST_BODY:
            return errors.answer(
                413, f"The file has {int(length) / 1e6:.0f} MB; at most {LARGEST_BODY / 1e6:.0f} MB are read."
            )
        response = await proceed(request)
        response.headers.update(_HEADERS)
        return response

    return app

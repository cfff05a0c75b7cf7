"""The application factory."""

import asyncio
import secrets
from collections.abc import Iterable, Sequence
from functools import cache
from pathlib import Path

from fastapi import APIRouter, Depends, FastAPI
from starlette.middleware.gzip import DEFAULT_EXCLUDED_CONTENT_TYPES, GZipMiddleware
from starlette.routing import BaseRoute

from vadum import __version__
from vadum.exchange import workbook
from vadum.instruments.benches import Benches
from vadum.instruments.client import DEFAULT_PORT, BenchLine
from vadum.records.database import open_database, session_on
from vadum.records.people import anybody, cookie_key
from vadum.records.rules import rules_of
from vadum.records.zone import zone_name
from vadum.web import errors, files
from vadum.web.access import allowed, need_of
from vadum.web.attempts import Attempts
from vadum.web.guard import Guard
from vadum.web.routers import ROUTERS

# What would be no smaller.
_PACKED = (*DEFAULT_EXCLUDED_CONTENT_TYPES, "application/pdf", "application/octet-stream", workbook.MEDIA_TYPE)


@cache
def _routes() -> tuple[BaseRoute, ...]:
    """Return every route, weighed before it is gone: put together once, however many laboratories a process opens."""
    every = APIRouter(dependencies=[Depends(allowed)])
    for router in ROUTERS:
        every.include_router(router, responses=errors.ANSWERS)
    return tuple(every.routes)


def create_app(
    database: Path,
    instruments_port: int | Sequence[int] = DEFAULT_PORT,
    *,
    demo: bool = False,
    names: Iterable[str] = (),
) -> FastAPI:
    """Return the application on a database file, which is made or migrated as needed, with a line to the instruments.

    In a ``demo`` people without a password sign in by a click. ``names`` are those it answers to beside its machine's
    own. ``app.state.first_code`` is the one-time code with which the first manager registers; "" when there is
    somebody.
    """
    app = FastAPI(title="Vadum", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json")
    app.state.demo = demo
    app.state.attempts = Attempts()
    app.state.forms = asyncio.Lock()
    app.state.report_processes = {}
    app.state.engine = open_database(database)
    with session_on(app.state.engine) as session:
        app.state.cookie_key = cookie_key(session)
        app.state.zone = zone_name(session)
        app.state.technicians_add = rules_of(session).technicians_add
        app.state.first_code = "" if anybody(session) else secrets.token_hex(4)
    ports = (instruments_port,) if isinstance(instruments_port, int) else tuple(instruments_port)
    app.state.instruments = Benches([BenchLine(port=port) for port in ports])
    files.install(app)
    app.state.needs = {r.name: need_of(next(iter(r.methods)), r.path) for router in ROUTERS for r in router.routes}
    app.router.routes.extend(_routes())
    errors.install(app)

    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=1, exclude_content_types=_PACKED)
    app.add_middleware(Guard, names=names)
    return app

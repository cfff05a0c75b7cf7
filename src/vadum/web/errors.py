"""Every failure as a plain message: JSON for scripts and the worksheet, a page for people."""

import logging
from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse
from sqlalchemy.exc import DatabaseError, IntegrityError
from starlette.exceptions import HTTPException as StarletteHTTPException

from vadum.diagnosis import request_id
from vadum.exchange.bench_file import BenchFileError
from vadum.records.history import NoSuchRevision, differences
from vadum.records.saving import BadSettings, LockedTest, ReusedKey, StaleSave
from vadum.records.states import RefusedMove
from vadum.soil.contract.cells import UnknownCell
from vadum.soil.contract.complaint import Complaint, complaints, of_faults
from vadum.soil.registry import UnknownMethod
from vadum.soil.registry import method as method_of
from vadum.web.access import recognise
from vadum.web.rendering import page

_log = logging.getLogger(__name__)
_PROBLEM: dict[str, Any] = {
    "application/json": {
        "schema": {
            "type": "object",
            "required": ["message"],
            "properties": {
                "message": {"type": "string"},
                "faults": {"type": "array", "items": Complaint.model_json_schema()},
            },
        }
    },
    "text/html": {"schema": {"type": "string"}},
}
_AT_ONCE = "Somebody did the same at the same moment; nothing of this was kept. Look, then do it again."
# What every route may answer besides its own: JSON for scripts, a page for people.
ANSWERS: dict[int | str, dict[str, Any]] = {
    303: {"description": "Done; look at the address in Location"},
    "4XX": {"description": "Not taken, and why", "content": _PROBLEM},
    507: {"description": "The database cannot be written; nothing of this was kept", "content": _PROBLEM},
}


def answer(status: int, message: str, **more: Any) -> JSONResponse:
    return JSONResponse({"message": message, **more}, status_code=status)


def install(app: FastAPI) -> None:
    """Install a handler for each failure the records and the core name: the status, what is said, and what scripts are
    told besides."""
    simple: dict[type[Exception], Callable[[Any], tuple[int, str, dict[str, Any]]]] = {
        LockedTest: lambda e: (423, str(e), {}),
        UnknownCell: lambda e: (422, str(e), {}),
        NoSuchRevision: lambda e: (404, str(e), {}),
        UnknownMethod: lambda e: (404, str(e), {}),
        RefusedMove: lambda e: (409, str(e), {}),
        ReusedKey: lambda e: (409, str(e), {}),
        BadSettings: lambda e: (
            422,
            "A setting cannot be taken.",
            {"faults": [fault.model_dump() for fault in complaints(e.error, "settings")]},
        ),
        BenchFileError: lambda e: (
            422,
            "The bench file cannot be taken.",
            {"faults": [fault.model_dump() for fault in e.faults]},
        ),
        # A number beyond what the database holds names nothing here.
        UnicodeEncodeError: lambda _: (422, "A text holds half a sign, which cannot be kept; type it again.", {}),
        OverflowError: lambda _: (404, "There is no such thing in this laboratory.", {}),
        StaleSave: lambda e: (409, "This sheet was changed in between.", {"conflict": conflict(e)}),
        # Two did at the same moment what can be there once.
        IntegrityError: lambda _: (409, _AT_ONCE, {}),
        DatabaseError: lambda e: (507, _storage(e), {}),
    }
    for kind, say in simple.items():
        app.add_exception_handler(kind, _handler(say))
    app.add_exception_handler(RequestValidationError, _bad_request)
    app.add_exception_handler(StarletteHTTPException, _refused)


def _handler(say: Callable[[Any], tuple[int, str, dict[str, Any]]]) -> Callable[[Request, Exception], Response]:
    def told(request: Request, error: Exception) -> Response:
        status, message, more = say(error)
        return _told(request, status, message, more)

    return told


def _told(request: Request, status: int, message: str, more: dict[str, Any]) -> Response:
    """Return what is wrong: plain data for scripts and the worksheet, a page for people."""
    if request.url.path.startswith("/api/"):
        return answer(status, message, **more)
    places = [f"{fault['place'].rpartition('.')[2]}: {fault['message']}." for fault in more.get("faults", ())]
    return _http(request, StarletteHTTPException(status, " ".join([message, *places])))


def _bad_request(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    if all(fault["loc"][0] == "path" for fault in error.errors()):
        return _http(request, StarletteHTTPException(404, "There is no such thing in this laboratory."))
    faults = [fault.model_dump() for fault in of_faults(error.errors())]
    return _told(request, 422, "The request cannot be read.", {"faults": faults})


async def _refused(request: Request, error: Exception) -> Response:
    # An address that is nobody's has no door at which it was asked who comes.
    if not hasattr(request.state, "stranger"):
        await recognise(request)
    return _http(request, error)


def _http(request: Request, error: Exception) -> Response:
    assert isinstance(error, StarletteHTTPException)
    if error.status_code == 303 and error.headers:
        return RedirectResponse(error.headers["Location"], 303)
    if request.url.path.startswith("/api/"):
        return answer(error.status_code, str(error.detail))
    heading = {401: "Sign in first", 403: "Not allowed", 404: "Not found"}.get(error.status_code, "It did not work")
    return page(request, "problem.html", status_code=error.status_code, heading=heading, problem=_in_words(error))


def _in_words(error: StarletteHTTPException) -> str:
    """Return what is wrong; what is said of an address that leads nowhere is the protocol's own phrase."""
    phrases = {404: "There is no page at this address.", 405: "This cannot be done at this address."}
    said = str(error.detail)
    return phrases.get(error.status_code, said) if said == HTTPStatus(error.status_code).phrase else said


def unforeseen(request: Request, error: Exception) -> Response:
    """Log what nobody foresaw, whole, and answer with the number under which it stands there."""
    number = request_id()
    _log.error("%s %s", request.method, request.url.path, exc_info=error)
    said = f"Something went wrong in here; nothing of this was kept. It is in the log under {number}."
    return _http(request, StarletteHTTPException(500, said))


def _storage(error: DatabaseError) -> str:
    """Return what is wrong with the database in words; nothing of the change was kept then."""
    said = str(error.orig).lower()
    words = {
        "full": "The server's disk is full",
        "readonly": "The database may not be written to",
        "locked": "The database is held by another program",
        "malformed": "The database is damaged; restore a copy",
        "not a database": "The database is damaged; restore a copy",
    }
    why = next((word for part, word in words.items() if part in said), "The database does not answer")
    return f"{why}. Nothing of this was kept; what was acknowledged before is safe."


def conflict(stale: StaleSave) -> dict[str, Any]:
    """Return both versions of a sheet that two people changed, and the cells in which they differ."""
    model = method_of(stale.theirs.method).Readings
    changed = differences(
        model, (stale.theirs.readings, stale.theirs.unread), (stale.yours.readings, stale.yours.unread)
    )
    newest = next(iter(stale.since), None)
    return {
        "revision": stale.theirs.revision,
        "who": newest.who if newest else "",
        "at": newest.at.isoformat() if newest else "",
        "keys": [revision.save_key for revision in stale.since],
        "differences": [{"path": path, "theirs": theirs, "yours": yours} for path, theirs, yours in changed],
    }

"""The field pack: which pages and files a device needs for some tests, and the worker that shows them without a
line."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse
from sqlmodel import col, or_, select

from vadum.records.apart import told_apart
from vadum.records.saving import LOCKED
from vadum.records.tables import Location, Sample, Test
from vadum.soil.registry import METHODS
from vadum.web.files import release, sent
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, address, get, in_sight, page, seen

router = APIRouter()
_WORKER = Path(__file__).parent / "worker.js"
# The documentation of the API stays at home.
_AT_HOME = "static/vendor/swagger-ui"


@router.get("/with-me", response_class=HTMLResponse)
def pack_page(request: Request) -> HTMLResponse:
    """Show what this device has taken along; what is on it only the device knows."""
    return page(request, "pack/pack.html", release=release())


@router.get("/no-line", response_class=HTMLResponse)
def no_line(request: Request) -> HTMLResponse:
    """Show what stands in for a page that is not on the device."""
    return page(request, "pack/no-line.html")


@router.get("/worker.js", include_in_schema=False)
def worker() -> FileResponse:
    """Return the worker; it stands at the root, since it looks after every page."""
    return FileResponse(_WORKER, media_type="text/javascript", headers={"Cache-Control": "no-cache"})


@router.get("/manifest.webmanifest", include_in_schema=False)
def manifest(request: Request) -> JSONResponse:
    """Return what a phone needs to put Vadum on its home screen."""
    icon = address(request, "static", path="icon.svg")
    sized = [
        {"src": address(request, "static", path=f"icon-{n}.png"), "sizes": f"{n}x{n}", "type": "image/png"}
        for n in (192, 512)
    ]
    told = {
        "name": "Vadum",
        "short_name": "Vadum",
        "description": "Soil tests in the laboratory and in the ground",
        "start_url": address(request, "pack_page"),
        "scope": "/",
        "display": "standalone",
        "background_color": "#f7f3e8",
        "theme_color": "#1d2b31",
        "icons": [{"src": icon, "sizes": "any", "type": "image/svg+xml"}, *sized],
    }
    return JSONResponse(told, media_type="application/manifest+json")


@router.get("/api/clock")
def clock(request: Request) -> dict[str, str]:
    """Return the laboratory's time and who is signed in, for a page that was kept on a device and cannot know it."""
    person = getattr(request.state, "person", None)
    return {"serverTime": datetime.now(UTC).isoformat(), "who": person.name if person else ""}


@router.get("/api/pack")
def pack(
    request: Request,
    session: Db,
    location: int | None = None,
    test: Annotated[list[int] | None, Query(max_length=60)] = None,
) -> dict[str, Any]:
    """Return what is needed for the open tests of a location, or for some tests: their pages, and the files of all."""
    query = select(Test).where(col(Test.id).in_(test or []))
    title = "chosen tests"
    if location is not None:
        place = get(session, Location, location, "location")
        if not in_sight(request, place.project_id):
            raise NotHere("location")
        samples = select(Sample.id).where(Sample.location_id == place.id)
        query = select(Test).where(or_(col(Test.location_id) == place.id, col(Test.sample_id).in_(samples)))
        title = place.name
    tests = [one for one in seen(request, session.exec(query)) if one.state not in LOCKED]
    return {
        "title": title,
        "version": release(),
        "serverTime": datetime.now(UTC).isoformat(),
        "tests": [_listed(request, one, called) for one, called in zip(tests, told_apart(tests).values(), strict=True)],
        "files": files(request),
    }


def _listed(request: Request, test: Test, called: str) -> dict[str, Any]:
    sheet, run = (address(request, name, test_id=test.id) for name in ("worksheet", "run"))
    words = f"{called}: {METHODS[test.method].title}"
    return {"test": test.id, "words": words, "pages": [sheet, run, f"{run}?one=1"]}


def files(request: Request) -> list[str]:
    """Return the addresses of every script, style, font and picture that pages are made of."""
    shown = (of.split("/", 1) for of in sorted(sent()) if not of.startswith(_AT_HOME))
    found = [address(request, name, path=path) for name, path in shown]
    return [address(request, "no_line"), *found]

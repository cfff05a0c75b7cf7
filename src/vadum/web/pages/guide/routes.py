"""Help that ships with the application: the walk through the laboratory, a page per method, the symbols and words."""

from functools import cache
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from vadum.report.method_page import method_page
from vadum.soil.glossary import glossary
from vadum.soil.registry import METHODS, UnknownMethod
from vadum.soil.registry import method as method_of
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, page
from vadum.web.tour import stops
from vadum.web.walks import walks

router = APIRouter(prefix="/help")
# What this application means by its words.
WORDS = (
    (
        "finding",
        (
            "something about the readings that a person should know: a stop keeps the result from being reported, a"
            " warning does not, a note explains"
        ),
    ),
    ("reportable", "complete, and without a stop"),
    ("school", "one of several accepted ways of reducing the same readings; the sheet prints which"),
    ("left out", "kept on record, with its reason, and not used"),
    ("handle", "a grip on a line of the figure that a person may draw otherwise; it is recorded and printed"),
    ("leans on", "takes a result of another test, with its source; it is renewed when that one changes"),
    ("checked", "looked over by a second person; from then on read-only until it is reopened with a reason"),
    ("issued", "numbered and frozen with its hash; a later one may replace it"),
    ("cautious value", "a suggestion for the engineer from the values alone, never a design value"),
)


@router.get("", response_class=HTMLResponse)
def contents(request: Request, session: Db) -> HTMLResponse:
    projects: set[int] | None = getattr(request.state, "projects", None)
    return page(
        request,
        "guide/help.html",
        methods_known=METHODS.values(),
        tour_stops=stops(session, projects),
        job_walks={name: walk for name, walk in walks(session, projects).items() if walk.stops},
    )


@router.get("/glossary", response_class=HTMLResponse)
def symbols(request: Request, words: str = "") -> HTMLResponse:
    """Return the symbols of all methods, or those with these words."""
    wanted = words[:80].casefold().split()
    entries = [
        e
        for e in glossary()
        if all(
            w in f"{e.symbol} {e.meaning} {' '.join(METHODS[m].title for m in e.methods)}".casefold() for w in wanted
        )
    ]
    return page(request, "guide/glossary.html", entries=entries, typed=words[:80], terms=WORDS)


@router.get("/methods/{code}", response_class=HTMLResponse)
def about(request: Request, code: str) -> HTMLResponse:
    """Return the page of a method: equations with their sources, readings, schools, procedure, cautions."""
    try:
        method = method_of(code)
    except UnknownMethod as error:
        raise NotHere("method") from error
    return page(request, "guide/method.html", method=method, written=_written(method))


@cache
def _written(method: Any) -> str:
    from markdown_it import MarkdownIt

    html: str = (
        MarkdownIt("commonmark", {"html": False}).enable("table").render(method_page(method, in_application=True))
    )
    return html

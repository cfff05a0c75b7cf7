"""Search over projects, places, samples, tests and equipment."""

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse

from vadum.records.search import search
from vadum.web.rendering import Db, page

router = APIRouter()


@router.get("/search", response_class=HTMLResponse)
def search_page(request: Request, session: Db, q: str = Query("", max_length=200)) -> HTMLResponse:
    found = search(session, q, getattr(request.state, "projects", None))
    return page(request, "search/search.html", q=q, found=found)

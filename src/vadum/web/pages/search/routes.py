"""Search over projects, places, samples, tests and equipment."""

import re
from typing import Annotated

from fastapi import APIRouter, File, HTTPException, Query, Request, Response, UploadFile
from fastapi.responses import HTMLResponse

from vadum.records.apart import told_apart
from vadum.records.scanned import NoCode, code_in
from vadum.records.search import MOST, search
from vadum.web.rendering import Db, page, to
from vadum.web.turning import turning

router = APIRouter()
_OF_SAMPLE = re.compile(r"^https?://[^/\s]+/samples/(\d{1,9})$")


@router.get("/search", response_class=HTMLResponse)
def search_page(
    request: Request, session: Db, q: str = Query("", max_length=200), skip: int = Query(0, ge=0, le=100_000)
) -> Response:
    # A scanner types what a label's code says: the address of a sample's page, whatever the server was called then.
    if scanned := _OF_SAMPLE.search(q.strip()):
        return to(request, "sample", sample_id=int(scanned[1]))
    found = search(session, q, getattr(request.state, "projects", None), skip)
    turn = turning("search_page", skip, MOST, more=found.more, q=q)
    called = told_apart(found.tests, projects=True)
    return page(request, "search/search.html", q=q, found=found, called=called, turn=turn)


@router.post("/api/code")
def code(file: Annotated[UploadFile, File()]) -> dict[str, str]:
    """Return what the code in a picture of a label says."""
    try:
        return {"code": code_in(file.file.read())}
    except NoCode as error:
        raise HTTPException(422, str(error)) from error

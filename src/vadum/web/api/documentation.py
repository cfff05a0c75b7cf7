"""The interface's own documentation page, from shipped files."""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from vadum.web.rendering import page

router = APIRouter(prefix="/api")


@router.get("/docs", response_class=HTMLResponse, include_in_schema=False)
def docs(request: Request) -> HTMLResponse:
    return page(request, "documentation.html")

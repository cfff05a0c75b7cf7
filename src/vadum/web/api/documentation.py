"""The interface's own documentation page, from shipped files."""

from fastapi import APIRouter
from fastapi.responses import HTMLResponse

router = APIRouter(prefix="/api")

_PAGE = """<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Vadum: HTTP interface</title>
<link rel="stylesheet" href="/static/vendor/swagger-ui/swagger-ui.css"></head><body><div id="api"></div>
<script src="/static/vendor/swagger-ui/swagger-ui-bundle.js"></script><script src="/static/js/api-docs.js"></script>
</body></html>"""


@router.get("/docs", response_class=HTMLResponse, include_in_schema=False)
def docs() -> str:
    return _PAGE

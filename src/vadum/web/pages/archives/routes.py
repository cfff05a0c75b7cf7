"""Projects out as one file, and in again after a look at what would come."""

import hashlib
from typing import Annotated

from fastapi import APIRouter, File, Request, UploadFile
from fastapi.responses import HTMLResponse, Response

from vadum.records.archive import ArchiveError, bring_in, export, preview
from vadum.records.tables import Project
from vadum.web.rendering import Db, get, page, to

router = APIRouter()


@router.get("/projects/{project_id}/archive.zip", response_class=Response)
def archive(session: Db, project_id: int) -> Response:
    """Return a project with everything in it."""
    project = get(session, Project, project_id, "project")
    name = "".join(c if c.isascii() and c.isalnum() else "-" for c in project.name.lower())
    headers = {"Content-Disposition": f'attachment; filename="{name}.vadum.zip"'}
    return Response(export(session, project), media_type="application/zip", headers=headers)


@router.get("/archives", response_class=HTMLResponse)
def archives_page(request: Request) -> HTMLResponse:
    return page(request, "archives/archives.html")


@router.post("/archives", response_class=HTMLResponse)
def archive_received(
    request: Request, session: Db, file: Annotated[UploadFile, File()], seen_sha256: str = ""
) -> Response:
    """Show what an archive would bring; with the hash of what was seen, bring it in."""
    data = file.file.read()
    sha = hashlib.sha256(data).hexdigest()
    try:
        if seen_sha256 == sha:
            return to(request, "project", project_id=bring_in(session, data).id)
        found = preview(session, data)
    except ArchiveError as error:
        return page(request, "archives/archives.html", status_code=422, problem=str(error), name=file.filename)
    return page(request, "archives/archives.html", found=found, sha=sha, name=file.filename)

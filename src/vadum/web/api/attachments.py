"""Files kept with a test: photographs taken at the bench, and the files readings came from."""

from typing import Annotated

from fastapi import APIRouter, File, Form, HTTPException, Response, UploadFile
from fastapi.responses import JSONResponse
from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.records.attachments import FILE, PHOTOGRAPH, attach_photograph, attachments_of, media_type_of
from vadum.records.photographs import PhotographError
from vadum.records.saving import LockedTest, locked
from vadum.records.tables import Attachment, Test, now
from vadum.web.guard import SANDBOXED
from vadum.web.rendering import Db, Who, as_download, get

router = APIRouter()
_FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


class Removal(BaseModel):
    reason: str = Field(min_length=2, max_length=400)


@router.get("/api/tests/{test_id}/attachments")
def listed(session: Db, test_id: int) -> Response:
    """Return the test's attachments, oldest first."""
    return JSONResponse(_shown(session, get(session, Test, test_id, "test")))


@router.post("/api/tests/{test_id}/photographs", status_code=201)
def add_photograph(
    session: Db,
    who: Who,
    test_id: int,
    file: Annotated[UploadFile, File()],
    caption: Annotated[str, Form(max_length=400)] = "",
    keep_position: Annotated[bool, Form()] = False,
    beside: Annotated[str, Form(max_length=40, pattern=r"^[a-z-]*$")] = "",
    taken_by: Annotated[str, Form(max_length=80)] = "",
) -> Response:
    """Keep a photograph with a test; where it was taken is taken out unless wanted. Sent twice it is kept once.

    ``beside`` is the key of the figure it stands beside: ``failure`` for the specimen as it failed. ``taken_by`` is who
    took it: another person signed in does not save it.
    """
    if taken_by and taken_by != who:
        raise HTTPException(403, f"{taken_by} took this picture and {who} is signed in: it waits in the browser.")
    test = _open(session, test_id)
    try:
        attach_photograph(
            session,
            test,
            file.filename or "photograph",
            file.file.read(),
            caption,
            who,
            keep_position=keep_position,
            beside=beside,
        )
    except PhotographError as error:
        raise HTTPException(422, str(error)) from error
    session.commit()
    return JSONResponse(_shown(session, test), 201)


@router.get("/attachments/{attachment_id}")
def whole(session: Db, attachment_id: int) -> Response:
    """Return an attachment as it is kept, as a download: what a browser shows by itself is the copy made here."""
    kept = get(session, Attachment, attachment_id, "attachment")
    kind = media_type_of(kept.data) if kept.kind == PHOTOGRAPH else FILE
    headers = _FOREVER | SANDBOXED | {"Content-Disposition": as_download(kept.name), "X-Sha256": kept.sha256}
    return Response(kept.data, media_type=kind, headers=headers)


@router.get("/attachments/{attachment_id}/small")
def small(session: Db, attachment_id: int) -> Response:
    """Return the small copy of a photograph."""
    kept = get(session, Attachment, attachment_id, "attachment")
    if kept.small is None:
        raise HTTPException(404, "This attachment is no photograph.")
    return Response(kept.small, media_type="image/jpeg", headers=_FOREVER | SANDBOXED)


@router.post("/api/attachments/{attachment_id}/remove")
def remove(session: Db, who: Who, attachment_id: int, why: Removal) -> Response:
    """Take a photograph off the sheet; it stays on record with the reason."""
    kept = get(session, Attachment, attachment_id, "attachment")
    test = _open(session, kept.test_id)
    if not kept.removed_because:
        kept.removed_because, kept.removed_by, kept.removed_at = why.reason, who, now()
        session.add(kept)
        session.commit()
    return JSONResponse(_shown(session, test))


def _open(session: Session, test_id: int) -> Test:
    """Return a test whose photographs may still change: they are part of what is checked."""
    test = get(session, Test, test_id, "test")
    if locked(test):
        raise LockedTest(test)
    return test


def _shown(session: Session, test: Test) -> list[dict[str, object]]:
    return [
        {
            "id": a.id,
            "kind": a.kind,
            "name": a.name,
            "caption": a.caption,
            "beside": a.beside,
            "sha256": a.sha256,
            "size": a.size,
            "who": a.who,
            "at": a.at.isoformat(),
            "removed": a.removed_because,
            "removedBy": a.removed_by,
        }
        for a in attachments_of(session, test)
    ]

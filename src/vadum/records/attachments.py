"""Files kept with a test: photographs, and files that readings came from."""

import hashlib
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session, col, select

from vadum.records.photographs import prepared
from vadum.records.tables import Attachment, Test

READINGS_FILE, PHOTOGRAPH = "readings file", "photograph"


@dataclass(frozen=True)
class Listed:
    """What a list shows of an attachment, without its bytes."""

    id: int
    kind: str
    name: str
    caption: str
    sha256: str
    size: int
    who: str
    at: datetime
    removed_because: str
    removed_by: str


# The first bytes of what a browser may show by itself; everything else is a file to be taken away.
_PICTURES = ((b"\xff\xd8\xff", "image/jpeg"), (b"\x89PNG\r\n\x1a\n", "image/png"))
FILE = "application/octet-stream"


def media_type_of(data: bytes) -> str:
    """Return what a file is by its own bytes: a JPEG, PNG or WebP picture, or just a file. Nobody's word counts."""
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "image/webp"
    return next((kind for head, kind in _PICTURES if data.startswith(head)), FILE)


def attach_file(session: Session, test: Test, name: str, data: bytes, who: str) -> Attachment:
    """Add the file that readings came from, exactly as it came; the caller commits."""
    return _add(session, test, READINGS_FILE, name, data, FILE, who)


def attach_photograph(
    session: Session, test: Test, name: str, data: bytes, caption: str, who: str, *, keep_position: bool
) -> Attachment:
    """Add a photograph with a small copy, its position taken out unless wanted; the caller commits.

    Raises
    ------
    PhotographError
        If it cannot be read as one.
    """
    whole, small, media_type = prepared(data, keep_position=keep_position)
    return _add(session, test, PHOTOGRAPH, name, whole, media_type, who, caption=caption, small=small)


def _add(
    session: Session,
    test: Test,
    kind: str,
    name: str,
    data: bytes,
    media_type: str,
    who: str,
    *,
    caption: str = "",
    small: bytes | None = None,
) -> Attachment:
    added = Attachment(
        test_id=test.id or 0,
        kind=kind,
        name=name[:200],
        caption=caption[:400],
        media_type=media_type,
        sha256=hashlib.sha256(data).hexdigest(),
        size=len(data),
        data=data,
        small=small,
        who=who,
    )
    session.add(added)
    return added


def attachments_of(session: Session, test: Test) -> list[Listed]:
    """Return a test's attachments in the order in which they came."""
    columns = [getattr(Attachment, name) for name in Listed.__dataclass_fields__]
    rows = session.exec(select(*columns).where(Attachment.test_id == test.id).order_by(col(Attachment.id))).all()
    return [Listed(*row) for row in rows]

"""Files kept with a test: photographs, and files that readings came from."""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import defer
from sqlmodel import Session, col, select

from vadum.records.once import each_once
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
    beside: str
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
    session: Session,
    test: Test,
    name: str,
    data: bytes,
    caption: str,
    who: str,
    *,
    keep_position: bool,
    beside: str = "",
) -> Attachment:
    """Add a photograph with a small copy, its position taken out unless wanted; the caller commits. The same picture of
    the same caption is there already: it was sent again since its answer was lost.

    ``beside`` is the key of the figure it stands beside on screen and sheet.

    Raises
    ------
    PhotographError
        If it cannot be read as one.
    """
    whole, small, media_type = prepared(data, keep_position=keep_position)
    sha256 = hashlib.sha256(whole).hexdigest()
    same = (one for one in photographs_of(session, test) if (one.sha256, one.caption) == (sha256, caption[:400]))
    if (there := next(same, None)) is not None:
        return there
    return _add(session, test, PHOTOGRAPH, name, whole, media_type, who, caption=caption, beside=beside, small=small)


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
    beside: str = "",
    small: bytes | None = None,
) -> Attachment:
    added = Attachment(
        test_id=test.id or 0,
        kind=kind,
        name=name[:200],
        caption=caption[:400],
        beside=beside,
        media_type=media_type,
        sha256=hashlib.sha256(data).hexdigest(),
        size=len(data),
        data=data,
        small=small,
        who=who,
    )
    session.add(added)
    return added


def photographs_of(session: Session, test: Test) -> list[Attachment]:
    """Return the photographs that stand on a test's sheet, with their small copies, in the order they came."""
    attached = without_files(session, [test.id or 0])[test.id or 0]
    return [one for one in attached if one.kind == PHOTOGRAPH and not one.removed_because]


def without_files(session: Session, tests: Iterable[int]) -> dict[int, list[Attachment]]:
    """Return all that was ever attached to each test, in the order it came; the files themselves are not read."""

    def read(numbers: list[int]) -> dict[int, list[Attachment]]:
        query = select(Attachment).where(col(Attachment.test_id).in_(numbers)).order_by(col(Attachment.id))
        whole: Any = defer(Attachment.data)  # type: ignore[arg-type]
        found: dict[int, list[Attachment]] = {number: [] for number in numbers}
        for one in session.exec(query.options(whole)).all():
            found[one.test_id].append(one)
        return found

    return each_once(session, "attachments", tests, read, most=32)


def attachments_of(session: Session, test: Test) -> list[Listed]:
    """Return a test's attachments in the order in which they came."""
    columns = [getattr(Attachment, name) for name in Listed.__dataclass_fields__]
    rows = session.exec(select(*columns).where(Attachment.test_id == test.id).order_by(col(Attachment.id))).all()
    return [Listed(*row) for row in rows]

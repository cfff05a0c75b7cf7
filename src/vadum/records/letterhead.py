"""The laboratory's own letterhead, printed on everything that leaves it."""

import base64
import io
import re
from typing import Literal

from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.records.kept_settings import keep_setting, setting

_KEY = "letterhead"
LARGEST_LOGO = 1_000_000
_NOT_A_LOGO = "The logo is a PNG, a JPEG or an SVG file."
_LINKS = "The SVG links to something outside itself; save it as a plain drawing or as PNG."
_DEEPEST, _MOST_ELEMENTS = 40, 4000
_ACTIVE = (
    "script",
    "foreignobject",
    "iframe",
    "object",
    "embed",
    "audio",
    "video",
    "image",
    "animate",
    "set",
    "handler",
    "use",
)
# A style that fetches: url(#mark) within the drawing is none.
_CALLS = re.compile(r"@import|url\(\s*['\"]?(?!#)[^)\s]|javascript:", re.IGNORECASE)


class LogoError(ValueError):
    """A file that cannot be printed as a logo; the message is for the person who brought it."""


class Letterhead(BaseModel):
    """Name, address and logo; all empty until the laboratory says who it is. ``logo`` is base64."""

    name: str = Field(default="", max_length=120)
    address: str = Field(default="", max_length=400)
    logo: str = ""
    logo_kind: Literal["", "png", "jpg", "svg"] = Field(default="", title="kind of logo")

    @property
    def address_lines(self) -> list[str]:
        return [line.strip() for line in self.address.splitlines() if line.strip()]

    @property
    def logo_bytes(self) -> bytes:
        return base64.b64decode(self.logo)


def letterhead_of(session: Session) -> Letterhead:
    """Return the letterhead; an empty one before it was given."""
    kept = setting(session, _KEY)
    return Letterhead.model_validate_json(kept) if kept else Letterhead()


def keep_letterhead(session: Session, letterhead: Letterhead) -> None:
    """Keep the letterhead for everything printed from now on; what is issued stays as it was."""
    keep_setting(session, _KEY, letterhead.model_dump_json())


def with_logo(letterhead: Letterhead, data: bytes) -> Letterhead:
    """Return the letterhead with a logo from a file's bytes.

    Raises
    ------
    LogoError
        If it is too large, or no picture that can be printed.
    """
    if len(data) > LARGEST_LOGO:
        raise LogoError(f"The logo has {len(data) / 1e6:.1f} MB; at most {LARGEST_LOGO / 1e6:.0f} MB are taken.")
    kind = _kind_of(data)
    return letterhead.model_copy(update={"logo": base64.b64encode(data).decode(), "logo_kind": kind})


def _judge_svg(data: bytes) -> None:
    """Refuse an SVG that is more than a drawing: with entities, links, scripts or styles from elsewhere, or too deep to
    set.

    Raises
    ------
    LogoError
        With what it holds.
    """
    from xml.etree import ElementTree

    # An entity could unfold to gigabytes; a drawing needs none, and no document type either.
    if re.search(rb"<!\s*(ENTITY|DOCTYPE)", data, re.IGNORECASE):
        raise LogoError("The SVG defines entities; save it as plain SVG or as PNG.")
    depth, count = 0, 0
    try:
        for event, element in ElementTree.iterparse(io.BytesIO(data), ("start", "end")):
            depth += 1 if event == "start" else -1
            count += event == "start"
            if depth > _DEEPEST or count > _MOST_ELEMENTS:
                raise LogoError("The SVG is nested too deep or too large to be set; save it as PNG.")
            if event == "start":
                _judge_element(element.tag, dict(element.attrib), root=count == 1)
            elif _CALLS.search(element.text or ""):
                raise LogoError(_LINKS)
    except ElementTree.ParseError as error:
        raise LogoError(f"This SVG is damaged: {error}.") from error


def _judge_element(tag: str, attributes: dict[str, str], *, root: bool) -> None:
    name = tag.rsplit("}", 1)[-1].lower()
    if root and name != "svg":
        raise LogoError(_NOT_A_LOGO)
    if name in _ACTIVE:
        raise LogoError(f"The SVG holds a “{name}”; save it as a plain drawing or as PNG.")
    for key, value in attributes.items():
        plain = key.rsplit("}", 1)[-1].lower()
        if plain.startswith("on"):
            raise LogoError("The SVG holds a script; save it as a plain drawing or as PNG.")
        if (plain in ("href", "src") and not value.strip().startswith("#")) or _CALLS.search(value):
            raise LogoError(_LINKS)


def _kind_of(data: bytes) -> Literal["png", "jpg", "svg"]:
    from PIL import Image, UnidentifiedImageError

    if data.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<"):
        _judge_svg(data)
        return "svg"
    try:
        with Image.open(io.BytesIO(data)) as picture:
            found = picture.format
            picture.verify()
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise LogoError(_NOT_A_LOGO) from error
    if found not in ("PNG", "JPEG"):
        raise LogoError(_NOT_A_LOGO)
    return "png" if found == "PNG" else "jpg"

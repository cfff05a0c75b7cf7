"""A printed document: parts written to a folder one by one, laid out together by typst.

Parts go to disk as they are made, so that a report of hundreds of sheets never lies in memory as a whole before it is
set.
"""

import json
import re
import shutil
import tempfile
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path as Folder
from types import TracebackType
from typing import Any, Literal

from vadum.drawing import render
from vadum.records.letterhead import Letterhead
from vadum.report.setting import Stretch, Volume, typeset
from vadum.soil.contract.figure import Drawing, Path

_HERE = Folder(__file__).parent
# On the width of the paper 13 px are 9 points.
WIDTH_PX = 700.0
# Of a figure with a photograph beside it.
HALF_PX = 340.0
# Heights of a figure that has the page to itself, of two on a page, of two beneath a card.
TALL, LOW, SMALL = 360.0, 310.0, 264.0
_FORK_PX = 56.0
# Greek and signs that the text face lacks: the typesetter would take the whole label from a serif.
_FOREIGN = re.compile(r"[\u0370-\u03ff\u2032\u2033\u2070-\u209f\u2190-\u22ff]+(?=[^<>]*</text>)")
# A document of so many parts at most is set as one, and tagged; a longer one so many parts at a time.
SHORT, AT_ONCE = 30, 20
Kind = Literal["cover", "test", "sample", "log", "summary"]


@dataclass
class Picture:
    """A drawing for print with its words: a figure of the core, or an SVG made elsewhere."""

    title: str
    description: str
    svg: str

    @classmethod
    def of(cls, figure: Drawing, height: float = TALL, width: float = WIDTH_PX) -> "Picture":
        """Return a figure for print; a walk through a tree is as high as it has forks."""
        height = 110 + _FORK_PX * len(figure.forks) if isinstance(figure, Path) else height
        return cls(figure.title, figure.description, lettered(render(figure, width, height, theme="print")))


def lettered(svg: str) -> str:
    """Return an SVG whose Greek letters and signs are set in the face that has them."""
    return _FOREIGN.sub(r'<tspan font-family="DejaVu Sans">\g<0></tspan>', svg)


@dataclass
class Photograph:
    """A photograph for print: a JPEG, its words, and the title of the drawing it stands beside, if any."""

    jpeg: bytes
    caption: str
    beside: str = ""


@dataclass
class Part:
    """A part of a document: what its layout prints, and its pictures in the order it shows them."""

    kind: Kind
    data: dict[str, Any]
    pictures: list[Picture] = field(default_factory=list)
    photographs: list[Photograph] = field(default_factory=list)


class Document:
    """A folder that fills with parts and is then set as PDF, or as a PNG per page; used as a context.

    A long one is set in stretches while it fills, each in a process of its own, and joined at the end.
    """

    def __init__(self, letterhead: Letterhead, *, kind: str, title: str, number: str, state: str = "") -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="vadum-", ignore_cleanup_errors=True)
        self.root = Folder(self._folder.name)
        self._head: dict[str, Any] = {"kind": kind, "title": title, "number": number, "state": state}
        self._head["letterhead"] = {"name": letterhead.name, "address": letterhead.address_lines, "logo": ""}
        self._parts: list[dict[str, str]] = []
        self._count = 0
        self._volume: Volume | None = None
        self._cover: dict[str, str] | None = None
        for template in (_HERE / "templates").glob("*.typ"):
            shutil.copy(template, self.root)
        if letterhead.logo:
            self._head["letterhead"]["logo"] = f"logo.{letterhead.logo_kind}"
            (self.root / f"logo.{letterhead.logo_kind}").write_bytes(letterhead.logo_bytes)

    def __enter__(self) -> "Document":
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        if self._volume is not None:
            self._volume.abandon()
        self._folder.cleanup()

    def add(self, part: Part) -> None:
        """Write a part to the folder; of a long document the parts so far are set meanwhile."""
        if self._volume is None and len(self._parts) == SHORT:
            self._volume = Volume(self.root)
            # With it stand the contents, which nobody knows before the end.
            self._cover = self._parts.pop(0) if self._parts[0]["kind"] == "cover" else None
        if self._volume is not None and len(self._parts) >= AT_ONCE:
            self._set_meanwhile(self._volume)
        number, self._count = self._count, self._count + 1
        figures = []
        for i, picture in enumerate(part.pictures):
            name = f"part-{number}-{i}.svg"
            (self.root / name).write_text(picture.svg, encoding="utf-8")
            figures.append({"title": picture.title, "description": picture.description, "file": name})
        taken = []
        for i, photograph in enumerate(part.photographs):
            name = f"part-{number}-{i}.jpg"
            (self.root / name).write_bytes(photograph.jpeg)
            taken.append({"file": name, "caption": photograph.caption, "beside": photograph.beside})
        name = f"part-{number}.json"
        data = part.data | {"figures": figures, "photographs": taken}
        (self.root / name).write_text(json.dumps(data), encoding="utf-8")
        self._parts.append({"kind": part.kind, "file": name})

    def compiled(self, form: Literal["pdf", "png"] = "pdf") -> list[bytes]:
        """Return the document as one PDF with bookmarks, or as one PNG per page with ``form="png"``; a short PDF is
        tagged too."""
        if self._volume is None:
            return typeset(self.root, "document.typ", self._write("document.json", {"parts": self._parts}), form)
        while self._parts:
            self._set_meanwhile(self._volume)
        self._volume.end()
        if self._cover is not None:
            told = {"parts": [self._cover], "stretch": True, "contents": self._volume.contents}
            self._volume.begin_with(Stretch(self.root, self._write("opening.json", told)).finished())
        numbers = Stretch(self.root, self._write("numbers.json", {"pages": self._volume.pages}), "numbers.typ")
        return [self._volume.numbered(numbers.finished())]

    def _set_meanwhile(self, volume: Volume) -> None:
        """Begin to set the first of the parts gathered."""
        first, self._parts = self._parts[:AT_ONCE], self._parts[AT_ONCE:]
        volume.set(self._write(f"stretch-{first[-1]['file']}", {"parts": first, "stretch": True}))

    def _write(self, name: str, more: dict[str, Any]) -> str:
        (self.root / name).write_text(json.dumps(self._head | more), encoding="utf-8")
        return name


def compiled(
    letterhead: Letterhead, parts: Iterable[Part], form: Literal["pdf", "png"] = "pdf", **head: str
) -> list[bytes]:
    """Return a document of a few parts, made at once."""
    with Document(letterhead, **head) as document:
        for part in parts:
            document.add(part)
        return document.compiled(form)

"""Setting some parts of a long document in a process of its own, and joining what came out.

The typesetter keeps what it laid out for as long as its process lives: a report of hundreds of sheets set at once would
take gigabytes. Run as ``python -m vadum.report.setting FOLDER TEMPLATE.typ DATA.json OUT.pdf``.
"""

import io
import os
import subprocess
import sys
from collections import deque
from collections.abc import Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from pathlib import Path as Folder
from typing import TYPE_CHECKING, Any, Literal

if TYPE_CHECKING:
    from pikepdf import OutlineItem, Page

# The typesetter lays out as much at once as it has threads: with two the first stretch took 150 to 610 MB, as it came.
# What it frees goes back at once: kept for later use by the C library, the same parts took 100 to 440 MB.
_SPARING = {"RAYON_NUM_THREADS": "1", "MALLOC_MMAP_THRESHOLD_": "65536"}
# A stretch takes longer to set than the next one to make, and 100 to 150 MB.
_AT_ONCE = 2
FONTS = Folder(__file__).parent / "fonts"


def typeset(
    root: Folder, template: str, data: str, form: Literal["pdf", "png"] = "pdf", *, tagged: bool = True
) -> list[bytes]:
    """Return a template of a folder set with the data of a file beside it: one PDF, tagged or not, or a PNG for each
    page."""
    import typst

    made = typst.compile(
        str(root / template),
        root=str(root),
        font_paths=[str(FONTS)],
        ignore_system_fonts=True,
        format=form,
        ppi=110,
        sys_inputs={"data": data},
        pdf_tags=tagged,
    )
    return made if isinstance(made, list) else [made]


class Stretch:
    """Some parts of a document, or another template of its folder, being set in a process of their own."""

    def __init__(self, root: Folder, data: str, template: str = "document.typ") -> None:
        self._out = root / f"{data}.pdf"
        command = [sys.executable, "-m", "vadum.report.setting", str(root), template, data, self._out.name]
        self._process = subprocess.Popen(command, stderr=subprocess.PIPE, env=os.environ | _SPARING)

    def finished(self) -> Folder:
        """Wait until it is set, and return its file.

        Raises
        ------
        RuntimeError
            If it cannot be set; the message is the typesetter's.
        """
        _, said = self._process.communicate()
        if self._process.returncode:
            raise RuntimeError(said.decode(errors="replace")[-2000:])
        return self._out

    def abandon(self) -> None:
        """Stop setting it: nobody waits for it any more."""
        self._process.kill()


class Volume:
    """A long document of a folder, set in stretches: what is set is taken in while the next ones are being set."""

    def __init__(self, root: Folder) -> None:
        from pikepdf import Pdf

        self._root, self._whole = root, Pdf.new()
        # Those not taken in yet, in the order of the document, each with a thread that waits for it.
        self._being_set: deque[tuple[Stretch, Future[Folder]]] = deque()
        self._waiting = ThreadPoolExecutor(_AT_ONCE)
        # What is taken in is read when the whole is written.
        self._open: list[Pdf] = []
        self._bookmarks: list[OutlineItem] = []

    def set(self, data: str) -> None:
        """Begin to set some parts, as soon as not too much is being set already; take in those set before them."""
        while len(unset := [one for _, one in self._being_set if not one.done()]) == _AT_ONCE:
            wait(unset, return_when=FIRST_COMPLETED)
        while self._being_set and self._being_set[0][1].done():
            self._take_in()
        stretch = Stretch(self._root, data)
        self._being_set.append((stretch, self._waiting.submit(stretch.finished)))

    def end(self) -> None:
        """Wait for the last stretches."""
        while self._being_set:
            self._take_in()
        self._waiting.shutdown()

    def abandon(self) -> None:
        """Stop setting what nobody waits for any more; it would go on writing to the folder."""
        for stretch, _ in self._being_set:
            stretch.abandon()
        self._waiting.shutdown()

    def _take_in(self) -> None:
        """Wait for the first of those being set, and put it behind what there is."""
        from pikepdf import Pdf

        part, before = Pdf.open(self._being_set[0][1].result()), len(self._whole.pages)
        self._being_set.popleft()
        self._open.append(part)
        self._whole.pages.extend(part.pages)
        taken = zip(part.pages, self._whole.pages[before:], strict=True)
        page_of = {own.obj.objgen: page.obj for own, page in taken}
        with part.open_outline() as outline:
            self._bookmarks += [_bookmark(item, page_of) for item in outline.root]

    @property
    def pages(self) -> int:
        return len(self._whole.pages)

    @property
    def contents(self) -> list[tuple[str, int]]:
        """Return the heading of each part with the page that it begins on, from 1."""
        number = {page.obj.objgen: i for i, page in enumerate(self._whole.pages, 1)}
        return [(part.title, number[part.destination[0].objgen]) for part in self._bookmarks]  # type: ignore[index]

    def begin_with(self, file: Folder) -> None:
        """Put the pages of a PDF first; its links to ``part:0`` and so on lead to the parts in the order of the
        contents."""
        from pikepdf import Pdf

        opening = Pdf.open(file)
        self._open.append(opening)
        for i, page in enumerate(opening.pages):
            self._whole.pages.insert(i, page)
            for link in self._whole.pages[i].get("/Annots", []):
                link["/Dest"] = self._bookmarks[int(str(link.A.URI).removeprefix("part:"))].destination
                del link["/A"]

    def numbered(self, numbers: Folder) -> bytes:
        """Return the PDF with its bookmarks, the pages of another laid over its own one by one."""
        from pikepdf import Pdf

        laid = Pdf.open(numbers)
        with self._whole.open_outline() as outline:
            for page, number in zip(self._whole.pages, laid.pages, strict=True):
                _lay_over(page, number)
            outline.root.extend(self._bookmarks)
        self._whole.docinfo["/Title"] = self._open[0].docinfo["/Title"]
        self._whole.Root["/Lang"] = self._open[0].Root["/Lang"]
        out = io.BytesIO()
        self._whole.save(out)
        return out.getvalue()


def _lay_over(page: "Page", other: "Page") -> None:
    """Draw a page over another of the same size, whose own stream stays as it was set: ``add_overlay`` would unpack
    it and pack it again, which took half a second for 458 pages."""
    from pikepdf import Name

    name = page.add_resource(other.as_form_xobject(), Name.XObject)
    page.contents_add(b"q", prepend=True)
    page.contents_add(f"Q q {name} Do Q".encode())


def _bookmark(item: "OutlineItem", page_of: dict[tuple[int, int], Any]) -> "OutlineItem":
    """Return a bookmark and those below it, as they are in the whole."""
    from pikepdf import Array, OutlineItem

    page, *place = item.destination  # type: ignore[misc]
    made = OutlineItem(item.title, Array([page_of[page.objgen], *place]))
    made.children.extend(_bookmark(child, page_of) for child in item.children)
    return made


def pages_in(pdf: bytes) -> int:
    """Return how many pages a PDF has."""
    from pikepdf import Pdf

    with Pdf.open(io.BytesIO(pdf)) as opened:
        return len(opened.pages)


def main(arguments: Sequence[str]) -> Any:
    root, template, data, out = Folder(arguments[0]), *arguments[1:]
    # Joined to others it would lose its tags, which are an eighth of the work.
    (root / out).write_bytes(typeset(root, template, data, tagged=False)[0])


if __name__ == "__main__":
    main(sys.argv[1:])

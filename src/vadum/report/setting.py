"""Setting some parts of a long document in a process of its own, and joining what came out.

The typesetter keeps what it laid out for as long as its process lives: a report of hundreds of sheets set at once would
take gigabytes. Run as ``python -m vadum.report.setting FOLDER DOCUMENT.json OUT.pdf``.
"""

import io
import os
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path as Folder
from typing import Any, Literal

# The typesetter lays out as much at once as it has threads: with two the first stretch took 150 to 610 MB, as it came.
# The other core makes the next parts meanwhile.
_ONE_THREAD = {"RAYON_NUM_THREADS": "1"}
FONTS = Folder(__file__).parent / "fonts"


def typeset(root: Folder, template: str, data: str, form: Literal["pdf", "png"] = "pdf") -> list[bytes]:
    """Return a template of a folder set with the data of a file beside it: one PDF, or a PNG for each page."""
    import typst

    made = typst.compile(
        str(root / template),
        root=str(root),
        font_paths=[str(FONTS)],
        ignore_system_fonts=True,
        format=form,
        ppi=110,
        sys_inputs={"data": data},
    )
    return made if isinstance(made, list) else [made]


class Stretch:
    """Some parts of a document, being set in a process of their own."""

    def __init__(self, root: Folder, data: str, out: str) -> None:
        self._out = root / out
        command = [sys.executable, "-m", "vadum.report.setting", str(root), data, out]
        self._process = subprocess.Popen(command, stderr=subprocess.PIPE, env=os.environ | _ONE_THREAD)

    def finish(self) -> None:
        """Wait until it is set.

        Raises
        ------
        RuntimeError
            If it cannot be set; the message is the typesetter's.
        """
        _, said = self._process.communicate()
        if self._process.returncode:
            raise RuntimeError(said.decode(errors="replace")[-2000:])

    def read(self) -> Any:
        """Return what was set, to be read page by page."""
        from pypdf import PdfReader

        return PdfReader(io.BytesIO(self._out.read_bytes()))


class Volume:
    """A long document of a folder, set in stretches: what is set is taken in while the next one is being set."""

    def __init__(self, root: Folder) -> None:
        from pypdf import PdfWriter

        self._root, self._whole = root, PdfWriter()
        self._being_set: Stretch | None = None

    def set(self, data: str) -> None:
        """Begin to set some parts; one stretch at a time, so that memory stays that of one."""
        before = self._being_set
        if before is not None:
            before.finish()
        self._being_set = Stretch(self._root, data, f"{data}.pdf")
        if before is not None:
            self._take_in(before)

    def end(self) -> int:
        """Wait for the last stretch; return how many pages there are, with their bookmarks."""
        if self._being_set is not None:
            self._being_set.finish()
            self._take_in(self._being_set)
        return len(self._whole.pages)

    def _take_in(self, stretch: Stretch) -> None:
        self._whole.append(stretch.read(), import_outline=True)

    def numbered(self, numbers: bytes) -> bytes:
        """Return the PDF with the pages of another laid over its own one by one."""
        from pypdf import PdfReader

        for page, over in zip(self._whole.pages, PdfReader(io.BytesIO(numbers)).pages, strict=True):
            page.merge_page(over)
        out = io.BytesIO()
        self._whole.write(out)
        return out.getvalue()


def main(arguments: Sequence[str]) -> Any:
    root, data, out = Folder(arguments[0]), arguments[1], arguments[2]
    (root / out).write_bytes(typeset(root, "document.typ", data)[0])


if __name__ == "__main__":
    main(sys.argv[1:])

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


def joined(stretches: Sequence[Any], numbers: bytes) -> bytes:
    """Return stretches as one PDF, with their bookmarks, and the pages of another laid over theirs one by one."""
    from pypdf import PdfReader, PdfWriter

    whole = PdfWriter()
    for stretch in stretches:
        whole.append(stretch, import_outline=True)
    for page, over in zip(whole.pages, PdfReader(io.BytesIO(numbers)).pages, strict=True):
        page.merge_page(over)
    out = io.BytesIO()
    whole.write(out)
    return out.getvalue()


def main(arguments: Sequence[str]) -> Any:
    root, data, out = Folder(arguments[0]), arguments[1], arguments[2]
    (root / out).write_bytes(typeset(root, "document.typ", data)[0])


if __name__ == "__main__":
    main(sys.argv[1:])

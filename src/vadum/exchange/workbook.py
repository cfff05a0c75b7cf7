"""A workbook written sheet by sheet: headings that stay in view, real numbers, words that never run as formulas."""

import io
import re
from collections.abc import Sequence
from typing import Any

MEDIA_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
# Signs that no workbook may hold; a name that was stored with one is still written.
_UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")
LONGEST_TITLE = 31
"""The longest title of a sheet that a workbook allows."""


def _printable(value: Any) -> Any:
    return _UNPRINTABLE.sub("\ufffd", value) if isinstance(value, str) else value


class Written:
    """A workbook being written; ``bytes`` is the file."""

    def __init__(self) -> None:
        from openpyxl import Workbook

        self._book = Workbook()
        self._book.remove(self._book.worksheets[0])

    def sheet(self, title: str, head: Sequence[str], body: Sequence[Sequence[Any]]) -> None:
        """Add a sheet with a bold heading row and the rows below it."""
        from openpyxl.styles import Font

        sheet = self._book.create_sheet(title[:LONGEST_TITLE])
        sheet.append([_printable(cell) for cell in head])
        for row in body:
            sheet.append([_printable(cell) for cell in row])
        for cells in sheet.iter_rows(min_row=2):
            for cell in cells:
                # What is typed stays words: openpyxl takes a leading = for a formula.
                if isinstance(cell.value, str):
                    cell.data_type = "s"
        for cell in sheet[1]:
            cell.font = Font(bold=True)
            sheet.column_dimensions[cell.column_letter].width = max(10, len(str(cell.value)) + 3)
        sheet.freeze_panes = "A2"

    def bytes(self) -> bytes:
        """Return the file."""
        out = io.BytesIO()
        self._book.save(out)
        return out.getvalue()

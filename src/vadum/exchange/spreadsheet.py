"""Spreadsheets in: XLSX or delimited text to rows of cells, whatever the encoding, delimiter or decimal mark."""

import csv
import io
import zipfile
from dataclasses import dataclass, field
from datetime import datetime, time, timedelta
from typing import Any

MOST_ROWS = 200_000
_MOST_UNPACKED = 300_000_000
_XLSX = b"PK\x03\x04"
_OLD_XLS = b"\xd0\xcf\x11\xe0"
Cell = str | float | None


class SpreadsheetError(ValueError):
    """A file that cannot be read as a table; the message is for the person who brought it."""


@dataclass(frozen=True)
class Grid:
    """The cells of one sheet, with what was noticed while reading."""

    rows: list[list[Cell]]
    notes: list[str] = field(default_factory=list)
    sheets: list[str] = field(default_factory=list)


def read_grid(data: bytes, sheet: str = "") -> Grid:
    """Return the cells of a file; of a workbook the named sheet, else its first.

    Raises
    ------
    SpreadsheetError
        If the file is empty, of another kind, or damaged.
    """
    if not data.strip():
        raise SpreadsheetError("The file is empty.")
    if data.startswith(_OLD_XLS):
        raise SpreadsheetError("This is an old binary workbook (.xls). Save it as .xlsx or .csv and bring it again.")
    grid = _workbook(data, sheet) if data.startswith(_XLSX) else _delimited(data)
    rows = [row for row in grid.rows if any(cell not in (None, "") for cell in row)]
    if not rows:
        raise SpreadsheetError("The file holds no cell with anything in it.")
    if len(rows) > MOST_ROWS:
        raise SpreadsheetError(f"The file has {len(rows)} rows; at most {MOST_ROWS} are read.")
    return Grid(rows, grid.notes, grid.sheets)


def _workbook(data: bytes, sheet: str) -> Grid:
    from openpyxl import load_workbook

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > _MOST_UNPACKED:
                raise SpreadsheetError("The workbook unpacks to more than 300 MB; bring the sheet as .csv.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
    except SpreadsheetError:
        raise
    except Exception as error:  # openpyxl raises many kinds for a damaged or foreign archive
        raise SpreadsheetError("The workbook cannot be opened; it is damaged or not an .xlsx.") from error
    name = sheet if sheet in book.sheetnames else book.sheetnames[0]
    rows = [[_plain(cell) for cell in row] for row in book[name].iter_rows(values_only=True)]
    return Grid(rows, sheets=list(book.sheetnames))


def _plain(value: Any) -> Cell:
    """Return a workbook's cell as number or text; times of day and spans as h:mm:ss, as the eye sees them."""
    if value is None or isinstance(value, str):
        return value
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, int | float):
        return float(value)
    if isinstance(value, timedelta):
        seconds = value.total_seconds()
        return f"{int(seconds // 3600)}:{int(seconds % 3600 // 60):02d}:{seconds % 60:06.3f}"
    if isinstance(value, time):
        return value.isoformat()
    return value.isoformat(" ") if isinstance(value, datetime) else str(value)


def _delimited(data: bytes) -> Grid:
    text, notes = _decoded(data)
    lines = text.splitlines()
    delimiter = _delimiter(lines[:200])
    if delimiter is None:
        return Grid([[line] for line in lines], notes)
    return Grid([list(row) for row in csv.reader(lines, delimiter=delimiter)], notes)


def _decoded(data: bytes) -> tuple[str, list[str]]:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16", errors="replace"), ["read as UTF-16"]
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace"), [
            "not UTF-8: read as Windows-1252; look at letters with accents and signs"
        ]
    if "\x00" in text:
        raise SpreadsheetError("This is not a text file and not a workbook.")
    return text, []


def _delimiter(lines: list[str]) -> str | None:
    """Return the delimiter that cuts most lines into the same number of cells, two or more."""
    best: tuple[int, int, str] | None = None
    # Tab and semicolon come first: a comma may be a decimal mark.
    for order, delimiter in enumerate(("\t", ";", ",", "|")):
        widths = [len(row) for row in csv.reader(lines, delimiter=delimiter) if row]
        wide = [w for w in widths if w > 1]
        if not wide:
            continue
        common = max(set(wide), key=wide.count)
        score = (sum(1 for w in widths if w == common), -order, delimiter)
        best = score if best is None or score[:2] > best[:2] else best
    return best[2] if best else None

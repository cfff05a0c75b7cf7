"""Spreadsheets in: XLSX or delimited text to rows of cells, whatever the encoding, delimiter or decimal mark."""

import csv
import io
import re
import zipfile
from dataclasses import dataclass, field
from datetime import datetime, time, timedelta
from typing import Any

from vadum.soil.contract.field import MOST_LOGGED

# The most that a log may hold, and what a logger writes above it.
MOST_ROWS = MOST_LOGGED + 100
MOST_COLUMNS = 256
_MOST_BLANK = 5_000
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
    names = [name for name in book.sheetnames if hasattr(book[name], "iter_rows")]
    if not names:
        raise SpreadsheetError("The workbook holds no sheet with cells.")
    try:
        rows, notes = _cells(book[sheet if sheet in names else names[0]])
    except SpreadsheetError:
        raise
    except Exception as error:  # what is wrong inside a sheet comes to light while it is read, in as many kinds
        raise SpreadsheetError("A sheet of the workbook cannot be read; save it again or bring it as .csv.") from error
    return Grid(rows, notes, names)


def _cells(sheet: Any) -> tuple[list[list[Cell]], list[str]]:
    """Return the rows of a sheet that hold anything, without blank cells behind their last.

    A sheet of one cell in its farthest corner would be read as seventeen thousand million: no more is asked for than
    can be taken, and reading ends where nothing has come for long.
    """
    rows: list[list[Cell]] = []
    blank = 0
    for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS + 1, max_row=MOST_ROWS + 1, values_only=True), 1):
        if not any(cell is not None for cell in row):
            blank += 1
            if blank == _MOST_BLANK:
                return rows, [f"nothing in {_MOST_BLANK} rows down to row {number}: what may stand below was not read"]
            continue
        blank = 0
        if number > MOST_ROWS:
            raise SpreadsheetError(f"The sheet has more than {MOST_ROWS} rows; bring the rows with readings only.")
        if len(row) > MOST_COLUMNS and row[MOST_COLUMNS] is not None:
            raise SpreadsheetError(
                f"The sheet has more than {MOST_COLUMNS} columns; bring the table with readings only."
            )
        last = max(i for i, cell in enumerate(row) if cell is not None)
        rows.append([_plain(cell) for cell in row[: last + 1]])
    return rows, []


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
    if len(lines) > MOST_ROWS:
        raise SpreadsheetError(f"The file has {len(lines)} rows; at most {MOST_ROWS} are read.")
    try:
        delimiter = _delimiter(lines[:200])
        if delimiter is None:
            return _spaced(lines, notes)
        rows: list[Any] = list(csv.reader(lines, delimiter=delimiter))
        return Grid(rows, notes)
    except csv.Error as error:
        raise SpreadsheetError(
            f"The table cannot be cut into cells: {error}. Is there a quote that never ends?"
        ) from error


def _spaced(lines: list[str], notes: list[str]) -> Grid:
    """Return the cells of columns that stand under one another, parted by two spaces or more."""
    rows = [re.split(r"\s{2,}", line.strip()) for line in lines if line.strip()]
    wide = [len(row) for row in rows if len(row) > 1]
    if len(wide) <= len(rows) / 2:
        return Grid([[line] for line in lines], notes)
    return Grid([list(row) for row in rows], [*notes, "read as columns that stand under one another"])


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

"""From the cells of a file to cells that can be read: marks, blanks, rows that are none, and how each column goes."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import chain

from pydantic import BaseModel

from vadum.exchange.headings import Column, Target
from vadum.exchange.marks import Decimal, Marks, marks_of
from vadum.exchange.spreadsheet import Cell
from vadum.exchange.ways import BY_UNIT, Way, is_blank, no_reading, offered, proposed, turned
from vadum.soil.contract.field import unit_of
from vadum.soil.numbers.entry import EntryError, parse_entry

_TIMES_UNIT = re.compile(r"(?P<times>[\d.,]+)\s*(?P<unit>[^\d\s.,].*)")
_MAY_NEED = re.compile(r"\.[^\n]*\.|\d['’ \u00a0\u202f]\d")
_GAP = re.compile(r"\d['’ \u00a0\u202f]\d")
_SAMPLE = 2000
_NAMED = 3


class How(BaseModel):
    """What a person said of a file: the way and the unit of each column, in order, and the decimal mark.

    None leaves it to what is found.
    """

    ways: list[Way | None] = []
    units: list[str | None] = []
    decimal: Decimal = Decimal.FOUND

    def way(self, i: int) -> Way | None:
        return self.ways[i] if i < len(self.ways) else None

    def unit(self, i: int) -> str | None:
        return self.units[i] if i < len(self.units) else None


@dataclass
class Prepared:
    """Rows with their number in the file, and what is to be said of them."""

    rows: list[tuple[int, list[Cell]]]
    notes: list[str] = field(default_factory=list)


def scaled(unit: str) -> tuple[float, str]:
    """Return factor and unit of a heading such as ``0.01 mm``; 1 and the unit itself of others."""
    match = _TIMES_UNIT.fullmatch(unit.strip())
    if match is None:
        return 1.0, unit
    try:
        return parse_entry(match["times"], ""), match["unit"]
    except EntryError:
        return 1.0, unit


def prepared(target: Target, columns: list[Column], below: list[list[Cell]], first: int, how: How) -> Prepared:
    """Return the rows of a file ready to be read, column by column as it goes.

    Arguments
    ---------
    first : number of the first row in the file
    """
    taken = [i for i, column in enumerate(columns) if column.reading]
    made = Prepared(list(enumerate(below, first)))
    marks = marks_of(chain.from_iterable(_some(row, taken) for row in below[:_SAMPLE]), how.decimal)
    if not target.log:
        _without_others(made, columns, taken, target.model)
    for i in taken:
        if _is_words(target.model, columns[i].reading):
            continue
        others = [column.heading.lower() for column in columns if column is not columns[i]]
        _column(made, target.model, columns[i], i, marks, how, others)
    return made


def _some(row: list[Cell], taken: list[int]) -> Iterator[Cell]:
    return (row[i] for i in taken if i < len(row))


def _is_words(model: type[BaseModel], key: str) -> bool:
    return unit_of(model, key) is None


def _without_others(made: Prepared, columns: list[Column], taken: list[int], model: type[BaseModel]) -> None:
    """Drop rows that are no readings, and say so; blank the cells that say that there is none."""
    numbers = [i for i in taken if not _is_words(model, columns[i].reading)]
    kept, others = [], []
    for number, row in made.rows:
        if why := no_reading(row, taken, numbers):
            others.append(f"row {number} (“{why}”)")
        else:
            kept.append((number, row))
    made.rows = kept
    if others:
        more = f" and {len(others) - _NAMED} more" if len(others) > _NAMED else ""
        made.notes.append(f"No readings, not taken: {', '.join(others[:_NAMED])}{more}.")
    blanks = 0
    for i in numbers:
        cells = _cells(made, i)
        without = [None if isinstance(cell, str) and is_blank(cell) else cell for cell in cells]
        blanks += sum(bool(cell) and left is None for cell, left in zip(cells, without, strict=True))
        _put(made, i, without)
    if blanks:
        made.notes.append(f"{blanks} cell{'s' if blanks > 1 else ''} without a reading (“n.a.”, “–”) left blank.")


def _column(
    made: Prepared, model: type[BaseModel], column: Column, i: int, marks: Marks, how: How, others: list[str]
) -> None:
    """Bring one column into a form that can be read, and say how."""
    unit = how.unit(i)
    column.unit = column.unit if unit is None else unit.strip()
    said = how.way(i) or BY_UNIT.get(column.unit.casefold())
    if column.unit.casefold() in BY_UNIT:
        column.unit = ""
    found = cells = _cells(made, i)
    if _any_needs([cell for cell in cells if isinstance(cell, str)], marks):
        cells = [marks.plain(cell) for cell in cells]
        if marks.thousands:
            made.notes.append(
                f"“{column.heading}”: “{marks.thousands}” parts thousands, “{marks.decimal}” the decimals."
            )
    column.ways = offered(model, column.reading)
    question = ""
    if said is None:
        said, question = proposed(column.ways, column.heading.lower(), cells[:_SAMPLE], others)
    own = f"{model.model_fields[column.reading].title} [{column.unit}]"
    if question and column.heading != own:
        column.asked = question
        return
    column.way = said if said in column.ways else Way.PLAIN
    if column.way != Way.PLAIN:
        cells = turned(column.way, cells, unit_of(model, column.reading) or "")
        if column.way != Way.ADDS_UP:
            column.unit = ""
        made.notes.append(f"“{column.heading}” is read as {column.way.label}.")
    if cells is not found:
        _put(made, i, cells)


def _cells(made: Prepared, i: int) -> list[Cell]:
    return [row[i] if i < len(row) else None for _, row in made.rows]


def _put(made: Prepared, i: int, cells: list[Cell]) -> None:
    """Put a column into the rows. The rows of the file stay as they are, and are kept where nothing changes: there may
    be two hundred thousand."""
    for k, (cell, (number, row)) in enumerate(zip(cells, made.rows, strict=True)):
        if i < len(row) and row[i] is not cell:
            made.rows[k] = (number, [*row[:i], cell, *row[i + 1 :]])


def _any_needs(cells: list[str], marks: Marks) -> bool:
    # Looked for in all of them at once first: hardly a file has such a cell, and some have two hundred thousand.
    together = "\n".join(cells)
    if not any(mark and mark in together for mark in (",", marks.thousands)) and not _MAY_NEED.search(together):
        return False
    return any(_needs(cell, marks) for cell in cells)


def _needs(cell: str, marks: Marks) -> bool:
    both = "." in cell and "," in cell
    parted = bool(marks.thousands) and marks.thousands in cell
    return both or parted or cell.count(".") > 1 or cell.count(",") > 1 or _GAP.search(cell) is not None

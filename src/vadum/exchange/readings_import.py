"""From a grid of cells to the readings of a test: heading found, columns matched, every cell judged, nothing
half-taken."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import combinations
from typing import Any

import numpy as np
from pydantic import BaseModel, ValidationError

from vadum.exchange.headings import (
    HEADING_ROWS,
    Column,
    Target,
    heading_of,
    heading_row,
    names_hidden,
    split_unit,
    unit_in,
    units_below,
)
from vadum.exchange.own_files import LEFT_OUT, WORKED_OUT, block_of
from vadum.exchange.preparing import How, prepared, scaled
from vadum.exchange.spreadsheet import Cell, Grid, SpreadsheetError
from vadum.exchange.ways import is_blank
from vadum.soil.choice import Choice
from vadum.soil.contract.cells import logs, most_rows, read_cell, tables
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import REQUIRED, Readings, declared, shown_under, unit_of
from vadum.soil.numbers.entry import EntryError, parse_entry
from vadum.soil.numbers.units import UnitError, convert

_SAY = "No heading fits the readings of this test. Say for each column what it is."
_MOST_FAULTS = 200
_HAND_KEPT = 40
AS_FOUND = How()
_NO_UNIT = ("", "-", "%", "1", "div")
# Rows with their number in the file.
Numbered = list[tuple[int, list[Cell]]]


@dataclass(frozen=True)
class Fault:
    """A cell that cannot be taken: row as the file counts rows with anything in them, column by heading."""

    row: int
    column: str
    message: str


@dataclass
class Proposal:
    """What an import would bring. ``readings`` is whole or, with faults, not to be used."""

    target: Target
    columns: list[Column]
    rows: list[dict[str, Any]] = field(default_factory=list)
    columns_logged: dict[str, list[float]] = field(default_factory=dict)
    faults: list[Fault] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    constants: dict[str, str] = field(default_factory=dict)
    """What stands in every row, by reading: the file has no column for it."""

    @property
    def unmatched(self) -> list[str]:
        """The readings that no column of the file was matched to."""
        matched = {column.reading for column in self.columns}
        return [key for key in self.target.columns if key not in matched and key != LEFT_OUT]

    @property
    def dropped(self) -> list[str]:
        """The headings of columns that hold something and are not taken; what was worked out is no loss."""
        left = [column for column in self.columns if not column.reading and column.sample]
        return [
            column.heading + (" (not read by this test's school)" if names_hidden(column.heading, self.target) else "")
            for column in left
            if column.heading and WORKED_OUT not in column.heading
        ]

    @property
    def lacking(self) -> list[str]:
        """The readings without which there is no result, and for which the file has nothing."""
        return [key for key in self.unmatched if key not in self.constants and self._needed(key)]

    def _needed(self, key: str) -> bool:
        known = declared(self.target.model, key)
        # What matters only beside another reading, or instead of one, is the sheet's to ask for.
        return known.get("absent") == REQUIRED and not known.get("beside") and not known.get("instead")

    @property
    def count(self) -> int:
        return max((len(values) for values in self.columns_logged.values()), default=len(self.rows))


def targets(model: type[Readings], settings: BaseModel | None = None) -> list[Target]:
    """Return the tables and logger files a file can be read into, with the columns that are read under the settings."""
    found = []
    for name, row in tables(model).items():
        read = [key for key in row.model_fields if key != LEFT_OUT and _read_under(row, key, settings)]
        columns = [*read, LEFT_OUT]
        found.append(Target(name, model.model_fields[name].title or name, row, columns, log=False))
    for name, log in logs(model).items():
        found.append(Target(name, model.model_fields[name].title or name, log, log.names(), log=True))
    return found


def _read_under(row: type[BaseModel], key: str, settings: BaseModel | None) -> bool:
    return settings is None or shown_under(declared(row, key).get("shown"), settings)


def propose(
    model: type[Readings],
    grid: Grid,
    target: str = "",
    mapping: list[str] | None = None,
    constants: Callable[[Target], Mapping[str, str]] = lambda _: {},
    settings: BaseModel | None = None,
    how: How = AS_FOUND,
) -> Proposal:
    """Return what the file would bring into the readings.

    Arguments
    ---------
    target : name of the table; the one whose columns fit best when empty
    mapping : reading of each column of the file, in order, empty for none; matched by heading and unit when None
    constants : of the table chosen, what stands in every row; where the file has a column for it the column leads
    settings : of the test; a column that its school does not read is not filled
    how : the way and the unit of each column and the decimal mark, where a person said so

    A file without a heading that fits comes back with its columns and one fault, for a person to match them.

    Raises
    ------
    SpreadsheetError
        If there is no row of numbers, or nothing below the heading.
    """
    offered = targets(model, settings)
    if not offered:
        raise SpreadsheetError("This test has no table that a file could be read into.")
    chosen = [t for t in offered if t.name == target] or offered
    best: tuple[int, int, Target, list[Column], tuple[Grid, int]] | None = None
    names = model.model_fields.keys()
    for candidate in chosen:
        block = block_of(grid, candidate.name, names)
        at, columns = heading_row(block[0], candidate)
        score = sum(1 for column in columns if column.reading)
        # A long file belongs into a logger file where there is one.
        score += candidate.log and len(block[0].rows) - at > most_rows_of(model, offered)
        # So does a file of bare numbers, unless it is as short as a table kept by hand.
        score += candidate.log and score == 0 and len(block[0].rows) - at > _HAND_KEPT
        # What a person said each column is names the table, too.
        score += sum(1 for name in mapping or () if name in candidate.columns)
        if best is None or score > best[0]:
            best = (score, at, candidate, columns, block)
    assert best is not None
    _, at, found, columns, (grid, before) = best
    matched = any(column.reading for column in columns)
    if not matched:
        at, columns = _unmatched(grid, found)
    if mapping is not None:
        for column, name in zip(columns, [*mapping, *[""] * len(columns)], strict=False):
            column.reading = name if name in found.columns else ""
    at += units_below(grid, at, columns)
    below = grid.rows[at + 1 :]
    if not below:
        raise SpreadsheetError("There are headings but no row below them.")
    for column, cell in zip(columns, below[0], strict=False):
        column.sample = "" if cell is None else f"{cell:g}" if isinstance(cell, float) else str(cell)[:24]
    proposal = Proposal(found, columns, notes=list(grid.notes))
    known = dict(constants(found))
    made = prepared(found, columns, below, before + at + 2, how)
    proposal.notes += made.notes
    proposal.faults += [Fault(0, column.heading, column.asked) for column in columns if column.asked]
    proposal.constants = {key: known[key] for key in proposal.unmatched if known.get(key, "").strip()}
    if not matched and not any(column.reading for column in columns):
        proposal.faults.append(Fault(0, "", _SAY))
    _unfit_units(proposal)
    if not proposal.faults:
        (_take_log if found.log else _take_rows)(proposal, made.rows, model)
        if proposal.faults and mapping is None and not found.log:
            proposal.notes += _exchanged(proposal, made.rows, model)
    _measure(proposal)
    return proposal


def _measure(proposal: Proposal) -> None:
    """Note the least, the most and the number of what each column gave."""
    for column in proposal.columns:
        key = column.reading
        values = [row[key] for row in proposal.rows if key in row]
        numbers = proposal.columns_logged.get(key) or [
            value for value in values if isinstance(value, int | float) and not isinstance(value, bool)
        ]
        column.found = (min(numbers), max(numbers), len(numbers)) if numbers else None


def _unmatched(grid: Grid, target: Target) -> tuple[int, list[Column]]:
    """Return the row above the first row of numbers and its columns, none of them matched; -1 where there is no such
    row.

    Raises
    ------
    SpreadsheetError
        If there is no row of numbers.
    """
    first = next((i for i, row in enumerate(grid.rows[:HEADING_ROWS]) if _is_numbers(row)), None)
    if first is None:
        wanted = ", ".join(heading_of(target.model, key) for key in target.columns[:6])
        raise SpreadsheetError(f"No heading fits the readings of this test. Expected headings such as {wanted}.")
    above = [str(cell).strip() if cell is not None else "" for cell in grid.rows[first - 1]] if first else []
    # Names, or the units below them.
    if above and first > 1 and all(not text or unit_in(text) for text in above):
        above, first = [str(cell).strip() if cell is not None else "" for cell in grid.rows[first - 2]], first - 1
    width = max(len(above), len(grid.rows[first]))
    return first - 1, [Column(text, *split_unit(text)[1:]) for text in [*above, *[""] * (width - len(above))]]


def _is_numbers(row: list[Cell]) -> bool:
    cells = [cell for cell in row if cell is not None and str(cell).strip()]
    return len(cells) > 1 and sum(_is_number(cell) for cell in cells) > len(cells) / 2


def _is_number(cell: Cell) -> bool:
    try:
        _number(cell)
    except (EntryError, ValueError):
        return False
    return True


def most_rows_of(model: type[Readings], offered: list[Target]) -> int:
    return max((most_rows(model, t.name) for t in offered if not t.log), default=0)


def _unfit_units(proposal: Proposal) -> None:
    for column in proposal.columns:
        wanted = unit_of(proposal.target.model, column.reading) if column.reading else None
        if column.unit not in _NO_UNIT and wanted == "":
            _of_no_unit(proposal, column)
        elif column.unit and wanted:
            try:
                convert(1.0, scaled(column.unit)[1], wanted)
            except UnitError as error:
                proposal.faults.append(Fault(0, column.heading, str(error)))


def _of_no_unit(proposal: Proposal, column: Column) -> None:
    """Take the unit of a bare number for the answer beside it that names units; else ask."""
    model, unit = proposal.target.model, column.unit.casefold()
    for key in proposal.unmatched:
        for kind in getattr(model.model_fields[key].annotation, "__args__", ()):
            if isinstance(kind, type) and issubclass(kind, Choice) and key not in proposal.constants:
                said = next((one.value for one in kind if one.label.casefold() == unit), None)
                if said is not None:
                    proposal.constants[key] = said
                    return
    says = f"a plain number is read here, not {column.unit}: convert it, or clear the unit if that is what stands here"
    proposal.faults.append(Fault(0, column.heading, says))


def _take_rows(proposal: Proposal, below: Numbered, model: type[Readings]) -> None:
    most = most_rows(model, proposal.target.name)
    if len(below) > most:
        proposal.faults.append(Fault(below[0][0], "", f"{len(below)} rows; this table takes {most}"))
        return
    everywhere = _constants(proposal)
    for at, row in below:
        _too_wide(proposal, row, at)
        taken: dict[str, Any] = {}
        for column, cell in zip(proposal.columns, row, strict=False):
            if not column.reading or cell is None or str(cell).strip() == "":
                continue
            try:
                taken[column.reading] = _typed(proposal.target.model, column, cell)
            except ValidationError as error:
                proposal.faults.append(Fault(at, column.heading, complaints(error)[0].message))
        if taken:
            proposal.rows.append(everywhere | taken)
    proposal.faults = proposal.faults[:_MOST_FAULTS]


def _constants(proposal: Proposal) -> dict[str, Any]:
    """Return what stands in every row, as the readings it is; what cannot be is a fault of its own."""
    found: dict[str, Any] = {}
    for key, text in proposal.constants.items():
        try:
            found[key] = read_cell(proposal.target.model, key, text)
        except ValidationError as error:
            proposal.faults.append(Fault(0, heading_of(proposal.target.model, key), complaints(error)[0].message))
    return found


def _typed(model: type[BaseModel], column: Column, cell: Cell) -> Any:
    """Return a cell as the reading it is, in the reading's unit.

    Raises
    ------
    pydantic.ValidationError
        If the field cannot take it.
    """
    text = _text(cell)
    unit = unit_of(model, column.reading)
    if unit and column.unit and column.unit != unit and re.fullmatch(r"[\d.,eE+\- /]+", text):
        times, given = scaled(column.unit)
        text = f"{text} {given}" if times == 1 else f"{parse_entry(text, '') * times:.12g} {given}"
    return read_cell(model, column.reading, text)


def _text(cell: Cell) -> str:
    return repr(cell) if isinstance(cell, float) else str(cell).strip()


def _take_log(proposal: Proposal, below: Numbered, model: type[Readings]) -> None:
    """Take long columns of plain numbers; the unit is worked out once per column, not once per cell."""
    wanted = {c.reading: (i, c) for i, c in enumerate(proposal.columns) if c.reading}
    if missing := [key for key in proposal.target.columns if key not in wanted and key not in proposal.constants]:
        names = ", ".join(heading_of(proposal.target.model, key) for key in missing)
        proposal.faults.append(Fault(0, "", f"no column for {names}"))
        return
    for key, text in proposal.constants.items():
        try:
            proposal.columns_logged[key] = [parse_entry(text, unit_of(proposal.target.model, key) or "")] * len(below)
        except EntryError as error:
            proposal.faults.append(Fault(0, heading_of(proposal.target.model, key), str(error)))
    for at, row in below[:50]:
        _too_wide(proposal, row, at)
    # Nearly always every cell is a number that can be: then nothing has to be looked at one by one.
    scales = {key: _affine(column.unit, unit_of(proposal.target.model, key)) for key, (_, column) in wanted.items()}
    bounds = {key: _bounds(proposal.target.model, key) for key in wanted}
    sound = {key: _all_sound(below, i, scales[key], bounds[key]) for key, (i, _) in wanted.items()}
    if all(sound.values()):
        proposal.columns_logged |= sound
        return
    places = [i for i, _ in wanted.values()]
    # A cell that says that it has no reading takes its row with it; an empty one is a fault, the file may be cut.
    said = {row[i] for _, row in below for i in places if i < len(row) and isinstance(row[i], str)}
    none = {text for text in said if text and is_blank(text)}
    whole = [(at, row) for at, row in below if not none or not any(i < len(row) and row[i] in none for i in places)]
    if len(whole) < len(below):
        proposal.notes.append(f"{len(below) - len(whole)} rows without a reading (“n.a.”, “–”) are not taken.")
    for key, (i, column) in wanted.items():
        (scale, shift), (low, high) = scales[key], bounds[key]
        values: list[float] = []
        for at, row in whole:
            cell = row[i] if i < len(row) else None
            try:
                value = scale * (cell if isinstance(cell, float) else _number(cell)) + shift
            except (EntryError, ValueError) as error:
                message = str(error)
            else:
                if low <= value <= high:
                    values.append(value)
                    continue
                message = f"{value:g} is outside what can be read, {low:g} to {high:g}"
            proposal.faults.append(Fault(at, column.heading, message))
            if len(proposal.faults) >= _MOST_FAULTS:
                return
        proposal.columns_logged[key] = values


def _all_sound(rows: Numbered, i: int, by: tuple[float, float], bounds: tuple[float, float]) -> list[float]:
    """Return the numbers of a column where every cell is one that can be; nothing where they must be looked at one by
    one."""
    try:
        values = by[0] * np.array([row[i] for _, row in rows], dtype=float) + by[1]
    except (ValueError, TypeError, IndexError):
        return []
    sound: list[float] = values.tolist() if ((values >= bounds[0]) & (values <= bounds[1])).all() else []
    return sound


def _number(cell: Cell) -> float:
    text = str(cell).strip() if cell is not None else ""
    if not text:
        raise EntryError("is empty")
    try:
        return float(text)
    except ValueError:
        pass
    return parse_entry(text, "")


def _affine(given: str, wanted: str | None) -> tuple[float, float]:
    """Return scale and shift that turn a number in one unit into the other."""
    if not given or not wanted:
        return 1.0, 0.0
    times, given = scaled(given)
    at_zero = convert(0.0, given, wanted)
    return times * (convert(1.0, given, wanted) - at_zero), at_zero


def _bounds(model: type[BaseModel], key: str) -> tuple[float, float]:
    limits = declared(model, key)
    return float(limits.get("low", -1e12)), float(limits.get("high", 1e12))


def _exchanged(proposal: Proposal, below: Numbered, model: type[Readings]) -> list[str]:
    """Return a hint when the file would be without fault with two of its columns exchanged."""
    taken = [i for i, column in enumerate(proposal.columns) if column.reading]
    for i, j in combinations(taken, 2):
        columns = [Column(c.heading, c.unit, c.reading) for c in proposal.columns]
        columns[i].reading, columns[j].reading = columns[j].reading, columns[i].reading
        other = Proposal(proposal.target, columns)
        _unfit_units(other)
        if not other.faults:
            _take_rows(other, below, model)
        if not other.faults:
            return [
                f"With “{columns[i].heading}” and “{columns[j].heading}” exchanged there would be no fault: look"
                " whether they are."
            ]
    return []


def _too_wide(proposal: Proposal, row: list[Cell], at: int) -> None:
    used = max((i + 1 for i, cell in enumerate(row) if cell not in (None, "")), default=0)
    if used > len(proposal.columns):
        proposal.faults.append(
            Fault(
                at,
                "",
                f"{used} cells under {len(proposal.columns)} headings: is the comma both decimal mark and separator?"
                " Save with semicolons.",
            )
        )

"""From a grid of cells to the readings of a test: heading found, columns matched, every cell judged, nothing
half-taken."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import combinations
from typing import Any

from pydantic import BaseModel, ValidationError

from vadum.exchange.spreadsheet import Cell, Grid, SpreadsheetError
from vadum.soil.contract.cells import logs, most_rows, read_cell, tables
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import Readings, also_named, shown_under, unit_of
from vadum.soil.numbers.entry import EntryError, parse_entry
from vadum.soil.numbers.units import UnitError, convert, is_unit

_HEADING_ROWS = 120
_SAY = "No heading fits the readings of this test. Say for each column what it is."
_MOST_FAULTS = 200
_HAND_KEPT = 40
_CLOCK = re.compile(r"(\d+):(\d{1,2})(?::(\d{1,2}(?:[.,]\d+)?))?")


@dataclass(frozen=True)
class Target:
    """A table or logger file of the method, with the columns it takes."""

    name: str
    title: str
    model: type[BaseModel]
    columns: list[str]
    log: bool


@dataclass
class Column:
    """A column of the file: its heading and unit, the reading it was matched to (empty: not taken), its first cell."""

    heading: str
    unit: str
    reading: str = ""
    sample: str = ""


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
        return [key for key in self.target.columns if key not in matched]

    @property
    def count(self) -> int:
        return max((len(values) for values in self.columns_logged.values()), default=len(self.rows))


def targets(model: type[Readings], settings: BaseModel | None = None) -> list[Target]:
    """Return the tables and logger files a file can be read into, with the columns that are read under the settings."""
    found = []
    for name, row in tables(model).items():
        columns = [key for key in row.model_fields if key != "left_out" and _read_under(row, key, settings)]
        found.append(Target(name, model.model_fields[name].title or name, row, columns, log=False))
    for name, log in logs(model).items():
        found.append(Target(name, model.model_fields[name].title or name, log, log.names(), log=True))
    return found


def _read_under(row: type[BaseModel], key: str, settings: BaseModel | None) -> bool:
    extra: Any = row.model_fields[key].json_schema_extra or {}
    return settings is None or shown_under(extra.get("shown"), settings)


def propose(
    model: type[Readings],
    grid: Grid,
    target: str = "",
    mapping: list[str] | None = None,
    constants: Callable[[Target], Mapping[str, str]] = lambda _: {},
    settings: BaseModel | None = None,
) -> Proposal:
    """Return what the file would bring into the readings.

    Arguments
    ---------
    target : name of the table; the one whose columns fit best when empty
    mapping : reading of each column of the file, in order, empty for none; matched by heading and unit when None
    constants : of the table chosen, what stands in every row; where the file has a column for it the column leads
    settings : of the test; a column that its school does not read is not filled

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
    best: tuple[int, int, Target, list[Column]] | None = None
    for candidate in chosen:
        at, columns = _heading(grid, candidate)
        score = sum(1 for column in columns if column.reading)
        # A long file belongs into a logger file where there is one.
        score += candidate.log and len(grid.rows) - at > most_rows_of(model, offered)
        # So does a file of bare numbers, unless it is as short as a table kept by hand.
        score += candidate.log and score == 0 and len(grid.rows) - at > _HAND_KEPT
        # What a person said each column is names the table, too.
        score += sum(1 for name in mapping or () if name in candidate.columns)
        if best is None or score > best[0]:
            best = (score, at, candidate, columns)
    assert best is not None
    _, at, found, columns = best
    matched = any(column.reading for column in columns)
    if not matched:
        at, columns = _unmatched(grid, found)
    if mapping is not None:
        for column, name in zip(columns, [*mapping, *[""] * len(columns)], strict=False):
            column.reading = name if name in found.columns else ""
    at += _units_below(grid, at, columns)
    below = grid.rows[at + 1 :]
    if not below:
        raise SpreadsheetError("There are headings but no row below them.")
    for column, cell in zip(columns, below[0], strict=False):
        column.sample = "" if cell is None else f"{cell:g}" if isinstance(cell, float) else str(cell)[:24]
    proposal = Proposal(found, columns, notes=list(grid.notes))
    known = constants(found)
    proposal.constants = {key: known[key] for key in proposal.unmatched if known.get(key, "").strip()}
    if not matched and not any(column.reading for column in columns):
        proposal.faults.append(Fault(0, "", _SAY))
    _unfit_units(proposal)
    if not proposal.faults:
        (_take_log if found.log else _take_rows)(proposal, below, at + 2, model)
        if proposal.faults and mapping is None and not found.log:
            proposal.notes += _exchanged(proposal, below, at + 2, model)
    return proposal


def _unmatched(grid: Grid, target: Target) -> tuple[int, list[Column]]:
    """Return the row above the first row of numbers and its columns, none of them matched; -1 where there is no such
    row.

    Raises
    ------
    SpreadsheetError
        If there is no row of numbers.
    """
    first = next((i for i, row in enumerate(grid.rows[:_HEADING_ROWS]) if _is_numbers(row)), None)
    if first is None:
        wanted = ", ".join(_heading_of(target.model, key) for key in target.columns[:6])
        raise SpreadsheetError(f"No heading fits the readings of this test. Expected headings such as {wanted}.")
    above = [str(cell).strip() if cell is not None else "" for cell in grid.rows[first - 1]] if first else []
    # Names, or the units below them.
    if above and first > 1 and all(not text or _unit(text) for text in above):
        above, first = [str(cell).strip() if cell is not None else "" for cell in grid.rows[first - 2]], first - 1
    width = max(len(above), len(grid.rows[first]))
    return first - 1, [Column(text, *_split_unit(text)[1:]) for text in [*above, *[""] * (width - len(above))]]


def _is_numbers(row: list[Cell]) -> bool:
    cells = [cell for cell in row if cell is not None and str(cell).strip()]
    return len(cells) > 1 and sum(_is_number(cell) for cell in cells) > len(cells) / 2


def _is_number(cell: Cell) -> bool:
    try:
        _number(cell)
    except (EntryError, ValueError):
        return False
    return True


def _units_below(grid: Grid, at: int, columns: list[Column]) -> int:
    """Take the row of units below the headings, where there is one; return how many rows that were."""
    row = grid.rows[at + 1] if at + 1 < len(grid.rows) else []
    texts = [str(cell).strip() if cell is not None else "" for cell in row]
    if at < 0 or not any(_unit(text) for text in texts) or any(text and not _unit(text) for text in texts):
        return 0
    for column, text in zip(columns, texts, strict=False):
        column.unit = column.unit or _unit(text).strip("-")
    return 1


def _unit(text: str) -> str:
    """Return the unit a cell holds, bare or in brackets; "-" and the like for none; "" when it holds something else."""
    bare = text.strip().strip("[]()").strip()
    if bare in ("-", "–", "1", "%"):
        return bare if bare == "%" else "-"
    return bare if is_unit(bare) else ""


def most_rows_of(model: type[Readings], offered: list[Target]) -> int:
    return max((most_rows(model, t.name) for t in offered if not t.log), default=0)


def _heading(grid: Grid, target: Target) -> tuple[int, list[Column]]:
    """Return the row that fits as heading, and its columns."""
    best: tuple[int, int, list[Column]] = (-1, 0, [])
    for at, row in enumerate(grid.rows[:_HEADING_ROWS]):
        texts = [str(cell).strip() if cell is not None else "" for cell in row]
        columns = _matched(texts, target)
        fit = sum(1 for column in columns if column.reading)
        if fit > best[0]:
            best = (fit, at, columns)
    return best[1], best[2]


def _matched(texts: list[str], target: Target) -> list[Column]:
    columns = [Column(text, *_split_unit(text)[1:]) for text in texts]
    free = list(target.columns)
    for exact in (True, False):
        for column in columns:
            if column.reading or not column.heading:
                continue
            words = _words(_split_unit(column.heading)[0])
            for key in free:
                names = _names(target.model, key)
                if words in names if exact else any(_alike(words, name) for name in names):
                    column.reading = key
                    free.remove(key)
                    break
    return columns


def _alike(words: str, name: str) -> bool:
    """Return whether one heading's words are all in the other's; single letters do not count as alike."""
    mine, theirs = set(words.split()), set(name.split())
    return bool(mine and theirs) and len(words) > 2 and len(name) > 2 and (mine <= theirs or theirs <= mine)


def _names(model: type[BaseModel], key: str) -> set[str]:
    unit = unit_of(model, key)
    bare = key.rsplit("_", 1)[0] if unit and "_" in key else key
    title = model.model_fields[key].title or key
    return {_words(key), _words(bare), _words(title), *(_words(name) for name in also_named(model, key))}


def _words(text: str) -> str:
    return " ".join(re.sub(r"[^a-z0-9]+", " ", text.lower()).split())


def _split_unit(heading: str) -> tuple[str, str]:
    """Return heading and unit of ``mass [g]``, ``mass (g)``, ``mass, g`` or ``mass / g``."""
    match = re.fullmatch(r"(.*?)\s*(?:\[([^\]]*)\]|\(([^)]*)\)|[,/]\s*(\S+))\s*", heading)
    if match is None:
        return heading, ""
    return match[1], (match[2] or match[3] or match[4] or "").strip()


def _heading_of(model: type[BaseModel], key: str) -> str:
    unit = unit_of(model, key)
    return f"“{model.model_fields[key].title or key}{f' [{unit}]' if unit else ''}”"


def _unfit_units(proposal: Proposal) -> None:
    for column in proposal.columns:
        wanted = unit_of(proposal.target.model, column.reading) if column.reading else None
        if column.unit and wanted:
            try:
                convert(1.0, column.unit, wanted)
            except UnitError as error:
                proposal.faults.append(Fault(0, column.heading, str(error)))


def _take_rows(proposal: Proposal, below: list[list[Cell]], first: int, model: type[Readings]) -> None:
    most = most_rows(model, proposal.target.name)
    if len(below) > most:
        proposal.faults.append(Fault(first, "", f"{len(below)} rows; this table takes {most}"))
        return
    everywhere = _constants(proposal)
    for at, row in enumerate(below, first):
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
            proposal.faults.append(Fault(0, _heading_of(proposal.target.model, key), complaints(error)[0].message))
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
    if unit == "min" and (clock := _CLOCK.fullmatch(text)):
        text = repr(_minutes(clock))
    elif unit and column.unit and column.unit != unit and re.fullmatch(r"[\d.,eE+\- ]+", text):
        text = f"{text} {column.unit}"
    return read_cell(model, column.reading, text)


def _text(cell: Cell) -> str:
    return repr(cell) if isinstance(cell, float) else str(cell).strip()


def _minutes(clock: "re.Match[str]") -> float:
    """Return h:mm or h:mm:ss in minutes."""
    return int(clock[1]) * 60 + int(clock[2]) + float((clock[3] or "0").replace(",", ".")) / 60


def _take_log(proposal: Proposal, below: list[list[Cell]], first: int, model: type[Readings]) -> None:
    """Take long columns of plain numbers; the unit is worked out once per column, not once per cell."""
    wanted = {c.reading: (i, c) for i, c in enumerate(proposal.columns) if c.reading}
    if missing := [key for key in proposal.target.columns if key not in wanted and key not in proposal.constants]:
        names = ", ".join(_heading_of(proposal.target.model, key) for key in missing)
        proposal.faults.append(Fault(0, "", f"no column for {names}"))
        return
    for key, text in proposal.constants.items():
        try:
            proposal.columns_logged[key] = [parse_entry(text, unit_of(proposal.target.model, key) or "")] * len(below)
        except EntryError as error:
            proposal.faults.append(Fault(0, _heading_of(proposal.target.model, key), str(error)))
    for at, row in enumerate(below[:50], first):
        _too_wide(proposal, row, at)
    for key, (i, column) in wanted.items():
        scale, shift = _affine(column.unit, unit_of(proposal.target.model, key))
        low, high = _bounds(proposal.target.model, key)
        values: list[float] = []
        for at, row in enumerate(below, first):
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


def _number(cell: Cell) -> float:
    text = str(cell).strip() if cell is not None else ""
    if not text:
        raise EntryError("is empty")
    try:
        return float(text)
    except ValueError:
        pass
    if clock := _CLOCK.fullmatch(text):
        return _minutes(clock)
    return parse_entry(text, "")


def _affine(given: str, wanted: str | None) -> tuple[float, float]:
    """Return scale and shift that turn a number in one unit into the other."""
    if not given or not wanted:
        return 1.0, 0.0
    at_zero = convert(0.0, given, wanted)
    return convert(1.0, given, wanted) - at_zero, at_zero


def _bounds(model: type[BaseModel], key: str) -> tuple[float, float]:
    extra = model.model_fields[key].json_schema_extra
    limits = extra if isinstance(extra, dict) else {}
    return float(limits.get("low", -1e12)), float(limits.get("high", 1e12))  # type: ignore[arg-type]


def _exchanged(proposal: Proposal, below: list[list[Cell]], first: int, model: type[Readings]) -> list[str]:
    """Return a hint when the file would be without fault with two of its columns exchanged."""
    taken = [i for i, column in enumerate(proposal.columns) if column.reading]
    for i, j in combinations(taken, 2):
        columns = [Column(c.heading, c.unit, c.reading) for c in proposal.columns]
        columns[i].reading, columns[j].reading = columns[j].reading, columns[i].reading
        other = Proposal(proposal.target, columns)
        _unfit_units(other)
        if not other.faults:
            _take_rows(other, below, first, model)
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

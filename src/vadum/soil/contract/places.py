"""Where a reading stands, in the words of the sheet: ``Top, row 3: ring``, ``Tin 12: tin + wet``."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import BaseModel

from vadum.soil.contract.cells import tables
from vadum.soil.contract.field import Readings, Row, Shown, declared, shown_under


@dataclass(frozen=True)
class Column:
    """A declared reading: its table ("" for one taken once), name, label, unit, and what else its field declares."""

    table: str
    name: str
    title: str
    label: str
    unit: str
    extra: dict[str, Any]
    table_shown: Shown | None
    """The settings under which its table is shown."""

    def shown_in(self, settings: BaseModel) -> bool:
        """Return whether it is read in a school, in a table that is."""
        return shown_under(self.extra.get("shown"), settings) and shown_under(self.table_shown, settings)


@cache
def declaring(model: type[Readings], what: str) -> tuple[Column, ...]:
    """Return the readings whose field declares ``usual`` or ``absent``."""
    return tuple(one for one in columns(model) if one.extra.get(what))


@cache
def columns(model: type[Readings]) -> tuple[Column, ...]:
    """Return every declared reading of a method, in the order of the sheet."""
    found, rows = [], tables(model)
    for name, info in model.model_fields.items():
        if name in rows:
            shown = declared(model, name).get("shown")
            found += [_column(name, info.title or name, rows[name], own, shown) for own in rows[name].model_fields]
        else:
            found.append(_column("", "", model, name))
    return tuple(found)


@cache
def column(model: type[Readings], path: str) -> Column:
    """Return the declared reading that ``trials.blows`` or ``mass_g`` names."""
    table, _, name = path.rpartition(".")
    return next(one for one in columns(model) if (one.table, one.name) == (table, name))


Filled = tuple[int, Any, float]
"""A filled cell: number of its row, the row, the reading."""


class Taken:
    """The rows in use of a test, gathered once for all that is asked about them."""

    def __init__(self, readings: Readings) -> None:
        self.readings = readings
        self._rows: dict[tuple[str, str], dict[int, list[tuple[int, Any]]]] = {}
        self._filled: dict[tuple[str, str, str], list[list[Filled]]] = {}

    def rows(self, table: str, group: str = "") -> dict[int, list[tuple[int, Any]]]:
        """Return number and row of every row that is not left out, by the number in a column ``group``.

        A blank number stands for the one above.
        """
        if (table, group) not in self._rows:
            self._rows[table, group] = _by_number(getattr(self.readings, table), group)
        return self._rows[table, group]

    def filled(self, one: Column, group: str = "") -> list[list[Filled]]:
        """Return the filled cells of a column, of each thing that its table tells apart."""
        name = one.name
        if (one.table, name, group) not in self._filled:
            # Plain tuples: long tables make thousands of them, and hardly one becomes a finding.
            self._filled[one.table, name, group] = [
                [(i, row, value) for i, row in rows if (value := row.__dict__[name]) is not None]
                for rows in self.rows(one.table, group).values()
            ]
        return self._filled[one.table, name, group]

    def cells(self, one: Column) -> list[tuple[int, Any]]:
        """Return row number and holder of each cell of a column, filled or blank."""
        return self.rows(one.table).get(1, []) if one.table else [(0, self.readings)]


def _by_number(rows: Sequence[Any], group: str) -> dict[int, list[tuple[int, Any]]]:
    """Return the rows in use by the number that stands in them, or in the nearest row above, left out or not; all as
    one without a ``group``."""
    attempts = bool(rows) and type(rows[0]).attempted is not Row.attempted
    number, members = 1, list[tuple[int, Any]]()
    found = {number: members}
    for i, row in enumerate(rows):
        held = row.__dict__
        if group and (own := held[group]) is not None and own != number:
            number, members = own, found.setdefault(own, [])
        if not held["left_out"] and not (attempts and row.attempted):
            members.append((i, row))
    return {number: members for number, members in found.items() if members}


def path(one: Column, i: int) -> str:
    """Return the path of a cell of a column: ``mass_g``, ``trials.1.blows``."""
    return f"{one.table}.{i}.{one.name}" if one.table else one.name


def place(one: Column, i: int, row: BaseModel) -> str:
    """Return where a cell stands: ``Tin 12: ``, ``Top, row 3: ``, "" for a reading taken once."""
    if not one.table:
        return ""
    tin = row.__dict__.get("tin")
    return f"Tin {tin}: " if tin else f"{one.title[:1].upper()}{one.title[1:]}, row {i + 1}: "


def rows_in_words(numbers: Sequence[int]) -> str:
    """Return ``row 3``, ``rows 3, 4, 7 and 12 more``."""
    named = [str(number + 1) for number in numbers[:6]]
    more = f" and {len(numbers) - len(named)} more" if len(numbers) > len(named) else ""
    return f"row{'s' if len(numbers) > 1 else ''} {', '.join(named)}{more}"


def _column(table: str, title: str, model: type[BaseModel], name: str, table_shown: Shown | None = None) -> Column:
    label, extra = model.model_fields[name].title or name, declared(model, name)
    return Column(table, name, title, label, str(extra.get("unit") or ""), extra, table_shown)

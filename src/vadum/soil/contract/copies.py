"""Readings of two things that agree to the last figure: one page, or one file, was taken twice."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from operator import attrgetter
from typing import Any

import numpy as np

from vadum.soil.contract.field import Log
from vadum.soil.contract.finding import Finding, note
from vadum.soil.contract.places import Taken, column, columns, path

SAME_READINGS = note(
    "same-readings",
    "{second} reads like {first} to the last figure.",
    "Look whether one page or file was taken twice, and put the right readings in; else say so in the remarks.",
)
# Of fewer different readings two things may be alike by chance.
_DIFFERENT = 6
# In a row they are of several kinds, each weighed to a hundredth of a gram.
_DIFFERENT_IN_A_ROW = 5

Thing = tuple[str, list[str], tuple[float, ...]]
"""What is measured: its name, the cells of it that are marked, its readings in order."""


@dataclass(frozen=True)
class OwnSeries:
    """Each part of a table, or each of several tables, has readings of its own: no two series are the same.

    ``log`` names the logger file that holds the same column, if any.
    """

    columns: tuple[str, ...]
    group: str = ""
    log: str = ""
    unless: tuple[str, str] = ("", "")
    """A setting, and its value under which two series may be the same."""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        """Yield a doubt about every series that stands there twice."""
        name, value = self.unless
        if name and getattr(settings, name) == value:
            return
        shown = [one for name in self.columns if (one := column(type(taken.readings), name)).shown_in(settings)]
        # Several columns of one table are told apart by their headings.
        told = attrgetter("label") if len({one.table for one in shown}) < len(shown) else attrgetter("title")
        things: list[Thing] = []
        for one in shown:
            for number, rows in taken.rows(one.table, self.group).items():
                filled = [(i, value) for i, row in rows if (value := row.__dict__[one.name]) is not None]
                name = f"{self.group} {number}" if self.group else told(one)
                things.append((name, [path(one, i) for i, _ in filled[:1]], tuple(value for _, value in filled)))
        yield from _twice(things)
        yield from _twice(self._logged(taken))

    def _logged(self, taken: Taken) -> Iterator[Thing]:
        log = getattr(taken.readings, self.log, None) if self.log else None
        if not isinstance(log, Log):
            return
        numbers, values = np.asarray(getattr(log, self.group)), getattr(log, self.columns[0].rpartition(".")[2])
        parts, counts = np.unique(numbers, return_counts=True)
        if len(set(counts.tolist())) == len(parts):
            return  # a logger's file is long: only parts of one length can be alike
        for number in parts.tolist():
            yield f"{self.group} {number:g}", [self.log], tuple(np.asarray(values)[numbers == number].tolist())


@dataclass(frozen=True)
class OwnRows:
    """Each row of a table is of a thing of its own, weighed several times: no two rows are the same."""

    table: str

    def broken(self, taken: Taken, _settings: Any, _context: Any) -> Iterator[Finding]:
        """Yield a doubt about every row that stands there twice."""
        own = [one for one in columns(type(taken.readings)) if one.table == self.table]
        things: list[Thing] = []
        for i, row in taken.rows(self.table).get(1, []):
            filled = [(one, value) for one in own if isinstance(value := row.__dict__[one.name], float)]
            cells = [path(one, i) for one, _ in filled[:1]]
            things.append((f"row {i + 1}", cells, tuple(value for _, value in filled)))
        yield from _twice(things, _DIFFERENT_IN_A_ROW)


def _twice(things: Iterable[Thing], least: int = _DIFFERENT) -> Iterator[Finding]:
    seen: dict[Sequence[float], str] = {}
    for name, cells, values in things:
        if len(set(values)) < least:
            continue
        if values in seen:
            yield SAME_READINGS.at(*cells, second=name[:1].upper() + name[1:], first=seen[values])
        seen.setdefault(values, name)

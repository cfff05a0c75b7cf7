"""A gauge that stands still while the specimen is loaded: stuck, not touching, or its column is another one's."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from vadum.soil.contract.field import Log
from vadum.soil.contract.finding import Finding, stop
from vadum.soil.contract.places import Taken, column, path

STANDS_STILL = stop(
    "stands-still",
    "{what} stands at {value:g} in all {count} readings.",
    "Look whether the gauge touched and the columns are the right ones; type what it showed, or leave the part out.",
)


@dataclass(frozen=True)
class Moves:
    """The readings of a column are not all the same, in each part that a number beside them tells apart.

    ``log`` names the logger file that holds the same column, if any; of fewer than ``least`` readings nothing is said.
    """

    column: str
    group: str = ""
    log: str = ""
    least: int = 6
    zero_is_blank: bool = False
    """A logger writes zeros where it has no such gauge."""

    def broken(self, taken: Taken, settings: Any, _context: Any) -> Iterator[Finding]:
        """Yield a doubt about every part in which the column stands still."""
        one = column(type(taken.readings), self.column)
        if not one.shown_in(settings):
            return
        for number, rows in taken.rows(one.table, self.group).items():
            filled = [(i, value) for i, row in rows if (value := row.__dict__[one.name]) is not None]
            if len(filled) >= self.least and len({value for _, value in filled}) == 1:
                part, cells = f"{self.group} {number}" if self.group else one.title, [path(one, i) for i, _ in filled]
                yield self._said(cells, part, one.label, filled[0][1], len(filled))
        log = getattr(taken.readings, self.log, None) if self.log else None
        if isinstance(log, Log) and len(log):
            values = np.asarray(getattr(log, one.name))
            numbers = np.asarray(getattr(log, self.group)) if self.group else np.zeros(len(values))
            for number in np.unique(numbers).tolist():
                mine = values[numbers == number]
                if len(mine) < self.least or np.ptp(mine) > 0 or (self.zero_is_blank and mine[0] == 0):
                    continue
                part = f"{self.group} {number:g}" if self.group else one.title
                yield self._said([self.log], part, one.label, float(mine[0]), len(mine))

    @staticmethod
    def _said(cells: list[str], part: str, label: str, value: float, count: int) -> Finding:
        return STANDS_STILL.at(*cells, what=f"{part[:1].upper()}{part[1:]}: {label}", value=value, count=count)

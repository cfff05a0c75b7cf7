"""A gauge that stands still while the specimen is loaded: stuck, not touching, at its end, or its column is another
one's."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.field import Log
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.places import Column, Taken, column, path
from vadum.soil.numbers.stretches import longest_stretch

STANDS_STILL = stop(
    "stands-still",
    "{what} stands at {value:g} in all {count} readings.",
    "Look whether the gauge touched and the columns are the right ones; type what it showed, or leave the part out.",
)
STOPPED = warn(
    "stopped",
    "{what} stands at {value:g ‹unit›} in {count} readings on end, while {beside} goes on between"
    " {low:g [‹its›]} and {high:g ‹its›}.",
    "Look whether the gauge still touched or was at its end; if not, leave these readings out with the reason.",
)
# A gauge that stands is read more finely than this share of what it shows: a coarse one may well stand.
_FINE = 0.002
_DECIMALS = 6


class _Part(NamedTuple):
    """What one part of a test shows: its name, the readings, those of the column beside, where they stand."""

    name: str
    values: NDArray[np.float64]
    along: NDArray[np.float64]
    cells: list[str]
    """Where each of them stands; one cell for all that a logger recorded."""

    def marked(self, first: int, end: int) -> list[str]:
        return self.cells[first:end] if len(self.cells) == len(self.values) else self.cells


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
    beside: str = ""
    """The column that may not go on by the share ``most`` of its whole way while this one stands."""
    most: float = 0.25
    unless: str = ""
    """The setting under which it may go on."""

    def broken(self, taken: Taken, settings: Any, _context: Any) -> Iterator[Finding]:
        """Yield a doubt about every part in which the column stands still, or stops moving."""
        one = column(type(taken.readings), self.column)
        if not one.shown_in(settings):
            return
        for part in (*self._typed(one, taken), *self._logged(one, taken)):
            if len(part.values) < self.least:
                continue
            steps = np.abs(np.diff(part.values))
            if not steps.any():
                count = len(part.values)
                yield STANDS_STILL.at(*part.cells, what=f"{part.name}: {one.label}", value=part.values[0], count=count)
            elif self.beside and not (self.unless and getattr(settings, self.unless)):
                yield from self._stopped(one, part, steps, column(type(taken.readings), f"{one.table}.{self.beside}"))

    def _typed(self, one: Column, taken: Taken) -> Iterator[_Part]:
        beside = self.beside or one.name
        for number, rows in taken.rows(one.table, self.group).items():
            filled = [(i, held) for i, row in rows if (held := row.__dict__)[one.name] is not None]
            values, along = (np.array([held[name] for _, held in filled], dtype=float) for name in (one.name, beside))
            yield _Part(self._named(number, one), values, along, [path(one, i) for i, _ in filled])

    def _logged(self, one: Column, taken: Taken) -> Iterator[_Part]:
        log = getattr(taken.readings, self.log, None) if self.log else None
        if not isinstance(log, Log) or not len(log):
            return
        values, along = (np.asarray(getattr(log, name)) for name in (one.name, self.beside or one.name))
        numbers = np.asarray(getattr(log, self.group)) if self.group else np.ones(len(values))
        for number in np.unique(numbers).tolist():
            mine = numbers == number
            if not self.zero_is_blank or values[mine].any():
                yield _Part(self._named(number, one), values[mine], along[mine], [self.log])

    def _named(self, number: float, one: Column) -> str:
        name = f"{self.group} {number:g}" if self.group else one.title
        return name[:1].upper() + name[1:]

    def _stopped(self, one: Column, part: _Part, steps: NDArray[np.float64], beside: Column) -> Iterator[Finding]:
        first, end = longest_stretch(np.append(True, steps != 0))
        value, count, way = float(part.values[first]), end - first, part.along[first:end]
        if count < self.least or not np.ptp(way) > self.most * np.ptp(part.along):
            return
        if _written_to(part.values) <= _FINE * abs(value):
            says = STOPPED.says.replace("‹unit›", one.unit).replace("‹its›", beside.unit)
            said = {"what": f"{part.name}: {one.label}", "value": value, "beside": beside.label, "count": count}
            yield replace(STOPPED, says=says).at(*part.marked(first, end), **said, low=way.min(), high=way.max())


def _written_to(values: NDArray[np.float64]) -> float:
    """Return the place of the last decimal that readings are written to: 1, 0.1, 0.01 ..."""
    return next((10.0**-k for k in range(_DECIMALS) if np.allclose(values, values.round(k), 0, 1e-9)), 10.0**-_DECIMALS)

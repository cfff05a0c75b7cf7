"""A logger file holds what could be typed row by row: it is bound by the same limits, and goes on as rows do."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from pydantic import BaseModel

from vadum.soil.contract.cells import tables
from vadum.soil.contract.field import Log
from vadum.soil.contract.finding import Doubt, Finding, stop, warn
from vadum.soil.contract.places import Column, Taken, column
from vadum.soil.numbers.stretches import longest_stretch

LOG_BEYOND = stop(
    "log-beyond",
    "The logger file has {what} up to {value:g ‹unit›}, {lines:g} lines beyond {low:g [‹unit›]} to {high:g ‹unit›}.",
    "Look at the unit of that column in the file and match the columns again; cut off lines that are no readings.",
)
LOG_BACK = stop(
    "log-back",
    "In line {line:g} of the logger file {what} goes back, from {before:g [‹unit›]} to {value:g ‹unit›}.",
    "Look whether two runs stand in one file, or the column is another one's; bring in the part that is the test.",
)
LOG_STANDS = warn(
    "log-stands",
    "In {lines:g} lines on end of the logger file {what} stands at {value:g ‹unit›}.",
    "Look whether the gauge stuck, or the logger ran before the test or after it; bring in the part that is the test.",
)
# Of the lines of a part: who waits longer at one place is not loading any more.
_STANDS = 0.25
_FEWEST = 8


@dataclass(frozen=True)
class Logged:
    """Of a table that a logger file may stand for: what is in the file lies within the limits of the same column typed.

    ``goes_on`` is the column that a run goes along, in each part that a number beside it tells apart; its gauge
    ``trembles`` by so much.
    """

    table: str
    goes_on: str = ""
    group: str = ""
    trembles: float = 0.0

    def broken(self, taken: Taken, _settings: Any, _context: Any) -> Iterator[Finding]:
        """Yield a doubt about each column that is beyond its limits, and about a run that does not go on."""
        log = taken.readings.log  # type: ignore[attr-defined]
        if not isinstance(log, Log) or not len(log):
            return
        for name, (low, high) in _limits(type(taken.readings), self.table).items():
            if name in type(log).model_fields and name != self.group:
                values = np.asarray(getattr(log, name))
                beyond = values[(values < low) | (values > high)]
                if len(beyond):
                    worst = float(beyond[np.argmax(np.abs(beyond))])
                    yield self._said(LOG_BEYOND, name, taken, value=worst, lines=len(beyond), low=low, high=high)
                    return
        if self.goes_on:
            yield from self._stays(taken, log)

    def _stays(self, taken: Taken, log: Log) -> Iterator[Finding]:
        way = np.asarray(getattr(log, self.goes_on))
        part = np.asarray(getattr(log, self.group)) if self.group else np.zeros(len(way))
        same = np.diff(part) == 0
        back = np.flatnonzero(same & (np.diff(way) < -self.trembles))
        if len(back):
            k = int(back[0]) + 1
            yield self._said(LOG_BACK, self.goes_on, taken, line=k + 1, before=way[k - 1], value=way[k])
            return
        first, end = longest_stretch(np.append(True, ~same | (np.diff(way) != 0)))
        mine = int((part == part[first]).sum())
        if end - first > _STANDS * mine and mine >= _FEWEST:
            yield self._said(LOG_STANDS, self.goes_on, taken, lines=end - first, value=way[first])

    def _said(self, doubt: Doubt, name: str, taken: Taken, **values: Any) -> Finding:
        one: Column = column(type(taken.readings), f"{self.table}.{name}")
        return replace(doubt, says=doubt.says.replace("‹unit›", one.unit)).at("log", what=one.label, **values)


@cache
def _limits(model: type[BaseModel], table: str) -> dict[str, tuple[float, float]]:
    """Return the least and the most that a person may type into each column of a table."""
    found = {}
    for name, info in tables(model)[table].model_fields.items():
        low, high = (next((getattr(m, of) for m in info.metadata if hasattr(m, of)), None) for of in ("ge", "le"))
        if low is not None and high is not None:
            found[name] = (float(low), float(high))
    return found

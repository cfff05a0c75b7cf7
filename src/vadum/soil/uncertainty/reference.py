"""A reference soil tested again and again: whether a laboratory still comes to what it came to."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.uncertainty.duplicates import LEAST, Repeated

_WARNING, _ACTION = 2.0, 3.0
# Of two values of one normal distribution the mean distance, in standard deviations: 2 / sqrt(pi).
_MEAN_RANGE = 1.128


@dataclass(frozen=True)
class Lines:
    """Where a chart has its centre, and how far one standard deviation is; both by the first tests alone.

    Lines by all the tests that they judge would follow a laboratory that drifts.
    """

    centre: float
    spread: float

    def off(self, value: float) -> float:
        """Return how many standard deviations a value lies off the centre."""
        return (value - self.centre) / self.spread

    def beyond(self, value: float) -> str:
        """Return the line that a value is beyond: ``action``, ``warning`` or ""."""
        off = abs(self.off(value))
        return "action" if off > _ACTION else "warning" if off > _WARNING else ""


def lines_by(tests: Sequence[Repeated]) -> Lines | None:
    """Return the lines by the first eight tests; None before there are as many, or where they do not differ.

    The spread is the mean distance of two tests in a row over 1.128. Source: ISO 7870-2 (2013), chart of individuals.
    """
    first = [one.value for one in tests[:LEAST]]
    if len(first) < LEAST:
        return None
    spread = sum(abs(b - a) for a, b in pairwise(first)) / (len(first) - 1) / _MEAN_RANGE
    return Lines(sum(first) / len(first), spread) if spread else None


def reference_chart(tests: Sequence[Repeated], lines: Lines | None, symbol: str, unit: str) -> Figure:
    """Return the tests of a reference soil one after the other, with the lines where there are any."""
    values = [one.value for one in tests]
    last, every = len(tests) + 1.0, 1 + len(tests) // 12
    drawn = list(_drawn(lines, last)) if lines else []
    heights = [*values, *(y for line in drawn for _, y in line.points)]
    low, high = min(heights), max(heights)
    room = 0.08 * (high - low) or 0.05 * abs(high) or 1.0
    beyond = sum(lines.beyond(value) == "action" for value in values) if lines else 0
    marks = [Mark(x=k, y=one.value, label=one.who) for k, one in enumerate(tests, 1)]
    return Figure(
        key="reference",
        title=f"Reference soil, {symbol}",
        description=f"{len(tests)} tests of the reference soil, {beyond} beyond the action lines.",
        x=Axis(label="test", low=0.0, high=last, ticks=[float(k) for k in range(1, len(tests) + 1, every)]),
        y=Axis(label=symbol, unit=unit, low=low - room, high=high + room),
        lines=drawn,
        series=[Series(key="tests", label="tests", marks=marks)],
    )


def _drawn(lines: Lines, last: float) -> Iterator[Line]:
    for name, factor in (("centre", 0.0), ("warning", _WARNING), ("action", _ACTION)):
        for side in (1, -1) if factor else (1,):
            at = lines.centre + side * factor * lines.spread
            yield Line(
                key=f"{name}-{side}",
                label=name if side > 0 else "",
                role="construction" if name == "action" else "reference",
                points=[(0.0, at), (last, at)],
            )

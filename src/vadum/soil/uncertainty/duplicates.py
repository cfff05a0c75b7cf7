"""A laboratory's own repeatability: tests of one sample by one method, drawn as a control chart."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from math import sqrt

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series, end_beyond
from vadum.soil.uncertainty.combined import Hand
from vadum.soil.uncertainty.repeatability import PUBLISHED

LEAST = 8
"""So many duplicates say what a laboratory repeats to; fewer say less than the standard does."""
# The difference of two tests scatters by sqrt 2 of one; warning and action lines stand at two and three of that.
WARNING, ACTION = 2 * sqrt(2), 3 * sqrt(2)

# What two tests of one sample may be expected to give alike: disturbed soil, mixed and divided.
COMPARED: dict[str, tuple[str, ...]] = {
    "sieve": ("fines_percent",),
    "hydrometer": ("clay_percent",),
    "linear-shrinkage": ("linear_shrinkage",),
    "shrinkage-limit": ("shrinkage_limit",),
}
for _method, _key in PUBLISHED:
    COMPARED[_method] = (*COMPARED.get(_method, ()), _key)


@dataclass(frozen=True)
class Repeated:
    """A test of a sample that was tested by the same method before or after."""

    sample: str
    test: int
    at: datetime
    who: str
    value: float


@dataclass(frozen=True)
class Duplicate:
    """Two tests of a sample in a row: what the second differs by, as a share of the mean where that is how it goes."""

    first: Repeated
    second: Repeated
    difference: float


def differences(groups: Sequence[Sequence[Repeated]], *, share: bool) -> list[Duplicate]:
    """Return what tests of one sample in a row differ by, in the order of time.

    Arguments
    ---------
    groups : the tests of each sample
    share : whether the difference counts as a share of the mean of both
    """
    found = []
    for group in groups:
        for first, second in pairwise(sorted(group, key=lambda one: one.at)):
            mean = (first.value + second.value) / 2
            if not share or mean:
                found.append(Duplicate(first, second, (second.value - first.value) / (abs(mean) if share else 1.0)))
    return sorted(found, key=lambda one: one.second.at)


def repeats_to(found: Sequence[Duplicate]) -> float | None:
    """Return the standard deviation of one test by differences of two: sqrt(sum d^2 / 2 n); None of none.

    Source: ISO 5725-2 (1994), 7.4.5, of two determinations.
    """
    return sqrt(sum(one.difference**2 for one in found) / (2 * len(found))) if found else None


def own_hand(found: Sequence[Duplicate], value: float, unit: str, *, share: bool) -> Hand | None:
    """Return a laboratory's own repeatability of a result in a unit; None with fewer duplicates than say anything."""
    spread = repeats_to(found)
    if spread is None or len(found) < LEAST:
        return None
    words = f"{100 * spread:.2g} % of the value" if share else f"{spread:.2g} {unit}".strip()
    standard = spread * abs(value) if share else spread
    return Hand(standard, len(found), f"repeatability {words} (own {len(found)} duplicates)")


def control_chart(found: Sequence[Duplicate], spread: float, symbol: str, unit: str, *, share: bool) -> Figure:
    """Return the differences one after the other, with warning and action lines by a standard deviation of one test.

    Arguments
    ---------
    spread : one standard deviation of a test, in the unit of the differences
    """
    times = 100.0 if share else 1.0
    reach = end_beyond(times * max(ACTION * spread, *(abs(one.difference) for one in found)))
    last = len(found) + 1.0
    lines = [
        Line(
            key=f"{name}-{side}",
            label=name if side > 0 else "",
            role="reference" if name == "warning" else "construction",
            points=[(0.0, side * times * factor * spread), (last, side * times * factor * spread)],
        )
        for name, factor in (("warning", WARNING), ("action", ACTION))
        for side in (1, -1)
    ]
    marks = [Mark(x=k, y=times * one.difference, label=one.second.who) for k, one in enumerate(found, 1)]
    beyond = sum(abs(one.difference) > ACTION * spread for one in found)
    return Figure(
        key="control",
        title=f"Control chart, {symbol}",
        description=f"{len(found)} differences of two tests of one sample, {beyond} beyond the action lines.",
        x=Axis(
            label="duplicate",
            low=0.0,
            high=last,
            ticks=[float(k) for k in range(1, len(found) + 1, 1 + len(found) // 12)],
        ),
        y=Axis(label="second less first", unit="%" if share else unit, low=-reach, high=reach),
        lines=lines,
        series=[Series(key="differences", label="duplicates", marks=marks)],
    )


def goes_by_share(method: str, key: str) -> bool:
    """Return whether repeatability of a result grows with it."""
    published = PUBLISHED.get((method, key))
    return bool(published and published.share)

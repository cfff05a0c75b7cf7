"""Rates of successive intervals, and whether the last of them are steady."""

from collections.abc import Sequence
from dataclasses import dataclass

from vadum.soil.numbers.fit import line_fit


@dataclass(frozen=True)
class Rate:
    """How fast water went over one interval, mm/min, at the row it ends with."""

    row: int
    from_min: float
    to_min: float
    mm_min: float


def steady_window(rates: Sequence[Rate], count: int, within_percent: float) -> list[Rate]:
    """Return the last rates when they agree and go neither way; nothing while they do not.

    Arguments
    ---------
    count : how many of the last rates must agree
    within_percent : how far each may lie from their mean, and their straight line may go from first to last
    """
    last = list(rates[-count:])
    if len(last) < count:
        return []
    speeds = [r.mm_min for r in last]
    mean = sum(speeds) / len(speeds)
    within = within_percent / 100 * mean
    agree = mean > 0 and (max(speeds) - min(speeds)) <= 2 * within and abs(_drift(last)) <= within
    return last if agree else []


def mean_mm_min(window: Sequence[Rate]) -> float | None:
    """Return the mean of rates by the fall over their whole time; None of none."""
    time = sum(r.to_min - r.from_min for r in window)
    return sum(r.mm_min * (r.to_min - r.from_min) for r in window) / time if time > 0 else None


def _drift(rates: Sequence[Rate]) -> float:
    """Return how far the straight line through the rates goes from the first to the last, mm/min."""
    middles = [(r.from_min + r.to_min) / 2 for r in rates]
    fit = line_fit(middles, [r.mm_min for r in rates])
    return fit.slope * (middles[-1] - middles[0]) if fit else 0.0

"""Where a curve yields: two straight lines, the first through its beginning, the second through its end."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from math import log

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import Stretches

Array = NDArray[np.float64]
Line = tuple[float, float]
# Points each line needs, points between them that belong to neither, and how much steeper the second must be.
_LEAST = 3
_WIDEST_GAP = 3
_STEEPER = 1.6


@dataclass(frozen=True)
class TwoLines:
    """Two lines (intercept, slope), the x where they meet with its band, and the x between which neither holds."""

    first: Line
    second: Line
    meet: float
    band: tuple[float, float]
    first_to: float
    second_from: float

    def at(self, line: Line, x: float) -> float:
        return line[0] + line[1] * x


def two_lines(
    x: ArrayLike, y: ArrayLike, step: float, first_to: float | None = None, second_from: float | None = None
) -> TwoLines | None:
    """Return the two straight lines that hold the beginning and the end of a bending curve.

    Arguments
    ---------
    x, y : shape (n,), x rising
    step : what y may scatter by itself (resolution of the gauges, or its share of y in logarithms)
    first_to, second_from : x up to which the first, and from which the second line holds, where a hand set them

    Returns
    -------
    The lines of the best division and the mean of the meeting points of all good ones, each weighted by how well its
    lines hold, so that a small change of one reading moves it little; its band is their spread. None when there are too
    few points or the second line is not clearly steeper: then nothing yielded.

    Source: the double-tangent construction (IS 1888 clause 6), automated as segmented regression with averaging over
    divisions (Burnham and Anderson 2002, ch. 4).
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    # Every first line meets every second one: each is fitted once.
    fitted = cache(Stretches(xs, ys).line)
    found = [
        (weight, first, second, k, m)
        for k, m in _divisions(xs, first_to, second_from)
        if (fit := _fit(xs, fitted, k, m, step)) is not None
        for weight, first, second in [fit]
    ]
    if not found:
        return None
    best = max(found, key=lambda division: division[0])
    log_weights = np.array([division[0] for division in found])
    weights = np.exp(log_weights - log_weights.max())
    weights /= weights.sum()
    meets = np.array([_meeting(first, second) for _, first, second, _, _ in found])
    meet = float(weights @ meets)
    spread = float(np.sqrt(weights @ (meets - meet) ** 2))
    _, first, second, k, m = best
    return TwoLines(first, second, meet, (meet - spread, meet + spread), float(xs[k - 1]), float(xs[len(xs) - m]))


def _divisions(x: Array, first_to: float | None, second_from: float | None) -> list[tuple[int, int]]:
    """Return how many points the first and the second line take, for every division that is allowed."""
    n = len(x)
    firsts = range(_LEAST, n) if first_to is None else [max(2, int((x <= first_to + 1e-9).sum()))]
    seconds = range(_LEAST, n) if second_from is None else [max(2, int((x >= second_from - 1e-9).sum()))]
    by_hand = first_to is not None or second_from is not None
    return [(k, m) for k in firsts for m in seconds if k + m <= n and (by_hand or n - k - m <= _WIDEST_GAP)]


def _fit(
    x: Array, fitted: Callable[[int, int], tuple[float, float, float]], k: int, m: int, step: float
) -> tuple[float, Line, Line] | None:
    n = len(x)
    a, b, off_first = fitted(0, k)
    c, d, off_second = fitted(n - m, n)
    if b <= 0 or d < _STEEPER * b:
        return None
    if not x[0] <= _meeting((a, b), (c, d)) <= x[-1]:
        return None
    # Log likelihood per point, so that divisions with more points are not preferred for their number alone.
    scatter = (off_first + off_second) / (k + m) + step**2
    return -0.5 * n * log(scatter) - 0.5 * 0.35 * (n - k - m), (a, b), (c, d)


def _meeting(first: Line, second: Line) -> float:
    return (first[0] - second[0]) / (second[1] - first[1])

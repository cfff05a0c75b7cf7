"""Times of consolidation from water out against time: straight in root time at first, bent in log time at the end."""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import line_fit
from vadum.soil.numbers.remembered import remembered
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
Line = tuple[float, float]
_TAYLOR = 1.15
# A line at the end this steep, as a share of the steepest part, says that consolidation still goes on.
_STILL_GOING = 0.25


@dataclass(frozen=True)
class RootTime:
    """The straight beginning in root time (intercept, slope), the final volume, t100 where they meet, and t90."""

    line: Line
    final: float
    t100_min: float
    t90_min: float | None


@dataclass(frozen=True)
class LogTime:
    """Volumes at none and all of consolidation, the two lines in log10 of minutes (intercept, slope), t50 and t100."""

    start: float
    end: float
    steepest: Line
    tail: Line
    t50_min: float
    t100_min: float


@published("full consolidation", "beginning straight in √t, drawn to the final level", "Bishop and Henkel (1962)")
@remembered
def root_time(minutes: ArrayLike, volume: ArrayLike) -> RootTime | None:
    """Return the root-time construction, None where too little is read for it.

    Arguments
    ---------
    minutes, volume : shape (n,), n at least 5, time rising; water out in any unit

    The beginning, down to half of the change, is a straight line in root time. It meets the final level at root t100; a
    line 1.15 times as far from the axis meets the curve at root t90.
    Source: Bishop and Henkel (1962); BS 1377-8 (1990), clause 6.3.5; Taylor (1948) for t90, ISO 17892-5.

    >>> t = np.array([1.0, 4, 9, 16, 25, 36, 49, 64, 81, 100, 200, 400])
    >>> round(root_time(t, np.minimum(np.sqrt(t), 10.0)).t100_min)
    100
    """
    root, v = np.sqrt(np.asarray(minutes, dtype=float)), np.asarray(volume, dtype=float)
    if len(root) < 5 or v[-1] - v[0] <= 0:
        return None
    share = (v - v[0]) / (v[-1] - v[0])
    early = (share <= 0.5) & (root > 0)
    fit = line_fit(root[early], v[early]) if early.sum() > 1 else None
    if fit is None or fit.slope <= 0:
        return None
    line, final = (fit.intercept, fit.slope), float(v[-1])
    return RootTime(line, final, ((final - fit.intercept) / fit.slope) ** 2, _taylor(root, v, line))


def _taylor(root: Array, v: Array, line: Line) -> float | None:
    """Return t90: where the curve falls below the line that lies 1.15 times as far out."""
    below = v - (line[0] + line[1] / _TAYLOR * root)
    crossed = [k for k in range(1, len(v)) if below[k - 1] > 0 >= below[k]]
    if not crossed:
        return None
    k = crossed[-1]
    at = root[k - 1] + (root[k] - root[k - 1]) * below[k - 1] / (below[k - 1] - below[k])
    return float(at**2)


@published(
    "half of consolidation",
    "steepest and last line in log t meet at the end; half way from the start",
    "Casagrande and Fadum (1940); ASTM D2435 clause 12",
)
@remembered
def log_time(minutes: ArrayLike, volume: ArrayLike) -> LogTime | None:
    """Return the log-time construction, None where too little is read or consolidation still goes on.

    Arguments
    ---------
    minutes, volume : shape (n,), at least 6 of them after the start, time rising; water out in any unit

    The volume at no consolidation lies as far before the one at t as that lies before the one at 4t, early on. The
    steepest line and the line of the last three readings meet at full consolidation.
    Source: Casagrande and Fadum (1940); ASTM D2435 (2011), clause 12.

    >>> t = np.geomspace(0.05, 1000, 60)
    >>> round(log_time(t, [degree(0.197 * minutes / 10) for minutes in t]).t50_min)  # T50 is 0.197
    10
    """
    t, v = np.asarray(minutes, dtype=float), np.asarray(volume, dtype=float)
    t, v = t[t > 0], v[t > 0]
    if len(t) < 6 or v[-1] <= v[0]:
        return None
    logs = np.log10(t)
    steepest, tail = _steepest(logs, v), line_fit(logs[-3:], v[-3:])
    if steepest is None or tail is None or tail.slope > _STILL_GOING * steepest[1]:
        return None
    meets = (steepest[0] - tail.intercept) / (tail.slope - steepest[1])
    end = tail.intercept + tail.slope * meets
    start = _start(t, logs, v, end)
    if start is None or start >= end:
        return None
    half = float(np.interp((start + end) / 2, np.maximum.accumulate(v), logs))
    return LogTime(start, float(end), steepest, (tail.intercept, tail.slope), 10**half, float(10**meets))


def _steepest(logs: Array, v: Array) -> Line | None:
    """Return intercept and slope of the steepest line through three neighbouring readings."""
    x, y = (np.stack((a[:-2], a[1:-1], a[2:])) for a in (logs, v))
    dx = x - x.mean(axis=0)
    spread = (dx**2).sum(axis=0)
    apart = spread > 1e-18
    if not apart.any():
        return None
    slopes = np.where(apart, (dx * y).sum(axis=0) / np.where(apart, spread, 1.0), -np.inf)
    k = int(np.argmax(slopes))
    return float(y[:, k].mean() - slopes[k] * x[:, k].mean()), float(slopes[k])


def _start(t: Array, logs: Array, v: Array, end: float) -> float | None:
    at_four = np.interp(logs + np.log10(4), logs, v)
    early = (at_four <= v[0] + 0.5 * (end - v[0])) & (4 * t <= t[-1])
    return float(np.median(2 * v[early] - at_four[early])) if early.any() else None


def degree(time_factor: float) -> float:
    """Return the mean degree of consolidation of a layer draining at both faces at T = cv t / H^2, as a share.

    Source: Terzaghi (1943): U = 1 - sum 8 / (pi^2 (2m+1)^2) exp(-(2m+1)^2 pi^2 T / 4); sqrt(4T/pi) early on.
    """
    if time_factor <= 0.05:
        return 2 * sqrt(max(time_factor, 0.0) / np.pi)
    m = 2 * np.arange(30) + 1
    return float(1 - np.sum(8 / (np.pi**2 * m**2) * np.exp(-(m**2) * np.pi**2 * time_factor / 4)))

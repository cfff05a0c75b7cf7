"""The reading that does not lie on the curve of its neighbours."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.remembered import remembered

Floats = NDArray[np.float64]
Indices = NDArray[np.int64]

# How far a reading may lie off its neighbours, as a share of what they say: between them, and near an end.
_WITHIN, NEAR_END = 0.12, 0.35
# A reading off by less of the whole range of a curve moves nothing.
_OF_RANGE = 0.01
# Off by less than so many steps of the instrument, or so many times what is common on this curve, is no oddity.
_STEPS, _COMMON = 4.0, 6.0
_FEWEST = 6
_MOST_ODD = 3
_SUSPECTS = 6
# A reading off the cubic through four even neighbours scatters by this times its own scatter: root of 1 + 34/36.
_OF_CUBIC = 1.394
# A median of distances is this share of a standard deviation (normal).
_OF_MEDIAN = 0.6745


@remembered
def off_curve(x: ArrayLike, y: ArrayLike, step: float = 0.0, near_end: float = NEAR_END) -> list[tuple[int, float]]:
    """Return which readings lie off the curve of the others, and what their neighbours say there.

    Arguments
    ---------
    x, y : shape (n,), in the order of the record, x rising or falling
    step : resolution of the instrument, in the unit of y
    near_end : how far one of the first or last two may lie off, as a share of what the others say

    Returns
    -------
    Pairs of index and expected value, the oddest first, at most three; none for fewer than six readings.

    A reading is held against the cubic through two neighbours on each side and the straight lines through the two
    before and the two behind it, and is odd when it lies off all of them: a step in a curve, such as a brittle failure,
    lies on one of the lines, a slip of the pen on none.
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    kept = np.arange(len(xs))
    odd: list[tuple[int, float]] = []
    while len(kept) >= _FEWEST and len(odd) < _MOST_ODD:
        expected, excess = _excess(xs[kept], ys[kept], step, near_end)
        suspects = [int(k) for k in np.argsort(-excess)[:_SUSPECTS] if excess[k] > 1]
        if not suspects:
            break
        # A spoilt reading makes its neighbours look odd too: the odd one is that without which the rest is smooth.
        rests = [np.delete(kept, k) for k in suspects]
        left = [float(_excess(xs[rest], ys[rest], step, near_end)[1].max()) for rest in rests]
        worst = suspects[int(np.argmin(left))]
        odd.append((int(kept[worst]), float(expected[worst])))
        kept = np.delete(kept, worst)
    return odd


def _excess(x: Floats, y: Floats, step: float, near_end: float) -> tuple[Floats, Floats]:
    """Return what the neighbours say of each reading, and by how many times it lies further off than may be."""
    n = len(x)
    with np.errstate(all="ignore"):
        before, behind = _lines(x, y)
        expected = np.where(np.fmin(np.abs(before - y), np.inf) <= np.fmin(np.abs(behind - y), np.inf), before, behind)
        off = np.fmin(np.abs(expected - y), np.inf)
        steps = np.abs(y[1:] - y[:-1])
        local = np.zeros(n)
        local[2:] = steps[: n - 2]
        local[:-2] = np.maximum(local[:-2], steps[1:])
        share = np.full(n, _WITHIN)
        share[[0, 1, -2, -1]] = near_end
        off[[0, -1]] *= y[[0, -1]] != 0  # a curve may begin or end at nothing
        least = max(_STEPS * step, _OF_RANGE * float(y.max() - y.min()))
        allowed = np.maximum(share * np.maximum(np.abs(expected), local), least)
        if (off <= allowed).all():  # most curves: no need to look closer
            return expected, np.zeros(n)
        said = _between(x, y)
        nearer = np.abs(said - y) < off
        expected = np.where(nearer, said, expected)
        off = np.fmin(np.abs(expected - y), np.inf)
        allowed = np.maximum(share * np.maximum(np.abs(expected), local), least)
        allowed = np.maximum(allowed, _COMMON * _median(off))
        excess = np.where(np.isfinite(off), off / allowed, 0.0)
    excess[[0, -1]] *= y[[0, -1]] != 0
    return expected, excess


def off_neighbours(x: ArrayLike, y: ArrayLike) -> Floats:
    """Return how far each reading but the first and last two lies off the cubic through two neighbours on each side.

    Arguments
    ---------
    x, y : shape (n,), x rising

    Returns
    -------
    Shape (n - 4,), in the unit of y; empty for fewer than six readings.
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    if len(xs) < _FEWEST:
        return np.empty(0)
    return ys[2:-2] - _through(xs, ys, np.arange(2, len(xs) - 2), (-2, -1, 1, 2))


def scatter_of(off: Floats) -> float:
    """Return the scatter of readings about their own curve, as a standard deviation in their unit.

    Arguments
    ---------
    off : of :func:`off_neighbours`; the median counts: a stretch that bends, a slip or a step moves it little

    >>> round(scatter_of(off_neighbours(range(9), [0, 1, 4, 9, 16, 25, 36, 49, 64])), 9)
    0.0
    """
    return _median(np.abs(off)) / (_OF_MEDIAN * _OF_CUBIC) if len(off) else 0.0


def _median(values: Floats) -> float:
    """Return the median; numpy's own takes ten times as long for a few dozen values."""
    ordered, half = np.sort(values), len(values) // 2
    return float(ordered[half] if len(values) % 2 else (ordered[half - 1] + ordered[half]) / 2)


def _lines(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """Return what the straight lines through the two readings before and the two behind say of each."""
    slope = (y[1:] - y[:-1]) / (x[1:] - x[:-1])
    before, behind = np.full(len(x), np.nan), np.full(len(x), np.nan)
    before[2:] = y[1:-1] + slope[:-1] * (x[2:] - x[1:-1])
    behind[:-2] = y[1:-1] - slope[1:] * (x[1:-1] - x[:-2])
    return before, behind


def _between(x: Floats, y: Floats) -> Floats:
    """Return what the cubic through two neighbours on each side says of each; near an end the parabola of three."""
    i = np.arange(len(x))
    said = np.empty(len(x))
    said[2:-2] = _through(x, y, i[2:-2], (-2, -1, 1, 2))
    for at, near in ((i[:1], (1, 2, 3)), (i[1:2], (-1, 1, 2)), (i[-2:-1], (-2, -1, 1)), (i[-1:], (-3, -2, -1))):
        said[at] = _through(x, y, at, near)
    return said


def _through(x: Floats, y: Floats, at: Indices, near: tuple[int, ...]) -> Floats:
    """Return at some readings the value of the polynomial through neighbours so many places off (Lagrange)."""
    there, here = [x[at + a] for a in near], x[at]
    away = [here - other for other in there]
    value = np.zeros(len(at))
    for j, a in enumerate(near):
        weight = y[at + a]
        for k, other in enumerate(there):
            if k != j:
                weight = weight * (away[k] / (there[j] - other))
        value += weight
    return value

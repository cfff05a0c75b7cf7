"""A curve of straight pieces: where a line bends, found by least squares."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
# A further piece must take away so many variances of a reading from the squares: two constants of a line and the place
# of the bend, tried at every reading (Bai and Perron, 1998, in the form of a penalty).
_PENALTY = 20.0


def straight_pieces(x: ArrayLike, y: ArrayLike, scatter: float, fewest: int = 2) -> list[tuple[int, int]]:
    """Return the stretches of points that lie on straight lines of their own, as first and one past the last index.

    Arguments
    ---------
    x, y : shape (n,), x rising
    scatter : standard deviation of a reading about its line, in the unit of y
    fewest : points a piece has at least

    Returns
    -------
    As many pieces as the scatter allows to tell apart. The interval between the last point of one piece and the first
    of the next belongs to neither: a bend inside it spoils no slope.

    Source: least squares over all divisions (Bellman and Roth, 1969, Journal of the American Statistical Association).

    >>> straight_pieces([0, 1, 2, 3, 4, 5], [0, 1, 2, 8, 11, 14], 0.1)
    [(0, 3), (3, 6)]
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    n = len(xs)
    if n < 2 * fewest:
        return [(0, n)] if n else []
    squares = _squares(xs, ys) / max(scatter, 1e-12) ** 2
    best, came = np.full(n + 1, np.inf), np.zeros(n + 1, dtype=int)
    best[0] = 0.0
    for last in range(fewest, n + 1):
        starts = np.arange(last - fewest + 1)
        cost = best[starts] + squares[starts, last - 1] + _PENALTY
        came[last] = int(np.argmin(cost))
        best[last] = cost[came[last]]
    pieces, last = [], n
    while last > 0:
        pieces.append((int(came[last]), last))
        last = int(came[last])
    return pieces[::-1]


def _squares(x: Floats, y: Floats) -> Floats:
    """Return the squared residuals of the line through every stretch, by its first and last point."""
    dx, dy = x - x.mean(), y - y.mean()
    sums = np.vstack([np.zeros(5), np.cumsum(np.column_stack([dx, dy, dx * dx, dx * dy, dy * dy]), axis=0)])
    n = len(x)
    first, last = np.triu_indices(n)
    sx, sy, sxx, sxy, syy = (sums[last + 1] - sums[first]).T
    count = last - first + 1
    spread, across, up = sxx - sx * sx / count, sxy - sx * sy / count, syy - sy * sy / count
    with np.errstate(invalid="ignore", divide="ignore"):
        off = np.where(spread > 1e-12, up - across * across / spread, up)
    squares = np.full((n, n), np.inf)
    squares[first, last] = np.maximum(off, 0.0)
    return squares

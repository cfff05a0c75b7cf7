"""Fewer points for drawing, never for numbers: what the eye would see of a long record."""

import itertools

import numpy as np
from numpy.typing import ArrayLike, NDArray

MOST_DRAWN = 400


def faithful(x: ArrayLike, y: ArrayLike, most: int = MOST_DRAWN) -> NDArray[np.int64]:
    """Return which points of a record to draw: of each stretch its first, lowest, highest and last, so that peaks stay.

    Arguments
    ---------
    x, y : shape (n,), in the order of the record
    most : about how many points are drawn at most

    Returns
    -------
    Rising indices; all of them when there are few enough.

    Source: the M4 aggregation, Jugel et al. (2014), Proc. VLDB Endowment 7, 797-808.
    """
    ys = np.asarray(y, dtype=float)
    n = len(ys)
    if n <= most:
        return np.arange(n)
    edges = np.linspace(0, n, most // 4 + 1).astype(int)
    kept = [0, n - 1, int(np.argmax(ys)), int(np.argmin(ys))]
    for begin, end in itertools.pairwise(edges):
        part = ys[begin:end]
        kept += [begin, begin + int(np.argmin(part)), begin + int(np.argmax(part)), end - 1]
    return np.unique(kept)

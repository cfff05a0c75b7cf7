"""Fewer points for drawing, never for numbers: what the eye would see of a long record."""

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
    long = -(-n // (most // 4))
    whole = n // long
    begins = long * np.arange(whole)
    parts = ys[: whole * long].reshape(whole, long)
    kept = [begins, begins + parts.argmin(axis=1), begins + parts.argmax(axis=1), begins + long - 1]
    if whole * long < n:
        rest = ys[whole * long :]
        kept.append(whole * long + np.array([0, int(rest.argmin()), int(rest.argmax()), len(rest) - 1]))
    return np.unique(np.concatenate(kept))

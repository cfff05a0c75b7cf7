"""Stretches of readings that are alike."""

import numpy as np
from numpy.typing import ArrayLike


def longest_stretch(begins: ArrayLike) -> tuple[int, int]:
    """Return the longest stretch of readings: its first, and the one behind its last.

    Arguments
    ---------
    begins : shape (n,), whether a reading begins a stretch; the first does, whatever is said of it

    >>> longest_stretch([True, True, False, False, True])
    (1, 4)
    """
    new = np.asarray(begins, dtype=bool)
    bounds = np.concatenate(([0], np.flatnonzero(new[1:]) + 1, [len(new)]))
    k = int(np.argmax(np.diff(bounds)))
    return int(bounds[k]), int(bounds[k + 1])

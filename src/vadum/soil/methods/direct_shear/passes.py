"""Shearing there and back again: which lines of a record are a pass forward."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# Less travel back is a gauge that trembles, not a box that is pushed back.
_BACK_MM = 0.5
_LEAST_LINES = 4


@dataclass(frozen=True)
class Pass:
    """One pass after the first: travel in mm, shear stress in kPa, and both stresses at its end."""

    horizontal_mm: Array
    shear_kpa: Array
    end_kpa: float
    end_normal_kpa: float


def forward_passes(travel_mm: Array) -> list[slice]:
    """Return the stretches of a record in which the box goes forward.

    Arguments
    ---------
    travel_mm : shape (n,), as read; it falls, or starts again, where the box is pushed back

    >>> forward_passes(np.array([0.0, 2, 4, 6, 3, 0, 2, 4, 6]))
    [slice(0, 4, None), slice(5, 9, None)]
    """
    found, start, top, low = [], 0, 0, None
    for i, x in enumerate(travel_mm):
        if low is None:
            if x >= travel_mm[top]:
                top = i
            elif travel_mm[top] - x > _BACK_MM:
                found.append(slice(start, top + 1))
                low = i
        elif x <= travel_mm[low]:
            low = i
        elif x - travel_mm[low] > _BACK_MM:
            start, top, low = low, i, None
    if low is None:
        found.append(slice(start, top + 1))
    return [part for part in found if part.stop - part.start >= _LEAST_LINES]

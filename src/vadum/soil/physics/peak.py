"""When a peak counts as passed: one rule for the shear box, the press and the cell."""

import numpy as np
from numpy.typing import ArrayLike

FALL_PERCENT = 3.0
_READINGS = 3


def peak_passed(stress: ArrayLike, fall_percent: float = FALL_PERCENT) -> bool:
    """Return whether a record has passed its peak.

    Arguments
    ---------
    stress : shape (n,), in the order of the record, any unit
    fall_percent : least fall from the largest stress, percent of it

    At least three readings follow the largest, and the last of them has fallen by the share asked for: one last digit
    that happens to be lower is no peak.

    >>> peak_passed([50.0, 100.0, 99.0]), peak_passed([50.0, 100.0, 99.0, 98.0, 96.0])
    (False, True)
    """
    values = np.asarray(stress, dtype=float)
    k = int(np.argmax(values))
    return len(values) - 1 - k >= _READINGS and bool(values[-1] <= (1 - fall_percent / 100) * values[k])

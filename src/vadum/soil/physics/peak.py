"""When a peak counts as passed: one rule for the shear box, the press and the cell."""

import numpy as np
from numpy.typing import ArrayLike

FALL_PERCENT = 3.0
_READINGS = 3
# A stretch so many times as wide as the usual one was not read as the rest was.
_WIDE = 3.0
# Of the largest load: what no crack takes off at once, what is nothing, and what is more.
_FAR, _NOTHING, _SOMETHING = 0.3, 0.05, 0.1
# Of a fall: a reading after which the load stands so near to where it stood was misread.
_BACK = 0.75


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


def unread_at_peak(way: ArrayLike, stress: ArrayLike, least: float) -> int | None:
    """Return which reading ends a stretch beside the largest stress where nothing was read; None where it was read as
    closely as the rest.

    Arguments
    ---------
    way : shape (n,), shortening or travel, in the order of the record, any unit
    stress : shape (n,), any unit
    least : what readings may always lie apart, unit of ``way``

    Source: ours; ASTM D2166, D2850 and D3080 ask for readings that define the curve.

    >>> unread_at_peak([0, 1, 2, 3, 4, 5, 6], [0, 40, 70, 90, 100, 95, 90], 2.0)
    >>> unread_at_peak([0, 1, 2, 9, 10, 11], [0, 40, 70, 90, 88, 85], 2.0)
    3
    """
    k = int(np.argmax(stress))
    return next((i for i in (k, k + 1) if i in unread_before(way, least)), None)


def unread_before(way: ArrayLike, least: float) -> list[int]:
    """Return the readings before which a stretch lies that was not read as closely as the rest.

    Arguments
    ---------
    way : shape (n,), shortening or travel, in the order of the record, any unit
    least : what readings may always lie apart, unit of ``way``

    Source: ours: three times the usual step; the standards only ask for readings that define the curve.

    >>> unread_before([0, 1, 2, 9, 10, 11], 2.0)
    [3]
    """
    steps = np.diff(np.asarray(way, dtype=float))
    if not (steps > 0).any():
        return []
    apart = max(least, _WIDE * float(np.median(steps[steps > 0])))
    return (np.flatnonzero(steps > apart * (1 + 1e-9)) + 1).tolist()


def load_taken_off(load: ArrayLike, comes_back: float = 0.1) -> int | None:
    """Return at which reading a load is gone from one reading to the next; None where it never is.

    Arguments
    ---------
    load : shape (n,), in the order of the record, any unit
    comes_back : by how much it rises again, share of the largest; 0 where what is sheared always resists

    What breaks stays broken: a load that comes back was taken off, or its cell was set to zero; so was one that pulls
    from there on. One that is back at the next reading was misread. Source: ours.

    >>> load_taken_off([0, 50, 100, 60, 58, 57]), load_taken_off([0, 50, 100, 0, 20, 30])
    (None, 3)
    >>> load_taken_off([0, 50, 100, 50, 99, 98])
    """
    f = np.asarray(load, dtype=float)
    if len(f) < _READINGS or f.max() <= 0:
        return None
    most, before, after = float(f.max()), f[:-1], f[1:]
    far = before - after > _FAR * most
    gone = (after <= _NOTHING * most) & (before > _SOMETHING * most)
    later = np.maximum.accumulate(f[::-1])[::-1][1:]
    back = np.append(after[1:], after[-1]) - after > _BACK * (before - after)
    pulls = np.minimum.accumulate(f[::-1])[::-1][1:] < -_NOTHING * most
    taken = (gone | (far & (comes_back > 0))) & ~back & ((later - after >= comes_back * most) | pulls)
    return int(np.argmax(taken)) + 1 if taken.any() else None

"""Starts of several cylinders so that one pair of hands reaches every reading."""

from collections.abc import Sequence

# Minutes one reading keeps the hands: from half a minute before it is due until the hydrometer is clean again.
HANDS_MIN = 1.0
_STEP_MIN = 0.5
MOST_CYLINDERS = 6


def next_starts(busy: Sequence[float], waiting: Sequence[Sequence[float]], now: float) -> list[float]:
    """Return when to set down each waiting cylinder, in order, as early as no two readings come too close.

    Arguments
    ---------
    busy : minutes at which hands are needed already: readings of cylinders under way
    waiting : for each cylinder, minutes after its start at which it is read
    now : minutes; nothing starts earlier

    Raises
    ------
    ValueError
        If there are more cylinders than the bench holds.
    """
    if len(waiting) > MOST_CYLINDERS:
        raise ValueError(f"one clock serves at most {MOST_CYLINDERS} cylinders, not {len(waiting)}")
    taken = [at for at in busy if at > now - HANDS_MIN]
    starts: list[float] = []
    for schedule in waiting:
        own = [0.0, *schedule]
        start = starts[-1] + _STEP_MIN if starts else now
        while _clashes(taken, [start + due for due in own]):
            start += _STEP_MIN
        starts.append(start)
        taken += [start + due for due in own]
    return starts


def staggered(cylinders: int, schedule: Sequence[float]) -> list[float]:
    """Return the start of each of several equal cylinders in minutes after the first."""
    return next_starts([], [schedule] * cylinders, 0.0)


def _clashes(taken: Sequence[float], wanted: Sequence[float]) -> bool:
    return any(abs(there - here) < HANDS_MIN for here in wanted for there in taken)

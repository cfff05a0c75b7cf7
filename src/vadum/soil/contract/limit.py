"""A result held against what a project asks of it, and the rule by which its uncertainty counts.

Source: ISO/IEC Guide 98-4 (2012), 8.2 simple acceptance, 8.3.2 guarded acceptance with a guard band of U.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

Side = Literal["least", "most"]
Outcome = Literal["meets", "not shown", "fails"]

JUDGEMENT = "judgement"
"""The key of the result in which a method says how its limits are met."""
SIMPLE = "as measured, without its uncertainty (simple acceptance)"
GUARDED = "met only with the expanded uncertainty to spare (guarded acceptance, ISO/IEC Guide 98-4)"
UNCOUNTED = "as measured; the project's rule is guarded acceptance: the sheet counts the uncertainty"


@dataclass(frozen=True)
class Limit:
    """A result that a setting limits.

    Arguments
    ---------
    results : keys of the results, slots as they declare them
    setting : the name of the setting; its value is in the unit of the results
    excused : whether a result beyond it is accepted all the same, by the settings and the values of the results
    """

    results: tuple[str, ...]
    setting: str
    side: Side
    excused: Callable[[Any, Mapping[str, float]], bool] | None = None


def guarded(value: float, expanded: float, asked: float, side: Side) -> Outcome:
    """Return whether a limit is shown to be met, or not to be met, by a value with its expanded uncertainty.

    >>> guarded(84, 3, 80, "least"), guarded(82, 3, 80, "least"), guarded(76, 3, 80, "least")
    ('meets', 'not shown', 'fails')
    >>> guarded(2.2, 0.3, 2.5, "most")
    'meets'
    """
    spare = value - asked if side == "least" else asked - value
    # A printed value and its printed uncertainty may add up to the limit itself.
    slack = 1e-9 * max(abs(value), abs(asked))
    return "meets" if spare >= expanded - slack else "fails" if spare < -expanded - slack else "not shown"


def basis_of(guards: bool) -> str:
    """Return what is said of a judgement's rule where no uncertainty is known yet."""
    return UNCOUNTED if guards else SIMPLE

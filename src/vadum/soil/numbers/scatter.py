"""How well readings that ought to agree say what they say: a standard error, and how many readings it rests on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

LEAST_FREEDOM = 2
"""With fewer degrees of freedom scatter says nothing: one specimen more than a line takes may lie on it by chance."""


@dataclass(frozen=True)
class Scatter:
    """One standard error of a value, in its unit, with its degrees of freedom; None where it does not rest on few."""

    standard: float
    freedom: int | None = None


def of_mean(values: Sequence[float]) -> Scatter | None:
    """Return the standard error of the mean of repeated determinations; None of one alone.

    Source: ISO/IEC Guide 98-3 (2008), 4.2.3.

    >>> of_mean([10.0, 12.0, 14.0])  # s = 2, over the root of 3
    Scatter(standard=1.1547005383792515, freedom=2)
    """
    n = len(values)
    return Scatter(float(np.std(values, ddof=1) / np.sqrt(n)), n - 1) if n > 1 else None


def scatter(standard: float | None, freedom: int | None = None) -> Scatter | None:
    """Return a standard error that a fit gives, or None where it gives none."""
    return None if standard is None else Scatter(standard, freedom)


def student(freedom: float, both_sides: float = 0.95) -> float:
    """Return Student's t: how many standard errors hold this share of all cases.

    >>> round(student(2), 2), round(student(float("inf")), 2)
    (4.3, 1.96)
    """
    # Imported here: it takes a moment that most commands need not wait for.
    from scipy.special import ndtri, stdtrit

    share = (1 + both_sides) / 2
    return float(ndtri(share)) if freedom == float("inf") else float(stdtrit(freedom, share))

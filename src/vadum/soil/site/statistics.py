"""How the values of a quantity spread over a site, and a cautious value to start a designer's thoughts from."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

# Below this many a spread says nothing of the ground.
LEAST_FOR_CAUTION = 3
_CONFIDENCE = 0.95


@dataclass(frozen=True)
class Spread:
    """n, range, mean and spread of a quantity; ``factor`` is true when mean and spread are geometric.

    ``deviation`` is the sample standard deviation, or its factor; ``cautious`` a suggestion, None without a side or
    with too few values.
    """

    n: int
    least: float
    most: float
    mean: float
    deviation: float | None
    factor: bool
    cautious: float | None


def spread(values: Sequence[float], side: Literal["", "low", "high"] = "", *, log: bool = False) -> Spread:
    """Return how values spread and a cautious estimate of their mean.

    The cautious value is the bound that the mean of the ground lies beyond with a probability of 95 percent, from the
    values alone: mean -+ t(0.95, n - 1) s / sqrt(n), on logarithms for what scatters by factors; never below zero. It
    knows no trend with depth, no layer and no local experience.

    Arguments
    ---------
    values : shape (n,), n >= 1, in any unit; all positive when ``log``
    side : on which side caution lies, "" for nowhere
    log : geometric mean and factor instead of arithmetic

    Source: EN 1997-1 (2004), 2.4.5.2 (11); Student's t for an unknown variance.
    """
    measured = np.asarray(values, dtype=float)
    log = log and bool((measured > 0).all())
    x = np.log(measured) if log else measured
    n, middle = len(x), float(x.mean())
    deviation = float(x.std(ddof=1)) if n > 1 else None
    cautious = None
    if side and deviation is not None and n >= LEAST_FOR_CAUTION:
        from scipy.special import stdtrit

        off = float(stdtrit(n - 1, _CONFIDENCE)) * deviation / np.sqrt(n)
        cautious = middle - off if side == "low" else middle + off
        cautious = float(np.exp(cautious)) if log else max(0.0, cautious)
    return Spread(
        n=n,
        least=float(measured.min()),
        most=float(measured.max()),
        mean=float(np.exp(middle)) if log else middle,
        deviation=float(np.exp(deviation)) if log and deviation is not None else deviation,
        factor=log,
        cautious=cautious,
    )

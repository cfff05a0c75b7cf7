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


def spread_by_layer(
    values: Sequence[tuple[str, float]], side: Literal["", "low", "high"] = "", *, log: bool = False
) -> list[tuple[str, Spread]]:
    """Return how all values spread, under "", and how those of each layer do where they lie in several.

    A mean over clay and gravel is that of no ground: where values lie in several layers, or some in none that was
    logged, a cautious one is given for each layer that has enough of them, and none for all together.

    Arguments
    ---------
    values : layer, "" where none was logged, and value
    side, log : as for :func:`spread`

    Source: EN 1997-1 (2004), 2.4.5.2 (4) and (7): the value is of the zone of ground that governs.

    >>> two = [("clay", 40.0), ("clay", 50.0), ("clay", 45.0), ("gravel", 300.0)]
    >>> [(layer, one.n, one.cautious is None) for layer, one in spread_by_layer(two, "low")]
    [('', 4, True), ('clay', 3, False)]
    """
    by_layer: dict[str, list[tuple[str, float]]] = {}
    for layer, value in values:
        by_layer.setdefault(layer.strip().casefold(), []).append((layer, value))
    every = [value for _, value in values]
    if len(by_layer) == 1:
        return [("", spread(every, side, log=log))]
    layers = [
        (found[0][0].strip(), spread([value for _, value in found], side, log=log))
        for name, found in by_layer.items()
        if name and len(found) >= LEAST_FOR_CAUTION
    ]
    return [("", spread(every, log=log)), *layers]

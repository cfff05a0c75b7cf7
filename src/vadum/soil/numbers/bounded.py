"""Least squares with every parameter held between two bounds."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# A start on a bound itself could not leave it: the sine is flat there.
_INSIDE = 1e-3


@dataclass(frozen=True)
class Bounds:
    """Lower and upper bounds of the parameters, shape (k,); a parameter is a sine between them, which is free."""

    low: Array
    high: Array

    def between(self, free: Array) -> Array:
        """Return the parameters of free numbers."""
        return self.low + (self.high - self.low) * (1 + np.sin(free)) / 2

    def free(self, parameters: Array) -> Array:
        """Return the free numbers of parameters, moved in where they lie on a bound or beyond."""
        span = self.high - self.low
        within = np.clip(parameters, self.low + _INSIDE * span, self.high - _INSIDE * span)
        return np.arcsin(2 * (within - self.low) / span - 1)

    def slopes(self, free: Array) -> Array:
        """Return the derivatives of the parameters by their free numbers."""
        return (self.high - self.low) / 2 * np.cos(free)


def least_squares(
    off: Callable[[Array], Array], by: Callable[[Array], Array], start: Array, bounds: Bounds
) -> tuple[Array, float]:
    """Return the parameters of least squares from a start, and the sum of squares.

    Arguments
    ---------
    off : residuals, shape (n,), of parameters of shape (k,)
    by : their derivatives, shape (n, k)

    Source: Levenberg (1944) and Marquardt (1963) as in MINPACK; bounds by a sine, James and Roos (1975).

    >>> x = np.arange(5.0)
    >>> found, ssr = least_squares(
    ...     lambda p: p[0] + p[1] * x - (1 + 2 * x),
    ...     lambda p: np.column_stack([np.ones(5), x]),
    ...     np.array([0.5, 0.5]),
    ...     Bounds(np.zeros(2), np.array([5.0, 1.5])),
    ... )
    >>> [round(float(value), 3) for value in found]  # the slope stops at its bound
    [2.0, 1.5]
    """
    from scipy.optimize import leastsq

    free, _, info, _, _ = leastsq(
        lambda u: off(bounds.between(u)),
        bounds.free(start),
        Dfun=lambda u: by(bounds.between(u)) * bounds.slopes(u),
        full_output=True,
        xtol=1e-8,
        ftol=1e-10,
        gtol=0.0,
        maxfev=300,
    )
    return bounds.between(free), float((info["fvec"] ** 2).sum())

"""Straight lines by least squares, with what a technician asks of them: scatter, doubt, the odd point."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.scatter import Scatter, scatter


@dataclass(frozen=True)
class LineFit:
    """y = intercept + slope x, by least squares of y on x."""

    intercept: float
    slope: float
    r_squared: float
    residuals: NDArray[np.float64]
    x_mean: float
    sxx: float
    standard_error: float | None

    def at(self, x: float) -> float:
        return self.intercept + self.slope * x

    def doubt_at(self, x: float) -> float | None:
        """Return one standard error of the line at ``x``; None with two points, where scatter cannot be known."""
        if self.standard_error is None:
            return None
        n = len(self.residuals)
        return float(self.standard_error * np.sqrt(1 / n + (x - self.x_mean) ** 2 / self.sxx))

    @property
    def covariance(self) -> tuple[float, float, float] | None:
        """Return the variances of intercept and slope and what they share; None with two points.

        Source: Draper and Smith, ch. 1: cov(a, b) = -s^2 mean(x) / Sxx.
        """
        if self.standard_error is None:
            return None
        slope = self.standard_error**2 / self.sxx
        own = self.standard_error**2 / len(self.residuals) + slope * self.x_mean**2
        return float(own), float(slope), float(-slope * self.x_mean)

    @property
    def freedom(self) -> int:
        """Return how many points there are beyond the two that a line takes."""
        return len(self.residuals) - 2

    def scatter_at(self, x: float) -> Scatter | None:
        """Return :meth:`doubt_at` with its degrees of freedom."""
        return scatter(self.doubt_at(x), self.freedom)


def line_fit(x: ArrayLike, y: ArrayLike) -> LineFit | None:
    """Fit a straight line of y on x.

    Arguments
    ---------
    x, y : shape (n,), any unit

    Returns
    -------
    The fit, or None when fewer than two different x are given. r squared is 1 for points without any spread in y.

    Source: Draper and Smith, Applied Regression Analysis, ch. 1 (textbook least squares).
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    n = len(xs)
    if n < 2:
        return None
    # A sum in two steps: mean() takes longer for a dozen points than all that follows.
    x_mean, y_mean = np.add.reduce(xs) / n, np.add.reduce(ys) / n
    dx, dy = xs - x_mean, ys - y_mean
    sxx = float(dx @ dx)
    if sxx <= 1e-18 * max(1.0, float(xs @ xs)):
        return None
    slope = float(dx @ dy) / sxx
    residuals = dy - slope * dx
    ssr, syy = float(residuals @ residuals), float(dy @ dy)
    return LineFit(
        intercept=float(y_mean - slope * x_mean),
        slope=slope,
        r_squared=1.0 - ssr / syy if syy > 0 else 1.0,
        residuals=residuals,
        x_mean=float(x_mean),
        sxx=sxx,
        standard_error=float(np.sqrt(ssr / (n - 2))) if n > 2 else None,
    )


def lines_fit(x: ArrayLike, y: ArrayLike) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Fit a straight line of y on x to each of many short stretches at once.

    Arguments
    ---------
    x, y : shape (m, n), any unit

    Returns
    -------
    Intercepts and slopes, each of shape (m,); level through the mean where all x of a stretch are one.

    Source: as :func:`line_fit`.

    >>> [line.tolist() for line in lines_fit([[0, 1, 2], [3, 3, 3]], [[1, 3, 5], [1, 2, 3]])]
    [[1.0, 2.0], [2.0, 0.0]]
    """
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    x_mean, y_mean = np.add.reduce(xs, 1) / xs.shape[1], np.add.reduce(ys, 1) / xs.shape[1]
    dx, dy = xs - x_mean[:, None], ys - y_mean[:, None]
    sxx, sxy = np.add.reduce(dx * dx, 1), np.add.reduce(dx * dy, 1)
    slope = np.divide(sxy, sxx, out=np.zeros_like(sxx), where=sxx > 0)
    return y_mean - slope * x_mean, slope


class Stretches:
    """Least-squares lines through any stretch of consecutive points, each at once from running sums.

    Arguments
    ---------
    x, y : shape (n,), any unit; centred here so that the sums stay well conditioned
    """

    def __init__(self, x: ArrayLike, y: ArrayLike) -> None:
        xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
        self._x0, self._y0 = float(xs.mean()), float(ys.mean())
        dx, dy = xs - self._x0, ys - self._y0
        columns = np.column_stack([dx, dy, dx * dx, dx * dy, dy * dy])
        self._sums: list[list[float]] = np.vstack([np.zeros(5), np.cumsum(columns, axis=0)]).tolist()

    def line(self, first: int, last: int) -> tuple[float, float, float]:
        """Return intercept, slope and sum of squared residuals of the points from ``first`` up to before ``last``."""
        n = last - first
        sx0, sy0, sxx0, sxy0, syy0 = self._sums[first]
        sx1, sy1, sxx1, sxy1, syy1 = self._sums[last]
        sx, sy, sxx, sxy, syy = sx1 - sx0, sy1 - sy0, sxx1 - sxx0, sxy1 - sxy0, syy1 - syy0
        spread = sxx - sx * sx / n
        if spread <= 0:
            return self._y0 + sy / n, 0.0, max(0.0, syy - sy * sy / n)
        slope = (sxy - sx * sy / n) / spread
        off = max(0.0, syy - sy * sy / n - slope * (sxy - sx * sy / n))
        return self._y0 + sy / n - slope * (self._x0 + sx / n), slope, off

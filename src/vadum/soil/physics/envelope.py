"""The straight failure envelope: cohesion and friction from points of normal and shear stress."""

from collections.abc import Callable
from dataclasses import dataclass
from math import atan, cos, degrees, radians, sqrt, tan

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import line_fit
from vadum.soil.numbers.scatter import Scatter
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
# A cohesion this far below nothing is that of the fit.
_NOTHING_KPA = 1.0


@dataclass(frozen=True)
class Envelope:
    """tau = c + sigma tan phi; c in kPa, phi in degrees.

    ``covariance`` are the variance of c, that of tan phi and what they share, where there are more points than the
    line takes; ``freedom`` is by how many.
    """

    cohesion_kpa: float
    friction_deg: float
    r_squared: float
    covariance: tuple[float, float, float] | None = None
    freedom: int = 0

    def at(self, normal_kpa: float) -> float:
        return self.cohesion_kpa + normal_kpa * tan(radians(self.friction_deg))

    @property
    def cohesion(self) -> Scatter | None:
        """Return how well c is known, kPa; None of a line that was put through the origin."""
        known = self.covariance is not None and self.covariance[0] > 0
        return Scatter(sqrt(self.covariance[0]), self.freedom) if self.covariance and known else None

    @property
    def friction(self) -> Scatter | None:
        """Return how well phi is known, degrees: d phi = cos^2 phi d tan phi."""
        if self.covariance is None:
            return None
        return Scatter(degrees(sqrt(self.covariance[1]) * cos(radians(self.friction_deg)) ** 2), self.freedom)

    @property
    def correlation(self) -> float | None:
        """Return the correlation of c and tan phi: a steeper line through the same points has less cohesion."""
        if self.covariance is None or not self.covariance[0] * self.covariance[1]:
            return None
        return self.covariance[2] / sqrt(self.covariance[0] * self.covariance[1])

    def band_at(self, normal_kpa: float, t: float) -> tuple[float, float] | None:
        """Return the confidence band of the line at a stress, ``t`` standard errors wide; None where it cannot be
        had."""
        if self.covariance is None:
            return None
        own, slope, both = self.covariance
        doubt = sqrt(max(0.0, own + 2 * normal_kpa * both + normal_kpa**2 * slope))
        return self.at(normal_kpa) - t * doubt, self.at(normal_kpa) + t * doubt


@dataclass(frozen=True)
class Issued:
    """The line that is reported, and the free fit where that met the axis below nothing: no soil has such cohesion."""

    line: Envelope
    below: Envelope | None = None

    @property
    def doubtful(self) -> bool:
        """Whether the free fit lies below nothing by more than its own doubt."""
        if self.below is None:
            return False
        known = self.below.cohesion
        return -self.below.cohesion_kpa > max(_NOTHING_KPA, 2 * known.standard if known else 0.0)


def issued(free: Envelope | None, through_origin: Callable[[], Envelope | None]) -> Issued | None:
    """Return what is reported of a fit: the line itself, or that without cohesion where the free one is negative."""
    if free is None or free.cohesion_kpa >= 0:
        return None if free is None else Issued(free)
    flat = through_origin()
    return Issued(flat, free) if flat is not None else None


@published("envelope", "τ = c′ + σ tan φ′ by least squares of τ on σ; or c′ = 0", "ISO 17892-10")
def envelope(normal_kpa: ArrayLike, shear_kpa: ArrayLike, *, through_origin: bool = False) -> Envelope | None:
    """Fit tau on sigma by least squares.

    Arguments
    ---------
    normal_kpa, shear_kpa : shape (n,), n at least 2 different normal stresses, 1 through the origin
    through_origin : cohesion set to nothing

    Source: least squares of tau on sigma, ISO 17892-10 annex; Draper and Smith, ch. 1.

    >>> line = envelope([100, 200, 300], [70, 130, 190])
    >>> round(line.cohesion_kpa, 3), round(line.friction_deg, 2)  # slope 0.6
    (10.0, 30.96)
    """
    sigma, tau = np.asarray(normal_kpa, dtype=float), np.asarray(shear_kpa, dtype=float)
    if through_origin:
        if not len(sigma) or not float(sigma @ sigma):
            return None
        slope = float(sigma @ tau / (sigma @ sigma))
        off = tau - slope * sigma
        spread = float(((tau - tau.mean()) ** 2).sum())
        r_squared = 1 - float(off @ off) / spread if spread > 0 else 1.0
        freedom = len(sigma) - 1
        variance = float(off @ off / freedom / (sigma @ sigma)) if freedom else None
        return Envelope(
            0.0, degrees(atan(slope)), r_squared, None if variance is None else (0.0, variance, 0.0), freedom
        )
    fit = line_fit(sigma, tau)
    if fit is None:
        return None
    return Envelope(fit.intercept, degrees(atan(fit.slope)), fit.r_squared, fit.covariance, fit.freedom)

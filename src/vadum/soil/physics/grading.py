"""The grain-size curve: points, interpolation, coefficients, and the joining of sieve and hydrometer."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

Points = list[tuple[float, float]]
MOST_POINTS = 1000
# The stretch over which a limb's slope at its end is judged, as a ratio of diameters.
_JOINT_SPAN = 0.45


@dataclass(frozen=True)
class Curve:
    """Percent finer against diameter, diameters ascending, percent never falling; straight between points on log d."""

    diameter_mm: NDArray[np.float64]
    finer_percent: NDArray[np.float64]

    @classmethod
    def through(cls, diameter_mm: ArrayLike, finer_percent: ArrayLike) -> "Curve":
        """Return the curve through points in any order.

        Percentages that fall with growing diameter, which no soil can do, are pooled to their mean (isotonic
        regression), so that every percentage has one diameter; points in order are left as they are.

        Arguments
        ---------
        diameter_mm : shape (n,), mm, positive
        finer_percent : shape (n,), percent of dry mass
        """
        d, p = np.asarray(diameter_mm, dtype=float), np.asarray(finer_percent, dtype=float)
        order = np.argsort(d, kind="stable")
        d, p = d[order], p[order]
        if len(p) > 1 and (np.diff(p) < 0).any():
            from scipy.optimize import isotonic_regression

            p = isotonic_regression(p).x
        return cls(d, p)

    def __len__(self) -> int:
        return len(self.diameter_mm)

    @property
    def points(self) -> Points:
        """Return the points, at most about a thousand of them: for figures and other tests, never for numbers.

        Of a longer curve the first point in each thousandth of the log axis is kept, so that sparse parts stay whole.
        """
        d, p = self.diameter_mm, self.finer_percent
        if len(self) > MOST_POINTS:
            along = np.log(d / d[0]) / np.log(d[-1] / d[0])
            keep = np.append(np.unique((along * MOST_POINTS).astype(int), return_index=True)[1], len(d) - 1)
            d, p = d[keep], p[keep]
        return list(zip(d.tolist(), p.tolist(), strict=True))

    def finer_at(self, diameter_mm: float) -> float | None:
        """Return the percentage finer than a diameter.

        None below the finest point, and above the coarsest unless all of the soil passes it.
        """
        d, p = self.diameter_mm, self.finer_percent
        if not len(d) or diameter_mm < d[0] * (1 - 1e-9):
            return None
        if diameter_mm > d[-1] * (1 + 1e-9):
            return 100.0 if p[-1] >= 99.95 else None
        return float(np.interp(np.log(diameter_mm), np.log(d), p))

    def diameter_at(self, finer_percent: float) -> float | None:
        """Return the diameter in mm than which this percentage is finer; None where the curve does not reach.

        Source: log-linear interpolation, ASTM D6913 (2017), clause 12.
        """
        d, p = self.diameter_mm, self.finer_percent
        if len(d) < 2 or not p[0] <= finer_percent <= p[-1]:
            return None
        above = int(np.searchsorted(p, finer_percent, side="left"))
        if above == 0:
            # The percentage is met exactly by the finest point.
            return float(d[0])
        low, high = p[above - 1], p[above]
        share = (finer_percent - low) / (high - low)
        return float(np.exp(np.log(d[above - 1]) + share * (np.log(d[above]) - np.log(d[above - 1]))))

    def beside(self, diameter_mm: float) -> tuple[float, float]:
        """Return the diameters of the points on either side of one within the curve."""
        above = max(1, int(np.searchsorted(self.diameter_mm, diameter_mm * (1 - 1e-9))))
        if abs(self.diameter_mm[min(above, len(self) - 1)] - diameter_mm) <= 1e-9 * diameter_mm:
            return diameter_mm, diameter_mm
        return float(self.diameter_mm[above - 1]), float(self.diameter_mm[above])


@published("coefficient of uniformity", "Cu = D60 / D10", "ASTM D2487 clause 8")
def uniformity(d10_mm: float, d60_mm: float) -> float:
    """Return Cu = D60 / D10, plain number. Source: ASTM D2487 (2017), clause 8.

    >>> round(uniformity(0.1, 0.6), 6)
    6.0
    """
    return d60_mm / d10_mm


@published("coefficient of curvature", "Cc = D30² / (D10 D60)", "ASTM D2487 clause 8")
def curvature(d10_mm: float, d30_mm: float, d60_mm: float) -> float:
    """Return Cc = D30^2 / (D10 D60), plain number. Source: ASTM D2487 (2017), clause 8.

    >>> round(curvature(0.1, 0.3, 0.6), 6)
    1.5
    """
    return d30_mm**2 / (d10_mm * d60_mm)


def joined(coarse: Curve, fine: Curve) -> Curve:
    """Return one curve: the sieves, then the sedimentation points finer than the finest sieve.

    Sieves count before sedimentation: where the limbs do not meet, the fine limb is held below the finest sieve.
    """
    if not len(coarse):
        return fine
    finer = fine.diameter_mm < coarse.diameter_mm[0] * 0.999
    return Curve.through(
        np.concatenate([fine.diameter_mm[finer], coarse.diameter_mm]),
        np.concatenate([np.minimum(fine.finer_percent[finer], coarse.finer_percent[0]), coarse.finer_percent]),
    )


def limb_jump(coarse: Curve, fine: Curve) -> float | None:
    """Return by how many percent the sedimentation limb lies above (+) or below (-) the sieve limb where they meet.

    They are compared at the finest sieve. Where sedimentation starts finer than that, its limb is carried on by its own
    slope or the sieves', whichever is steeper: within a gap a soil may do anything that does not fall. None when there
    is nothing to compare.
    """
    if not len(coarse) or len(fine) < 2:
        return None
    at = float(coarse.diameter_mm[0])
    sieve = float(coarse.finer_percent[0])
    covered = fine.finer_at(at)
    if covered is not None and at <= fine.diameter_mm[-1]:
        return covered - sieve
    coarsest, top = float(fine.diameter_mm[-1]), float(fine.finer_percent[-1])
    if top > sieve:
        return top - sieve
    slope = max(_slope(fine, coarsest), _slope(coarse, float(coarse.diameter_mm[min(2, len(coarse) - 1)])))
    return min(0.0, top + slope * float(np.log(at / coarsest)) - sieve)


def _slope(curve: Curve, diameter_mm: float) -> float:
    """Return the mean slope of a curve over the third of a decade below a diameter, percent per unit of ln d."""
    below = max(float(curve.diameter_mm[0]), diameter_mm * _JOINT_SPAN)
    high, low = curve.finer_at(diameter_mm), curve.finer_at(below)
    if below >= diameter_mm or high is None or low is None:
        return 0.0
    return (high - low) / float(np.log(diameter_mm / below))

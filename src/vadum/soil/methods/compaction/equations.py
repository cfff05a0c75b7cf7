"""The compaction curve, and the correction for what is too coarse for the mould."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from vadum.soil.physics.phases import WATER
from vadum.soil.physics.published import published


@dataclass(frozen=True)
class Peak:
    """A curve of dry density over water content with its optimum: coefficients from the highest power down."""

    coefficients: tuple[float, ...]
    optimum_percent: float

    def at(self, water_content_percent: float) -> float:
        return float(np.polyval(self.coefficients, water_content_percent))

    @property
    def maximum(self) -> float:
        return self.at(self.optimum_percent)


@published(
    "optimum",
    "top of the parabola through the best point and its neighbours, or of a cubic through all",
    "ASTM D698 clause 11; Howell et al. (1997)",
)
def parabola_through_best(water_content_percent: ArrayLike, dry_density: ArrayLike) -> Peak | None:
    """Return the parabola through the densest point and its neighbour on each side.

    Arguments
    ---------
    water_content_percent, dry_density : shape (n,), n at least 3

    Returns
    -------
    The peak, or None when the densest point is the first or last, or the three do not bend downward.

    Source: the common construction to ASTM D698 (2021), clause 11: a smooth curve through the points.

    >>> round(parabola_through_best([10, 12, 14], [1.80, 1.90, 1.80]).optimum_percent, 6)
    12.0
    """
    w, rho = _ordered(water_content_percent, dry_density)
    if len(w) < 3:
        return None
    best = int(np.argmax(rho))
    if best in (0, len(w) - 1):
        return None
    near = slice(best - 1, best + 2)
    a, b, c = np.polyfit(w[near] - w[best], rho[near], 2)
    if a >= -1e-12:
        return None
    off = -b / (2 * a)
    middle = w[best]
    return Peak((float(a), float(b - 2 * a * middle), float(a * middle**2 - b * middle + c)), float(middle + off))


def cubic(water_content_percent: ArrayLike, dry_density: ArrayLike) -> Peak | None:
    """Return the cubic by least squares through all points with its maximum between them.

    Arguments
    ---------
    water_content_percent, dry_density : shape (n,), n at least 4

    Returns
    -------
    The peak, or None when the cubic has no maximum within the points.

    Source: Howell, Shackelford, Amer and Stern (1997), Geotech. Test. J. 20(1), 65-78.
    """
    w, rho = _ordered(water_content_percent, dry_density)
    if len(w) < 4:
        return None
    coefficients = np.polyfit(w, rho, 3)
    slope = np.polyder(coefficients)
    for root in np.roots(slope):
        if abs(root.imag) < 1e-9 and w[0] <= root.real <= w[-1] and np.polyval(np.polyder(slope), root.real) < 0:
            return Peak(tuple(float(c) for c in coefficients), float(root.real))
    return None


@published("oversize, density", "ρd whole = 1 / ((1 − C)/ρd + C/(Gm ρw))", "ASTM D4718 eq. 2")
def oversize_density(dry_density: float, oversize_percent: float, oversize_specific_gravity: float) -> float:
    """Return the dry density of the whole soil from that of its finer part.

    Arguments
    ---------
    dry_density : of the part that went into the mould, g/cm3
    oversize_percent : share of the dry mass that was taken out
    oversize_specific_gravity : bulk specific gravity Gm of what was taken out

    Source: ASTM D4718 (2015), equation 2.

    >>> round(oversize_density(1.90, 20, 2.65), 2)  # 1 / (0.8/1.90 + 0.2/2.65)
    2.01
    """
    coarse = oversize_percent / 100.0
    return 1.0 / ((1 - coarse) / dry_density + coarse / (oversize_specific_gravity * WATER))


@published("oversize, water", "w whole = (1 − C) w + C w oversize", "ASTM D4718 eq. 1")
def oversize_water(water_content_percent: float, oversize_percent: float, oversize_water_percent: float) -> float:
    """Return the water content of the whole soil, percent. Source: ASTM D4718 (2015), equation 1.

    >>> round(oversize_water(12, 20, 2), 1)
    10.0
    """
    coarse = oversize_percent / 100.0
    return (1 - coarse) * water_content_percent + coarse * oversize_water_percent


def _ordered(x: ArrayLike, y: ArrayLike) -> tuple[np.ndarray, np.ndarray]:
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    xs, first = np.unique(xs, return_index=True)
    return xs, ys[first]

"""Stress and strain of a cylinder that is shortened, its peak and its stiffness."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import lines_fit
from vadum.soil.physics.peak import FALL_PERCENT, peak_passed
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
_WINDOW_SHARE = 0.15


@dataclass(frozen=True)
class Curve:
    """Axial strain in percent and stress in kPa, in the order of the test, with the strain at which it truly began."""

    strain_percent: Array
    stress_kpa: Array
    start_percent: float = 0.0

    def at(self, strain_percent: float) -> float:
        return float(np.interp(strain_percent, self.strain_percent, self.stress_kpa))


@published("area", "A = A0 / (1 − ε)", "ASTM D2166 eq. 2")
def corrected_area_mm2(area_mm2: float, strain: ArrayLike) -> Array:
    """Return A = A0 / (1 - eps), mm2; strain as a share. Source: ASTM D2166 (2016), equation 2.

    >>> float(corrected_area_mm2(1000.0, 0.2))
    1250.0
    """
    return area_mm2 / (1.0 - np.asarray(strain, dtype=float))


def stress_strain(shortening_mm: ArrayLike, force_n: ArrayLike, length_mm: float, area_mm2: float) -> Curve:
    """Return strain in percent and stress in kPa on the corrected area.

    Arguments
    ---------
    shortening_mm, force_n : shape (n,)
    length_mm, area_mm2 : of the specimen before loading

    Source: ASTM D2166 (2016), clause 8.
    """
    eps = np.asarray(shortening_mm, dtype=float) / length_mm
    stress = np.asarray(force_n, dtype=float) / corrected_area_mm2(area_mm2, eps) * 1000
    return Curve(100 * eps, stress)


@published("start put right", "steepest stretch drawn back to the axis", "ISO 17892-7")
def toe_percent(curve: Curve) -> float:
    """Return the strain at which the steepest stretch of the rising branch meets the axis of no stress, never below
    0.

    >>> x = np.arange(0.0, 5.5, 0.5)
    >>> round(toe_percent(Curve(x, np.maximum(0.0, 20 * (x - 1)))), 6)
    1.0
    """
    top = int(np.argmax(curve.stress_kpa)) + 1
    x, y = curve.strain_percent[:top], curve.stress_kpa[:top]
    reach = max(3, round(_WINDOW_SHARE * len(x)))
    if len(x) < 4:
        return 0.0
    starts = np.unique(np.linspace(0, len(x) - reach, min(60, len(x) - reach + 1)).astype(int))
    stretches = starts[:, None] + np.arange(reach)
    intercepts, slopes = lines_fit(x[stretches], y[stretches])
    steepest = int(slopes.argmax())
    return max(0.0, float(-intercepts[steepest] / slopes[steepest])) if slopes[steepest] > 0 else 0.0


@published("strength", "qu = largest F/A up to 15 %, or F/A at 15 %; su = qu / 2", "ASTM D2166 clause 8")
def peak(curve: Curve, limit_percent: float, fall_percent: float = FALL_PERCENT) -> tuple[float, float, bool]:
    """Return strain and stress of the strength, and whether a peak was passed before the limit.

    The largest stress up to the limit; the stress at the limit when it still rises there.

    >>> peak(Curve(np.array([0.0, 1.0, 2.0, 3.0, 4.0, 5.0]), np.array([0.0, 80.0, 100.0, 98.0, 94.0, 90.0])), 15.0)
    (2.0, 100.0, True)
    """
    within = curve.strain_percent - curve.start_percent <= limit_percent + 1e-9
    strain, stress = curve.strain_percent[within], curve.stress_kpa[within]
    if not len(stress):
        return limit_percent + curve.start_percent, curve.at(limit_percent + curve.start_percent), False
    k = int(np.argmax(stress))
    passed = peak_passed(stress, fall_percent)
    if k == len(stress) - 1 and len(curve.strain_percent) > len(strain):
        at = limit_percent + curve.start_percent
        return at, max(curve.at(at), float(stress[k])), False
    return float(strain[k]), float(stress[k]), passed


@published("stiffness", "E50 = (qu/2) / ε(qu/2)", "ISO 17892-7")
def secant_modulus_mpa(curve: Curve, strength_kpa: float) -> float | None:
    """Return E50 in MPa: half the strength over the strain at which it is first reached. Source: ISO 17892-7.

    >>> secant_modulus_mpa(Curve(np.array([0.0, 2.0]), np.array([0.0, 100.0])), 100.0)  # 50 kPa at 1 %
    5.0
    """
    half = strength_kpa / 2
    above = np.flatnonzero(curve.stress_kpa >= half)
    if not len(above) or above[0] == 0:
        return None
    k = int(above[0])
    x, y = curve.strain_percent[k - 1 : k + 1], curve.stress_kpa[k - 1 : k + 1]
    strain = float(np.interp(half, y, x)) - curve.start_percent
    return half / (strain / 100) / 1000 if strain > 0 else None

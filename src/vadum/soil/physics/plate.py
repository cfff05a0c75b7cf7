"""Plate, jack and deformation moduli."""

from math import pi

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.scatter import Scatter
from vadum.soil.physics.published import published

Array = NDArray[np.float64]

# Nominal plate diameter in mm against the last stage of first loading in kPa and the settlement that ends it in mm.
# DIN 18134 (2012), clause 7.2.
LAST_STAGE: dict[int, tuple[float, float]] = {300: (500.0, 5.0), 600: (250.0, 8.0), 762: (200.0, 13.0)}
SUBGRADE_PLATE_MM, SUBGRADE_SETTLEMENT_MM = 762, 1.25


def plate_area_m2(size_mm: float, *, square: bool = False) -> float:
    """Return the area of a round plate of this diameter, or of a square one of this width, m2."""
    return (size_mm / 1000) ** 2 * (1.0 if square else pi / 4)


def jack_force_kn(pressure_kpa: float, area_m2: float) -> float:
    """Return the force in kN that puts a pressure below a plate."""
    return pressure_kpa * area_m2


def pressure_kpa(force_kn: float, area_m2: float) -> float:
    """Return the pressure in kPa below a plate under a force."""
    return force_kn / area_m2


def pump_pressure_bar(force_kn: float, piston_area_cm2: float) -> float:
    """Return the oil pressure in bar that gives a force with a piston of this area; 1 bar on 1 cm2 is 10 N."""
    return force_kn * 1000 / (10 * piston_area_cm2)


@published("plate settlement", "s = s_M h_P / h_M", "DIN 18134 clause 7.4")
def plate_settlement_mm(gauge_mm: ArrayLike, lever_plate: float, lever_gauge: float) -> Array:
    """Return the plate's settlement from a gauge at the other end of a beam.

    Arguments
    ---------
    gauge_mm : shape (n,), settlement at the gauge
    lever_plate, lever_gauge : h_P from the pivot to the plate and h_M from the pivot to the gauge, any one unit

    Source: DIN 18134 (2012), clause 7.4: s = s_M h_P / h_M.

    >>> float(plate_settlement_mm(2.0, 1.0, 2.0))
    1.0
    """
    return np.asarray(gauge_mm, dtype=float) * lever_plate / lever_gauge


@published("curve", "s = a0 + a1 σ + a2 σ², least squares", "DIN 18134 clause 8.2")
def settlement_curve(pressure_kpa: ArrayLike, settlement_mm: ArrayLike) -> tuple[float, float, float] | None:
    """Fit s = a0 + a1 sigma + a2 sigma^2 by least squares.

    Arguments
    ---------
    pressure_kpa, settlement_mm : shape (n,), n at least 3 different pressures

    Returns
    -------
    a0 in mm, a1 in mm/MPa, a2 in mm/MPa2; None when there are too few pressures.

    Source: DIN 18134 (2012), clause 8.2, equation 2.

    >>> [round(value, 6) + 0 for value in settlement_curve([0, 100, 200], [0.0, 1.0, 2.2])]
    [0.0, 9.0, 10.0]
    """
    sigma, s = np.asarray(pressure_kpa, dtype=float) / 1000, np.asarray(settlement_mm, dtype=float)
    if len(np.unique(sigma)) < 3:
        return None
    a0, a1, a2 = np.linalg.lstsq(np.vander(sigma, 3, increasing=True), s, rcond=None)[0]
    return float(a0), float(a1), float(a2)


@published(
    "deformation modulus", "Ev = 1.5 r / (a1 + a2 σmax), σmax of the first loading in both", "DIN 18134 clause 8.3"
)
def deformation_modulus_mpa(a1: float, a2: float, radius_mm: float, largest_pressure_kpa: float) -> float:
    """Return Ev = 1.5 r / (a1 + a2 sigma_max) in MPa.

    Arguments
    ---------
    a1, a2 : mm/MPa, mm/MPa2
    radius_mm : of the plate
    largest_pressure_kpa : sigma_max of the first loading, in both loadings

    Returns
    -------
    MPa, nan when the curve does not settle under load. Source: DIN 18134 (2012), clause 8.3, equation 3.

    >>> round(deformation_modulus_mpa(9.0, 10.0, 150.0, 200.0), 2)  # 225 / 11
    20.45
    """
    slope = a1 + a2 * largest_pressure_kpa / 1000
    return 1.5 * radius_mm / slope if slope > 0 else float("nan")


def modulus_scatter(
    pressure_kpa: ArrayLike, settlement_mm: ArrayLike, radius_mm: float, largest_pressure_kpa: float
) -> Scatter | None:
    """Return the standard error of Ev by the scatter of the stages about the curve, MPa.

    Arguments
    ---------
    pressure_kpa, settlement_mm : shape (n,), the points of the fit
    radius_mm, largest_pressure_kpa : as of :func:`deformation_modulus_mpa`

    Returns
    -------
    None with no more points than the curve takes. Source: var(v a) = s^2 v (X^T X)^-1 v^T, Draper and Smith, ch. 5,
    with v = (0, 1, sigma_max), and dEv / Ev = d slope / slope.

    >>> modulus_scatter([0, 100, 200, 300], [0.0, 1.0, 2.2, 3.6], 150.0, 300.0).freedom
    1
    """
    sigma, s = np.asarray(pressure_kpa, dtype=float) / 1000, np.asarray(settlement_mm, dtype=float)
    freedom = len(sigma) - 3
    if freedom < 1 or len(np.unique(sigma)) < 3:
        return None
    terms = np.vander(sigma, 3, increasing=True)
    inverse = np.linalg.pinv(terms)
    a = inverse @ s
    off = s - terms @ a
    at = np.array([0.0, 1.0, largest_pressure_kpa / 1000]) @ inverse
    slope = float(a[1] + a[2] * largest_pressure_kpa / 1000)
    error = float(np.sqrt(off @ off / freedom * (at @ at)))
    return Scatter(1.5 * radius_mm / slope**2 * error, freedom) if slope > 0 else None


@published("secant modulus", "Ev = 1.5 r Δσ/Δs between 0.3 and 0.7 σmax, read on the curve", "ÖNORM B 4417")
def secant_modulus_mpa(
    pressure_kpa: ArrayLike, settlement_mm: ArrayLike, radius_mm: float, largest_pressure_kpa: float
) -> tuple[float, tuple[float, float], tuple[float, float]] | None:
    """Return the modulus from the secant between 0.3 and 0.7 of the largest pressure, with both points read on the
    curve.

    Arguments
    ---------
    pressure_kpa, settlement_mm : shape (n,), pressure rising, over 0.3 and 0.7 of the largest
    radius_mm : of the plate

    Returns
    -------
    Ev in MPa and the two points (kPa, mm); None when the readings do not reach them or the secant does not settle.

    Source: Ev = 1.5 r delta sigma / delta s, the secant school (ÖNORM B 4417).

    >>> round(secant_modulus_mpa([0, 30, 70, 100], [0.0, 0.3, 0.7, 1.0], 150.0, 100.0)[0], 6)
    22.5
    """
    sigma, s = np.asarray(pressure_kpa, dtype=float), np.asarray(settlement_mm, dtype=float)
    low, high = 0.3 * largest_pressure_kpa, 0.7 * largest_pressure_kpa
    if len(sigma) < 2 or sigma[0] > low or sigma[-1] < high:
        return None
    s_low, s_high = (float(v) for v in np.interp([low, high], sigma, s))
    if s_high <= s_low:
        return None
    return 1.5 * radius_mm * (high - low) / 1000 / (s_high - s_low), (low, s_low), (high, s_high)


@published("ME", "ME = D Δσ/Δs over a fixed stretch of pressure, read on the curve", "SN 670 317")
def me_mpa(
    pressure_kpa: ArrayLike, settlement_mm: ArrayLike, diameter_mm: float, band_kpa: tuple[float, float]
) -> float | None:
    """Return ME, the modulus over a fixed stretch of pressure.

    Arguments
    ---------
    pressure_kpa, settlement_mm : shape (n,), pressure rising, over both ends of the stretch
    diameter_mm : of the plate
    band_kpa : 50 to 150 on the subgrade, 150 to 250 on a foundation layer, 250 to 350 below the surfacing

    Returns
    -------
    MPa; None when the readings do not reach both ends or the plate does not settle between them.

    Source: SN 670 317, ME = D delta sigma / delta s.

    >>> round(me_mpa([0, 50, 150, 250], [0.0, 0.4, 1.0, 1.5], 300.0, (50.0, 150.0)), 6)  # 300 x 0.1 / 0.6
    50.0
    """
    sigma, s = np.asarray(pressure_kpa, dtype=float), np.asarray(settlement_mm, dtype=float)
    low, high = band_kpa
    if len(sigma) < 2 or sigma[0] > low or sigma[-1] < high:
        return None
    s_low, s_high = (float(v) for v in np.interp([low, high], sigma, s))
    return diameter_mm * (high - low) / 1000 / (s_high - s_low) if s_high > s_low else None


@published("subgrade reaction", "ks = σ(1.25 mm) / 1.25 mm, 762 mm plate", "DIN 18134")
def subgrade_modulus_mn_m3(pressure_kpa: ArrayLike, settlement_mm: ArrayLike) -> float | None:
    """Return ks = sigma / s at a settlement of 1.25 mm, MN/m3 (kPa per mm); None when it was not reached.

    Source: DIN 18134 (2012), annex; from the 762 mm plate.

    >>> subgrade_modulus_mn_m3([0, 50], [0.0, 2.5])  # 25 kPa at 1.25 mm
    20.0
    """
    sigma, s = np.asarray(pressure_kpa, dtype=float), np.asarray(settlement_mm, dtype=float)
    if len(s) < 2 or s[-1] < SUBGRADE_SETTLEMENT_MM or s[0] > SUBGRADE_SETTLEMENT_MM:
        return None
    return float(np.interp(SUBGRADE_SETTLEMENT_MM, s, sigma)) / SUBGRADE_SETTLEMENT_MM

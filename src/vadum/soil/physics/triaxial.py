"""Equations of the triaxial test: pore-pressure coefficient, areas, corrections, rate, envelope in s and t."""

from dataclasses import dataclass
from math import asin, cos, degrees, pi, radians, sin, tan

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.choice import Choice
from vadum.soil.numbers.fit import line_fit
from vadum.soil.physics.envelope import Envelope, envelope
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.published import published

Array = NDArray[np.float64]


class Ends(Choice):
    """Which ends of the specimen let water out while it consolidates."""

    NONE = "none", "none, side drains alone"
    ONE = "one", "one end"
    BOTH = "both", "both ends"


@dataclass(frozen=True)
class Drainage:
    """What a way of draining does to times: lambda of the coefficient of consolidation, and the factors of t100 for the
    least time to failure undrained and drained."""

    consolidation: float
    undrained: float
    drained: float


# By side drains and ends, L/D 2. Bishop and Henkel (1962); BS 1377-8 (1990), table 1. Without side drains water leaves
# by an end: "none" is then one.
DRAINAGE: dict[tuple[bool, str], Drainage] = {
    (False, Ends.NONE): Drainage(1.0, 0.53, 8.5),
    (False, Ends.ONE): Drainage(1.0, 0.53, 8.5),
    (False, Ends.BOTH): Drainage(4.0, 2.1, 8.5),
    (True, Ends.NONE): Drainage(64.0, 1.43, 12.7),
    (True, Ends.ONE): Drainage(80.0, 1.8, 14.2),
    (True, Ends.BOTH): Drainage(100.0, 2.3, 15.8),
}
# No specimen is sheared to failure faster. BS 1377-8 (1990), clause 7.3.
LEAST_FAILURE_MIN = 120.0
# Strain that the rate counts on at most where it is taken from t50 or t90. ASTM D4767 (2011), clause 8.
MOST_FAILURE_STRAIN_PERCENT = 4.0
# Times to failure over t50 undrained and over t90 drained. ASTM D4767 (2011), D7181 (2020), clause 8.
UNDRAINED_T50, DRAINED_T90 = 10.0, 16.0


@published("saturation", "B = Δu / Δσ3", "Skempton (1954)")
def pore_pressure_coefficient(cell_kpa: ArrayLike, pore_kpa: ArrayLike) -> Array:
    """Return B = change of pore pressure over change of cell pressure between successive steps, nan without a change.

    Arguments
    ---------
    cell_kpa, pore_kpa : shape (n,), before and after each undrained step

    Source: Skempton (1954); ASTM D4767 (2011), clause 8.

    >>> [round(float(b), 2) for b in pore_pressure_coefficient([100, 200], [50, 148])]
    [0.98]
    """
    cells, pores = np.asarray(cell_kpa, dtype=float), np.asarray(pore_kpa, dtype=float)
    cell, pore = cells[1:] - cells[:-1], pores[1:] - pores[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.abs(cell) > 1e-9, pore / cell, np.nan)


@published("consolidated area", "Ac = (V0 − ΔV) / (L0 − ΔL)", "ASTM D4767 clause 11, method A")
def consolidated_area_mm2(volume_cm3: float, out_cm3: float, length_mm: float, shortened_mm: float) -> float:
    """Return Ac = (V0 - dV) / (L0 - dL), mm2. Source: ASTM D4767 (2011), clause 11, method A.

    >>> round(consolidated_area_mm2(100.0, 5.0, 100.0, 2.0), 1)  # 95 000 mm³ over 98 mm
    969.4
    """
    return (volume_cm3 - out_cm3) * 1000 / (length_mm - shortened_mm)


@published("saturated volume", "V0 (1 − 3 ΔHs / H0)", "ASTM D4767 clause 11")
def saturated_cm3(volume_cm3: float, length_mm: float, shortened_mm: float) -> float:
    """Return the volume after saturation from the change of height, V0 (1 - 3 dH / H0), cm3.

    Source: ASTM D4767 (2011), clause 11: the volume changes alike in all directions while it is saturated.

    >>> saturated_cm3(100.0, 100.0, 1.0)
    97.0
    """
    return volume_cm3 * (1 - 3 * shortened_mm / length_mm)


@published("consolidated area, alike in all directions", "Ac = A0 (1 − 2/3 ΔV / V0)", "BS 1377-8 clause 7.4")
def area_alike_mm2(volume_cm3: float, out_cm3: float, length_mm: float) -> float:
    """Return Ac = A0 (1 - 2/3 dV / V0), mm2. Source: BS 1377-8 (1990), clause 7.4.

    >>> round(area_alike_mm2(100.0, 3.0, 100.0), 3)
    980.0
    """
    return volume_cm3 * 1000 / length_mm * (1 - 2 / 3 * out_cm3 / volume_cm3)


@published("consolidated area by final masses", "Ac = (Vs + Vw,f) / Lc", "ASTM D4767 clause 11, method B")
def final_area_mm2(wet_g: float, dry_g: float, particle_density: float, length_mm: float) -> float:
    """Return (volume of solids + volume of the final water) / length, mm2: a specimen that is full of water.

    Source: ASTM D4767 (2011), clause 11, method B.

    >>> round(final_area_mm2(200.0, 160.0, 2.70, 98.0), 1)  # 59.366 + 40.072 cm3 at 20 degrees
    1014.7
    """
    return (dry_g / (particle_density * WATER) + (wet_g - dry_g) / WATER) * 1000 / length_mm


@published("secant friction", "sin φ′s = (σ1′ − σ3′) / (σ1′ + σ3′), c′ = 0", "Lambe and Whitman (1969), ch. 11")
def secant_friction_deg(s_kpa: float, t_kpa: float) -> float | None:
    """Return the slope of the line from the origin that touches one circle, degrees; None where no line does.

    >>> round(secant_friction_deg(100.0, 50.0), 6)
    30.0
    """
    return degrees(asin(t_kpa / s_kpa)) if 0 <= t_kpa < s_kpa else None


@published("area while shearing", "Ac / (1 − ε); Ac (1 − εv) / (1 − ε) when drained", "ASTM D4767, D7181 clause 11")
def sheared_area_mm2(area_mm2: float, strain: ArrayLike, volume_strain: ArrayLike = 0.0) -> Array:
    """Return A = Ac (1 - eps_v) / (1 - eps_a), mm2; strains as shares, eps_v none when undrained.

    Source: ASTM D4767 and D7181, clause 11.

    >>> float(sheared_area_mm2(1000.0, 0.2))
    1250.0
    """
    return area_mm2 * (1 - np.asarray(volume_strain, dtype=float)) / (1 - np.asarray(strain, dtype=float))


@published("membrane", "4 Em tm ε / Dc", "ASTM D4767 clause 11")
def membrane_kpa(strain: ArrayLike, diameter_mm: float, thickness_mm: float, modulus_kpa: float = 1400.0) -> Array:
    """Return what the membrane carries, 4 Em tm eps / Dc in kPa. Source: ASTM D4767 (2011), clause 11.

    >>> round(float(membrane_kpa(0.1, 38.0, 0.3)), 2)
    4.42
    """
    return 4 * modulus_kpa * thickness_mm * np.asarray(strain, dtype=float) / diameter_mm


@published(
    "time to failure",
    "F t100, at least 120 min; F 0.53, 2.1 (one end, both), 1.43, 1.8, 2.3 (side drains with no, one, both ends) CU;"
    " 8.5, 8.5, 12.7, 14.2, 15.8 CD; or 10 t50 (CU), 16 t90 (CD)",
    "BS 1377-8 table 1; ASTM D4767, D7181 clause 8",
)
def failure_minutes(t100_min: float, kind: str, *, side_drains: bool, ends: str = Ends.ONE) -> float:
    """Return the least time to failure from the time of full consolidation.

    Arguments
    ---------
    t100_min : by the construction in root time
    kind : "CU" or "CD"
    side_drains, ends : how the specimen drains

    Returns
    -------
    Minutes, 120 at least. Source: BS 1377-8 (1990), table 1 and clause 7.3.

    >>> failure_minutes(100.0, "CU", side_drains=True), failure_minutes(10.0, "CU", side_drains=True)
    (180.0, 120.0)
    """
    drains = DRAINAGE[side_drains, ends]
    return max(LEAST_FAILURE_MIN, t100_min * (drains.undrained if kind == "CU" else drains.drained))


@published(
    "coefficient of consolidation",
    "cv = π D² / (λ t100); λ 1, 4 (one end, both), 64, 80, 100 (side drains with no, one, both ends)",
    "BS 1377-8 table 1",
)
def consolidation_coefficient_m2_year(
    diameter_mm: float, t100_min: float, *, side_drains: bool, ends: str = Ends.ONE
) -> float:
    """Return cv = pi D^2 / (lambda t100), m2 a year, for L/D 2. Source: BS 1377-8 (1990), table 1.

    >>> round(consolidation_coefficient_m2_year(50.0, 100.0, side_drains=True, ends="none"), 2)  # 1.652 x 2500 / 6400
    0.65
    """
    drains = DRAINAGE[side_drains, ends]
    return pi * (diameter_mm / 1000) ** 2 / (drains.consolidation * t100_min) * 60 * 24 * 365.25


@published("envelope", "t on s by least squares: sin φ = tan α, c = a / cos φ", "ISO 17892-9")
def envelope_by_st(s_kpa: ArrayLike, t_kpa: ArrayLike, *, through_origin: bool = False) -> Envelope | None:
    """Return the envelope tangent to Mohr circles by the regression of t on s: sin phi = tan alpha, c = a / cos phi.

    Arguments
    ---------
    s_kpa, t_kpa : shape (n,), centre and radius of each circle, n at least 2, 1 through the origin
    through_origin : cohesion set to nothing

    Source: ISO 17892-9 (2018), annex; Lambe and Whitman (1969), ch. 11.

    >>> line = envelope_by_st([100, 200], [58.66, 108.66])
    >>> round(line.cohesion_kpa, 1), round(line.friction_deg, 1)  # sin φ = 0.5
    (10.0, 30.0)
    """
    if through_origin:
        flat = envelope(s_kpa, t_kpa, through_origin=True)
        return None if flat is None else _tangent_to_circles(flat)
    fit = line_fit(s_kpa, t_kpa)
    if fit is None or not -1 < fit.slope < 1:
        return None
    phi = asin(fit.slope)
    return Envelope(
        fit.intercept / cos(phi),
        degrees(phi),
        fit.r_squared,
        _of_tangent(fit.intercept, phi, fit.covariance),
        fit.freedom,
    )


def _of_tangent(
    intercept: float, phi: float, covariance: tuple[float, float, float] | None
) -> tuple[float, float, float] | None:
    """Return variances and covariance of c and tan phi from those of a and sin phi.

    c = a / cos phi and tan phi = b / sqrt(1 - b^2), so dc/da = 1 / cos phi, dc/db = a sin phi / cos^3 phi and
    d tan phi / db = 1 / cos^3 phi.
    """
    if covariance is None:
        return None
    own, slope, both = covariance
    by_a, by_b, steeper = 1 / cos(phi), intercept * sin(phi) / cos(phi) ** 3, 1 / cos(phi) ** 3
    return (
        by_a**2 * own + 2 * by_a * by_b * both + by_b**2 * slope,
        steeper**2 * slope,
        steeper * (by_a * both + by_b * slope),
    )


def _tangent_to_circles(through: Envelope) -> Envelope | None:
    """Return the line through the origin that touches the circles, from the line through their tops."""
    slope = tan(radians(through.friction_deg))
    if not -1 < slope < 1:
        return None
    phi = asin(slope)
    return Envelope(0.0, degrees(phi), through.r_squared, _of_tangent(0.0, phi, through.covariance), through.freedom)


def touching_point(s_kpa: float, t_kpa: float, phi_deg: float) -> tuple[float, float]:
    """Return where the tangent of this slope touches a circle of centre s and radius t."""
    phi = radians(phi_deg)
    return s_kpa - t_kpa * tan(phi) * cos(phi), t_kpa * cos(phi)

"""Equations of the triaxial test: pore-pressure coefficient, areas, corrections, rate, envelope in s and t."""

from math import asin, cos, degrees, pi, radians, tan

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import line_fit
from vadum.soil.physics.envelope import Envelope
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
# Strain at failure over 100, consolidation time, by drainage with side drains: t100 factors of Bishop and Henkel
# (1962).
_TIME_FACTOR = {"CU": 1.8, "CD": 14.0}
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
    cell, pore = np.diff(np.asarray(cell_kpa, dtype=float)), np.diff(np.asarray(pore_kpa, dtype=float))
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.abs(cell) > 1e-9, pore / cell, np.nan)


@published("consolidated area", "Ac = (V0 − ΔV) / (L0 − ΔL)", "ASTM D4767 clause 11, method A")
def consolidated_area_mm2(volume_cm3: float, out_cm3: float, length_mm: float, shortened_mm: float) -> float:
    """Return Ac = (V0 - dV) / (L0 - dL), mm2. Source: ASTM D4767 (2011), clause 11, method A.

    >>> round(consolidated_area_mm2(100.0, 5.0, 100.0, 2.0), 1)  # 95 000 mm³ over 98 mm
    969.4
    """
    return (volume_cm3 - out_cm3) * 1000 / (length_mm - shortened_mm)


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
    "1.8 t100 (CU), 14 t100 (CD) with side drains; 0.51, 8.5 without; or 10 t50 (CU), 16 t90 (CD)",
    "BS 1377-8 table 1; ASTM D4767, D7181 clause 8",
)
def failure_minutes(t100_min: float, kind: str, *, side_drains: bool) -> float:
    """Return the least time to failure from the time of full consolidation: 1.8 t100 undrained, 14 t100 drained with
    side drains; 0.51 and 8.5 without. Source: BS 1377-8 (1990), table 1.

    >>> failure_minutes(60.0, "CU", side_drains=True)
    108.0
    """
    return t100_min * (_TIME_FACTOR[kind] if side_drains else {"CU": 0.51, "CD": 8.5}[kind])


def consolidation_coefficient_m2_year(diameter_mm: float, t100_min: float, *, side_drains: bool) -> float:
    """Return cv = pi D^2 / (lambda t100), m2 a year; lambda 1 for both ends, 64 with side drains, L/D 2.

    Source: Bishop and Henkel (1962); BS 1377-8 (1990), table 1.
    """
    return pi * (diameter_mm / 1000) ** 2 / ((64 if side_drains else 1) * t100_min) * 60 * 24 * 365.25


@published("envelope", "t on s by least squares: sin φ = tan α, c = a / cos φ", "ISO 17892-9")
def envelope_by_st(s_kpa: ArrayLike, t_kpa: ArrayLike) -> Envelope | None:
    """Return the envelope tangent to Mohr circles by the regression of t on s: sin phi = tan alpha, c = a / cos phi.

    Arguments
    ---------
    s_kpa, t_kpa : shape (n,), centre and radius of each circle, n at least 2

    Source: ISO 17892-9 (2018), annex; Lambe and Whitman (1969), ch. 11.

    >>> line = envelope_by_st([100, 200], [58.66, 108.66])
    >>> round(line.cohesion_kpa, 1), round(line.friction_deg, 1)  # sin φ = 0.5
    (10.0, 30.0)
    """
    fit = line_fit(s_kpa, t_kpa)
    if fit is None or not -1 < fit.slope < 1:
        return None
    phi = asin(fit.slope)
    error = fit.standard_error / float(np.sqrt(fit.sxx)) if fit.standard_error is not None else None
    doubt = fit.doubt_at(0.0)
    return Envelope(
        fit.intercept / cos(phi),
        degrees(phi),
        fit.r_squared,
        None if doubt is None else doubt / cos(phi),
        None if error is None else float(degrees(error / cos(phi))),
        None,
    )


def touching_point(s_kpa: float, t_kpa: float, phi_deg: float) -> tuple[float, float]:
    """Return where the tangent of this slope touches a circle of centre s and radius t."""
    phi = radians(phi_deg)
    return s_kpa - t_kpa * tan(phi) * cos(phi), t_kpa * cos(phi)

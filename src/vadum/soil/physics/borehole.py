"""Permeability by the level in a borehole or standpipe that falls or rises back to rest."""

from math import log, pi, sqrt

from vadum.soil.choice import Choice
from vadum.soil.physics.published import published


class Intake(Choice):
    """Where the water goes in or out at the foot of the casing."""

    FLUSH = "flush", "open end in uniform soil"
    FLUSH_BOUNDARY = "flush-boundary", "open end at a tight layer above"
    SECTION = "section", "length of bare hole or filter in uniform soil"
    SECTION_BOUNDARY = "section-boundary", "length of filter below a tight layer"


@published(
    "intake factor", "F = 2.75 D; 2 D; 2π L/ln(L/D + √(1 + (L/D)²)); 2π L/ln(2L/D + √(1 + (2L/D)²))", "Hvorslev (1951)"
)
def intake_factor_m(intake: Intake, diameter_m: float, length_m: float) -> float:
    """Return the intake factor F, m.

    Arguments
    ---------
    diameter_m, length_m : of the bare hole or filter; the length counts for nothing with an open end

    In the order of :class:`Intake`. Source: Hvorslev (1951), U.S. Army Waterways Experiment Station, Bulletin 36; ISO
    22282-2, annex.

    >>> round(intake_factor_m(Intake.SECTION, 0.1, 1.0), 4)  # 2π / ln(10 + √101)
    2.0956
    """
    if intake == Intake.FLUSH:
        return 2.75 * diameter_m
    if intake == Intake.FLUSH_BOUNDARY:
        return 2.0 * diameter_m
    slender = length_m / diameter_m * (2 if intake == Intake.SECTION_BOUNDARY else 1)
    return 2 * pi * length_m / log(slender + sqrt(1 + slender**2))


@published("permeability by the slope", "k = A/F × ln(H1/H2)/(t2 − t1)", "ISO 22282-2; Hvorslev (1951)")
def by_slope_m_s(area_m2: float, factor_m: float, slope_per_s: float) -> float:
    """Return k, m/s.

    Arguments
    ---------
    area_m2 : of the water's surface in casing or standpipe
    factor_m : intake factor
    slope_per_s : of -ln H against time

    >>> by_slope_m_s(0.002, 2.0, 0.001)
    1e-06
    """
    return area_m2 / factor_m * slope_per_s


@published("permeability by the time lag", "k = A/(F T), H(T) = 0.37 H0", "Hvorslev (1951)")
def by_lag_m_s(area_m2: float, factor_m: float, lag_s: float) -> float:
    """Return k, m/s, by the basic time lag: when 0.37 of the first head is left.

    >>> by_lag_m_s(0.002, 2.0, 1000.0)
    1e-06
    """
    return area_m2 / (factor_m * lag_s)

"""The bearing ratio: force from a ring, the start of the curve put right, the ratio and its rounding."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.choice import Choice
from vadum.soil.numbers.fit import Stretches
from vadum.soil.numbers.odd import off_neighbours, scatter_of
from vadum.soil.numbers.remembered import remembered
from vadum.soil.physics.published import published


class School(Choice):
    """The standard forces."""

    KN = "kn", "13.2 and 20.0 kN"
    MPA = "mpa", "6.9 and 10.3 MPa"


class Rounded(Choice):
    """What a ratio is rounded to. One below 3 % keeps its tenth everywhere: a pavement is most sensitive there."""

    BY_SIZE = "by-size", "1, 5 or 10 % by its size"
    TWO_FIGURES = "two-figures", "two significant figures"
    WHOLE = "whole", "whole per cent"


Array = NDArray[np.float64]

PLUNGER_AREA_MM2 = 1935.0
# Standard force in kN by penetration in mm. EN 13286-47 and BS 1377-4; ASTM D1883 gives pressures on 1935 mm2.
STANDARD_FORCE_KN: dict[str, tuple[tuple[float, float], ...]] = {
    School.KN: ((2.5, 13.2), (5.0, 20.0)),
    School.MPA: ((2.54, 6.9 * PLUNGER_AREA_MM2 / 1000), (5.08, 10.3 * PLUNGER_AREA_MM2 / 1000)),
}
# Seating force in N by the ratio that is expected. BS 1377-4 clause 7.4; EN 13286-47 clause 7. ASTM D1883 clause 10
# asks for the smallest that seats, at most 44 N.
SEATING_N: dict[str, tuple[tuple[float, float], ...]] = {
    School.KN: ((5.0, 10.0), (30.0, 50.0), (float("inf"), 250.0)),
    School.MPA: ((float("inf"), 44.0),),
}
# Rate of the plunger in mm/min.
RATE_MM_MIN: dict[str, float] = {School.KN: 1.0, School.MPA: 1.27}

# Readings a straight part begins with, and how far off it the next may lie: so many times the scatter of the run, at
# least and at most these shares of its force. A fixed share takes a bend for a straight part.
_WINDOW = 4
_SCATTERS, _LEAST, _MOST = 2.0, 0.0015, 0.006

_TENTHS_BELOW = 3.0
# How far apart positions may be, by their mean. ASTM D4429 clause 9.
_AGREE = ((10.0, 3.0), (30.0, 5.0), (60.0, 10.0))


@dataclass(frozen=True)
class Tangent:
    """A straight line on the force-penetration curve: where it touches, its slope, where it meets the axis of no
    force."""

    at_mm: float
    slope_kn_mm: float
    zero_mm: float

    def force_at(self, penetration_mm: float) -> float:
        return self.slope_kn_mm * (penetration_mm - self.zero_mm)


@published("force", "straight between the points of the ring's calibration", "ISO 376")
def ring_force_kn(divisions: ArrayLike, table: ArrayLike) -> Array:
    """Return the force in a load ring from its calibration table, straight between its points.

    Arguments
    ---------
    divisions : shape (n,), of the ring's dial
    table : shape (m, 2), rising rows of divisions and force in kN; a linear ring has two rows

    Returns
    -------
    Force in kN, nan beyond the table: a ring is not trusted past its calibration. Below its first point it is read on
    the straight line from nothing.

    Source: ISO 376, use of a calibrated force-proving instrument by interpolation.

    >>> float(ring_force_kn(50, [(0, 0), (100, 1.0)])), float(ring_force_kn(50, [(100, 1.0), (200, 2.1)]))
    (0.5, 0.5)
    """
    known = np.asarray(table, dtype=float)
    if known[0, 0] > 0:
        known = np.vstack([np.zeros(2), known])
    return np.interp(np.asarray(divisions, dtype=float), known[:, 0], known[:, 1], left=np.nan, right=np.nan)


@published(
    "moved origin",
    "tangent at the steepest part: x0 = x − F / slope, when it lies right of the start",
    "BS 1377-4 clause 7.4.6",
)
@remembered
def steepest_tangent(penetration_mm: ArrayLike, force_kn: ArrayLike, scatter_kn: float | None = None) -> Tangent | None:
    """Return the tangent where the curve is steepest, as a straight line through the readings that lie on it.

    Arguments
    ---------
    penetration_mm, force_kn : shape (n,), n at least 4, penetration rising
    scatter_kn : of the readings about their curve, found here when it is not known

    Returns
    -------
    The line by least squares through the steepest stretch of readings, grown in both directions as long as readings lie
    on it within the scatter of the run, so that one step of the ring moves it little and a bend does not. None when the
    force never rises.

    Source: BS 1377-4 (1990), clause 7.4.6.2: correction of a curve concave upward at its start.

    >>> x = np.arange(0, 3, 0.25)
    >>> round(steepest_tangent(x, np.maximum(0, 2 * (x - 0.5))).zero_mm, 6)
    0.5
    """
    x, f = np.asarray(penetration_mm, dtype=float), np.asarray(force_kn, dtype=float)
    if len(x) < _WINDOW:
        return None
    lines = Stretches(x, f)
    slopes = [lines.line(i, i + _WINDOW)[1] for i in range(len(x) - _WINDOW + 1)]
    first = int(np.argmax(slopes))
    if slopes[first] <= 0:
        return None
    last = first + _WINDOW
    largest = float(np.ptp(f))
    own = scatter_of(off_neighbours(x, f)) if scatter_kn is None else scatter_kn
    scatter = min(max(_SCATTERS * own, _LEAST * largest), _MOST * largest)
    while True:
        level, slope, _ = lines.line(first, last)
        if last < len(x) and abs(f[last] - (level + slope * x[last])) <= scatter:
            last += 1
        elif first > 0 and abs(f[first - 1] - (level + slope * x[first - 1])) <= scatter:
            first -= 1
        else:
            return Tangent(float(x[first:last].mean()), slope, -level / slope)


def tangent_at(penetration_mm: ArrayLike, force_kn: ArrayLike, at_mm: float) -> Tangent | None:
    """Return the tangent a hand chose: through the curve at a penetration, with the slope of the readings around it."""
    x, f = np.asarray(penetration_mm, dtype=float), np.asarray(force_kn, dtype=float)
    if len(x) < _WINDOW:
        return None
    near = np.sort(np.argsort(np.abs(x - at_mm))[:_WINDOW])
    slope = Stretches(x[near], f[near]).line(0, len(near))[1]
    if slope <= 0:
        return None
    return Tangent(at_mm, slope, at_mm - float(np.interp(at_mm, x, f)) / slope)


@remembered
def curve_through(penetration_mm: ArrayLike, force_kn: ArrayLike) -> Callable[[ArrayLike], Array]:
    """Return the curve through the readings, as a function of penetration in mm that gives force in kN.

    Arguments
    ---------
    penetration_mm, force_kn : shape (n,), n at least 2, penetration rising

    Source: cubic between readings without overshoot, Fritsch and Carlson (1980), SIAM J. Numer. Anal. 17, 238-246.
    """
    from scipy.interpolate import PchipInterpolator

    curve: Callable[[ArrayLike], Array] = PchipInterpolator(penetration_mm, force_kn)
    return curve


@published(
    "bearing ratio",
    "CBR = 100 F(x0 + 2.5) / 13.2 kN and 100 F(x0 + 5.0) / 20.0 kN; the larger counts",
    "EN 13286-47 clause 9",
)
def bearing_ratio_percent(force_kn: float, standard_kn: float) -> float:
    """Return the bearing ratio, percent: force as a share of the standard force at the same penetration.

    >>> round(bearing_ratio_percent(6.6, 13.2), 6)
    50.0
    """
    return 100.0 * force_kn / standard_kn


@published(
    "reported value",
    "0.1 % below 3 %; then to 1 % below 30, 5 % up to 100, 10 % above, or to two figures, or to 1 %",
    "BS 1377 (1975) test 16; BS 1377-4 clause 7.5; ASTM D1883 clause 12",
)
def report_step(ratio_percent: float, rule: str = Rounded.BY_SIZE) -> Decimal:
    """Return the step in percent that a ratio is reported to.

    Arguments
    ---------
    rule : 1 % below 30, 5 % up to 100 and 10 % above (BS 1377, 1975, test 16); two significant figures (BS 1377-4,
        clause 7.5); or whole per cent (ASTM D1883, clause 12). Below 3 % it is a tenth by every rule.

    >>> [str(report_step(ratio)) for ratio in (2.4, 24.0, 56.0, 140.0)]
    ['0.1', '1', '5', '10']
    >>> [str(report_step(ratio, "two-figures")) for ratio in (7.3, 56.0, 140.0)]
    ['0.1', '1', '10']
    """
    if ratio_percent < _TENTHS_BELOW:
        return Decimal("0.1")
    if rule == Rounded.WHOLE:
        return Decimal(1)
    if rule == Rounded.TWO_FIGURES:
        return Decimal("0.1") if ratio_percent < 10 else Decimal(1) if ratio_percent < 100 else Decimal(10)
    return Decimal(1) if ratio_percent < 30 else Decimal(5) if ratio_percent <= 100 else Decimal(10)


@published(
    "positions that agree",
    "least and largest within 3 below 10 %, 5 up to 30 %, 10 up to 60 %; no limit above",
    "ASTM D4429 clause 9",
)
def agree(ratios_percent: Sequence[float]) -> bool:
    """Return whether the ratios of one place agree, by steps of their mean. Source: ASTM D4429, clause 9.

    >>> agree([6, 8, 9]), agree([6, 8, 9.5]), agree([23, 18, 20])
    (True, False, True)
    """
    mean = sum(ratios_percent) / len(ratios_percent)
    within = next((most for below, most in _AGREE if mean < below), float("inf"))
    return max(ratios_percent) - min(ratios_percent) <= within


def seating_force_n(expected_percent: float, school: str = School.KN) -> float:
    """Return the seating force in N for an expected ratio: 10 N to 5 %, 50 N to 30 %, 250 N above; 44 N at most by
    ASTM D1883."""
    return next(force for most, force in SEATING_N[school] if expected_percent <= most)


@published("largest measurable ratio", "100 reaction / standard force", "definition of the ratio")
def largest_measurable_percent(reaction_kn: float, school: str = School.KN) -> float:
    """Return the largest ratio that a reaction in kN can be pressed to at every depth it may be judged at.

    The larger of both ratios counts and nobody knows before which it is: the deepest one asks for the most force.

    >>> round(largest_measurable_percent(12.0), 6)
    60.0
    """
    return bearing_ratio_percent(reaction_kn, STANDARD_FORCE_KN[school][-1][1])

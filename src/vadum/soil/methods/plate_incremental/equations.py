"""From the plate to the footing, and the creep of one stage."""

import numpy as np

from vadum.soil.methods.plate_incremental.readings import Rate
from vadum.soil.physics.published import published

# Waiting rules: mm per minute, or minutes.
RATE_MM_MIN = {Rate.PER_MINUTE: 0.02, Rate.PER_HOUR: 0.02 / 60}
DAY_MIN = 1440.0
_REFERENCE_M = 0.3


@published("footing, ultimate", "qu(B) = qu(Bp) B/Bp in sand, qu(Bp) in clay", "Terzaghi and Peck (1967) art. 54")
def footing_ultimate_kpa(plate_kpa: float, footing_m: float, plate_m: float, soil: str) -> float:
    """Return the ultimate pressure below the footing: as below the plate in clay, with the width in sand.

    Source: Terzaghi and Peck (1967), art. 54; IS 1888 clause 7.

    >>> footing_ultimate_kpa(400.0, 1.2, 0.3, "sand"), footing_ultimate_kpa(400.0, 1.2, 0.3, "clay")
    (1600.0, 400.0)
    """
    return plate_kpa if soil == "clay" else plate_kpa * footing_m / plate_m


@published(
    "footing, settlement",
    "s = sp [B (Bp + 0.3) / (Bp (B + 0.3))]² in sand, sp B/Bp in clay; m",
    "Terzaghi and Peck (1967) art. 54",
)
def settlement_ratio(footing_m: float, plate_m: float, soil: str) -> float:
    """Return settlement of the footing over that of the plate at the same pressure.

    Arguments
    ---------
    footing_m, plate_m : widths in m; the footing's, never the pit's
    soil : "sand" or "clay"

    Source: sand [B (Bp + 0.3) / (Bp (B + 0.3))]^2, clay B / Bp; Terzaghi and Peck (1967), art. 54; IS 1888 clause 7.

    >>> round(settlement_ratio(1.2, 0.3, "sand"), 2), settlement_ratio(1.2, 0.3, "clay")  # (1.2 × 0.6 / 0.45)²
    (2.56, 4.0)
    """
    if soil == "clay":
        return footing_m / plate_m
    return (footing_m * (plate_m + _REFERENCE_M) / (plate_m * (footing_m + _REFERENCE_M))) ** 2


def minutes_until(rate_mm_min: float, at_min: float, limit_mm_min: float) -> float:
    """Return when a rate that fades with one over time falls below a limit, in minutes of the stage."""
    return at_min * max(1.0, rate_mm_min / limit_mm_min)


@published("rate", "(s2 − s1)/(t2 − t1) of the last two means; fades as 1/t", "ASTM D1194")
def creep_line(minutes: list[float], settlement_mm: list[float]) -> tuple[float, float] | None:
    """Return intercept and slope of settlement over the logarithm of time through the last three readings.

    Source: creep under constant load as s = a + b log t, ISO 22476-13 in the same use.

    >>> [round(value, 6) for value in creep_line([1.0, 10.0, 100.0], [1.0, 1.2, 1.4])]
    [1.0, 0.2]
    """
    taken = [(t, s) for t, s in zip(minutes, settlement_mm, strict=True) if t > 0][-3:]
    if len({t for t, _ in taken}) < 2:
        return None
    slope, level = np.polyfit(np.log10([t for t, _ in taken]), [s for _, s in taken], 1)
    return float(level), float(slope)

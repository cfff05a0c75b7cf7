"""Each fill from three quarters to one quarter of its depth."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.filling import Fill, fills_of
from vadum.soil.methods.soakage_pit.readings import Backfill, PitReadings, PitSettings
from vadum.soil.physics.soaking import Pit, soakage_m_s


@dataclass(frozen=True)
class Emptying:
    """One fill: its water by time, and when it stood at three quarters and at one quarter, None before it did."""

    fill: Fill
    depth_mm: NDArray[np.float64]
    at_75_min: float | None
    at_25_min: float | None
    rate_m_s: float | None
    below_m_s: float | None
    """What the rate lies below while a quarter is not reached."""

    @property
    def minutes(self) -> float | None:
        return None if self.at_75_min is None or self.at_25_min is None else self.at_25_min - self.at_75_min


def pit_of(readings: PitReadings, settings: PitSettings) -> Pit | None:
    """Return the pit as measured; None before its sizes are typed, or where they cannot be."""
    r = readings
    if r.length_mm is None or r.width_mm is None or r.base_mm is None or r.full_mm is None or r.full_mm >= r.base_mm:
        return None
    voids = 1.0
    if settings.backfill == Backfill.STONE:
        if r.voids_percent is None:
            return None
        voids = r.voids_percent / 100
    return Pit(
        r.length_mm,
        r.width_mm,
        r.top_length_mm or r.length_mm,
        r.top_width_mm or r.width_mm,
        r.base_mm - r.full_mm,
        voids,
    )


def emptyings(readings: PitReadings, pit: Pit | None) -> list[Emptying]:
    """Return the fills that are read, in their order."""
    base = readings.base_mm
    return [] if base is None else [_emptying(fill, base - fill.level, pit) for fill in fills_of(readings.levels)]


def _emptying(fill: Fill, depth: NDArray[np.float64], pit: Pit | None) -> Emptying:
    if pit is None or not fill.in_order or depth[0] < 0.75 * pit.full_mm:
        return Emptying(fill, depth, None, None, None, None)
    first, last = _passed(fill.minutes, depth, 0.75 * pit.full_mm), _passed(fill.minutes, depth, 0.25 * pit.full_mm)
    rate = below = None
    if first is not None and last is not None and last > first:
        rate = soakage_m_s(pit, last - first)
    elif first is not None and fill.minutes[-1] > first:
        # At its last reading it had not fallen to a quarter yet: the time is longer, the rate less.
        below = soakage_m_s(pit, float(fill.minutes[-1]) - first)
    return Emptying(fill, depth, first, last, rate, below)


def _passed(minutes: NDArray[np.float64], depth: NDArray[np.float64], level: float) -> float | None:
    """Return when the water passed a depth, on a straight line between two readings."""
    below = np.flatnonzero(depth <= level)
    if not len(below):
        return None
    k = int(below[0])
    if k == 0:
        return float(minutes[0])
    fallen = (depth[k - 1] - level) / (depth[k - 1] - depth[k])
    return float(minutes[k - 1] + fallen * (minutes[k] - minutes[k - 1]))

"""Intervals of the fills: how fast the water fell, and what went through wall and base."""

from dataclasses import dataclass
from itertools import pairwise

from vadum.soil.bench.filling import Fill, fills_of
from vadum.soil.bench.steady import Rate
from vadum.soil.methods.percolation.readings import PercolationReadings
from vadum.soil.physics.soaking import wall_and_base_mm_min


@dataclass(frozen=True)
class Interval:
    """One interval: the fill, depths of water above the base where known, the fall and the rate through the walls."""

    fill: int
    row: int
    from_min: float
    to_min: float
    fall_mm: float
    depth_mm: float | None
    rate_mm_min: float | None

    @property
    def fall_mm_min(self) -> float:
        return self.fall_mm / (self.to_min - self.from_min)

    @property
    def steadied(self) -> Rate:
        """The rate that must become steady: through wall and base where it is known, else the fall."""
        rate = self.fall_mm_min if self.rate_mm_min is None else self.rate_mm_min
        return Rate(self.row, self.from_min, self.to_min, rate)


def rises(readings: PercolationReadings, fills: list[Fill]) -> bool:
    """Return whether the readings grow while the water falls: as down to the water from above."""
    if readings.base_mm is not None:
        return sum(float(f.level.mean()) for f in fills) < readings.base_mm * len(fills)
    return sum(float(f.level[-1] - f.level[0]) for f in fills) > 0


def intervals_of(readings: PercolationReadings) -> list[Interval]:
    """Return the intervals over which the water fell, in the order of the sheet."""
    fills = fills_of(readings.levels)
    sign, base = -1 if rises(readings, fills) else 1, readings.base_mm
    radius = None if readings.hole_diameter_mm is None else readings.hole_diameter_mm / 2
    found = []
    for fill in fills:
        lines = zip(fill.rows, fill.minutes.tolist(), fill.level.tolist(), strict=True)
        for (_, t0, z0), (i, t1, z1) in pairwise(lines):
            fall = sign * (z0 - z1)
            if t1 <= t0 or fall < 0:
                continue
            before, after = (None, None) if base is None else (sign * (z0 - base), sign * (z1 - base))
            rate = None
            if radius is not None and before is not None and after is not None and min(before, after) >= 0:
                rate = wall_and_base_mm_min(radius, before, after, t1 - t0)
            found.append(Interval(fill.number, i, t0, t1, fall, after, rate))
    return found

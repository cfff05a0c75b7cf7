"""Velocities of both rings, interval by interval."""

from dataclasses import dataclass
from itertools import pairwise

from vadum.soil.bench.steady import Rate, mean_mm_min, steady_window
from vadum.soil.methods.double_ring.readings import Kept, RingReadings, RingSettings, SupplyRow
from vadum.soil.physics.soaking import ring_velocity_mm_min


@dataclass(frozen=True)
class Ring:
    """Velocities of one ring, mm/min, in the order of time; negative where a tube goes back."""

    name: str
    rates: list[Rate]

    def window(self, settings: RingSettings) -> list[Rate]:
        return steady_window(self.rates, settings.steady_rates, settings.within_percent)

    def steady(self, settings: RingSettings) -> float | None:
        return mean_mm_min(self.window(settings))


def rings(readings: RingReadings, settings: RingSettings) -> tuple[Ring, Ring]:
    """Return the inner ring and the space between the rings."""
    return (
        Ring("inner", _rates(readings, settings, "inner", readings.inner_area_cm2)),
        Ring("outer", _rates(readings, settings, "outer", readings.annular_area_cm2)),
    )


def _rates(readings: RingReadings, settings: RingSettings, ring: str, area_cm2: float | None) -> list[Rate]:
    if area_cm2 is None:
        return []
    rows = [
        (i, row.elapsed_min, row) for i, row in enumerate(readings.readings) if row.used and row.elapsed_min is not None
    ]
    if settings.kept == Kept.VOLUMES:
        return _poured(rows, ring, area_cm2)
    section = getattr(readings, f"{ring}_tube_cm2")
    read = [(i, at, row.refilled == "yes", z) for i, at, row in rows if (z := getattr(row, f"{ring}_mm")) is not None]
    if section is None or len(read) < 2:
        return []
    # A scale may count what is left or what went out; most of its steps say which.
    steps = [after[3] - before[3] for before, after in pairwise(read) if not after[2]]
    way = 1.0 if sum(int(s > 0) - int(s < 0) for s in steps) > 0 else -1.0
    found = []
    for (_, start, _, z0), (i, end, refilled, z1) in pairwise(read):
        if end > start and not refilled:
            velocity = ring_velocity_mm_min(way * (z1 - z0) / 10 * section, area_cm2, end - start)
            found.append(Rate(i, start, end, velocity))
    return found


def _poured(rows: list[tuple[int, float, SupplyRow]], ring: str, area_cm2: float) -> list[Rate]:
    found = []
    for (_, start, _), (i, end, row) in pairwise(rows):
        volume = getattr(row, f"{ring}_cm3")
        if volume is not None and end > start:
            found.append(Rate(i, start, end, ring_velocity_mm_min(volume, area_cm2, end - start)))
    return found

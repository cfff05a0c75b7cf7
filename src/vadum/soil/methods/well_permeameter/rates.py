"""Rates of each head from levels by time, and whether they are steady."""

import itertools
from dataclasses import dataclass

from vadum.soil.bench.steady import Rate, mean_mm_min, steady_window
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.well_permeameter.readings import Scale, WellReadings, WellSettings


@dataclass(frozen=True)
class Head:
    """The rates read at one head, in the order of time."""

    number: int
    rates: list[Rate]
    bridged: list[int]
    """Rows at which the reservoir was refilled: no rate ends there."""

    def window(self, settings: WellSettings) -> list[Rate]:
        """Return the last rates when they agree, nothing while they do not."""
        return steady_window(self.rates, settings.steady_rates, settings.within_percent)

    def steady_mm_min(self, settings: WellSettings) -> float | None:
        """Return the mean of the steady window by the fall over its whole time."""
        return mean_mm_min(self.window(settings))


def section_cm2(readings: WellReadings, head: int = 1) -> float | None:
    """Return the section of the reservoir in use at a head."""
    use = readings.reservoir_2 if head == 2 and readings.reservoir_2 else readings.reservoir
    if use == "combined":
        return readings.combined_cm2
    return readings.inner_cm2 if use == "inner" else None


def heads_of(readings: WellReadings, settings: WellSettings) -> list[Head]:
    """Return the heads that are read, with their rates, positive as water goes out."""
    way = -1.0 if settings.scale == Scale.RISES else 1.0
    rows: dict[int, list[tuple[int, float, float, bool]]] = {}
    for i, number, row in numbered(readings.levels, "head"):
        if row.used and row.elapsed_min is not None and row.level_mm is not None:
            rows.setdefault(number, []).append((i, row.elapsed_min, row.level_mm, row.refilled == "yes"))
    found = []
    for k, read in sorted(rows.items()):
        rates, bridged = [], []
        for (_, t0, z0, _), (i, t1, z1, refilled) in itertools.pairwise(read):
            if refilled:
                bridged.append(i)
            elif t1 > t0:
                rates.append(Rate(i, t0, t1, way * (z0 - z1) / (t1 - t0)))
        found.append(Head(k, rates, bridged))
    return found


def rate_words(head: Head | None, settings: WellSettings) -> str:
    """Return the rate now, and whether to keep reading."""
    if head is None or not head.rates:
        return ""
    steady = head.steady_mm_min(settings)
    if steady is not None:
        return f"steady at {steady:.3g} mm/min"
    return f"now {head.rates[-1].mm_min:.3g} mm/min: keep reading"

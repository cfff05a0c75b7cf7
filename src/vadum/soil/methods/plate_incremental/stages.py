"""Rows as stages: mean of the gauges, tilt, rate, and whether the next load may come."""

from dataclasses import dataclass, field
from itertools import islice
from operator import attrgetter

import numpy as np

from vadum.soil.methods.plate_incremental.equations import DAY_MIN, RATE_MM_MIN, minutes_until
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)

_ROW = attrgetter("pressure_kpa", "elapsed_min", *GAUGES)
_NONE_READ = (None,) * len(GAUGES)


@dataclass
class Stage:
    """One pressure: its rows, minutes, mean settlements and spreads of the gauges, in the order of time."""

    pressure_kpa: float
    unloading: bool
    first_row: int
    rows: list[int] = field(default_factory=list)
    minutes: list[float] = field(default_factory=list)
    settlement_mm: list[float] = field(default_factory=list)
    spread_mm: list[float] = field(default_factory=list)
    every_row: list[int] = field(default_factory=list)
    gauges: list[tuple[float | None, ...]] = field(default_factory=list)
    """Readings of the four gauges, as read, of each row in ``rows``."""

    @property
    def last_mm(self) -> float:
        return self.settlement_mm[-1]

    @property
    def rate_mm_min(self) -> float | None:
        """Return the rate between the last two readings, None with fewer."""
        if len(self.minutes) < 2 or self.minutes[-1] <= self.minutes[-2]:
            return None
        return (self.settlement_mm[-1] - self.settlement_mm[-2]) / (self.minutes[-1] - self.minutes[-2])

    def may_go_on(self, rule: Rate) -> bool:
        """Return whether the waiting rule is met."""
        if rule == Rate.DAY:
            return bool(self.minutes) and self.minutes[-1] >= DAY_MIN - 1e-6
        rate = self.rate_mm_min
        return rate is not None and rate < RATE_MM_MIN[rule]

    def ready_at_min(self, rule: Rate) -> float | None:
        """Return the minute of the stage at which the waiting rule is likely met."""
        if rule == Rate.DAY:
            return DAY_MIN
        rate = self.rate_mm_min
        if rate is None:
            return None
        between = (self.minutes[-1] * max(self.minutes[-2], 0.25 * self.minutes[-1])) ** 0.5
        return minutes_until(rate, between, RATE_MM_MIN[rule])


def stages(readings: PlateIncrementalReadings) -> list[Stage]:
    """Return the stages in order; a blank pressure stands for the one above. Gauges count from the row of no
    pressure."""
    made: list[Stage] = []
    pressure, highest = None, 0.0
    zero = [0.0] * len(GAUGES)
    for i, row in enumerate(readings.rows):
        own, elapsed, a, b, c, d = _ROW(row)
        read = (a, b, c, d)
        pressure = own if own is not None else pressure
        if pressure is None:
            continue
        if pressure == 0 and not made:
            zero = [at if value is None or not row.used else value for value, at in zip(read, zero, strict=True)]
            continue
        if not made or made[-1].pressure_kpa != pressure:
            made.append(Stage(pressure, pressure < highest, i))
            highest = max(highest, pressure)
        stage = made[-1]
        stage.every_row.append(i)
        if elapsed is not None and row.used and read != _NONE_READ:
            stage.rows.append(i)
            stage.minutes.append(elapsed)
            stage.gauges.append(read)
    _settle(made, zero)
    return made


def _settle(made: list[Stage], zero: list[float]) -> None:
    """Fill mean and spread of the gauges into the stages, all at once: a long test has thousands of readings."""
    if not (read := [gauges for stage in made for gauges in stage.gauges]):
        return
    moved = np.array(read, dtype=float) - zero  # a gauge not read is nan
    means, spreads = np.nanmean(moved, axis=1).tolist(), np.nanmax(moved, axis=1) - np.nanmin(moved, axis=1)
    every = zip(means, spreads.tolist(), strict=True)
    for stage in made:
        for mean, spread in islice(every, len(stage.rows)):
            stage.settlement_mm.append(mean)
            stage.spread_mm.append(spread)


def loading(made: list[Stage]) -> list[Stage]:
    return [stage for stage in made if not stage.unloading and stage.rows]


def next_pressure(
    readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage]
) -> float | None:
    """Return the next planned pressure: a fifth of the safe estimate more, to ten kPa where it is large enough."""
    if readings.estimate_kpa is None:
        return None
    return (made[-1].pressure_kpa if made else 0.0) + increment_kpa(readings.estimate_kpa)


def increment_kpa(estimate_kpa: float) -> float:
    """Return one increment: a fifth of the safe estimate, to ten kPa where it is large enough."""
    step = estimate_kpa / 5
    return 10.0 * round(step / 10) if step >= 20 else step

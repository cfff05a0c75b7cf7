"""Rows as stages: mean of the gauges, tilt, rate, and whether the next load may come."""

from dataclasses import dataclass, field
from itertools import islice, pairwise
from operator import attrgetter

import numpy as np

from vadum.soil.bench.plate_load import LoadAs, pressure_of
from vadum.soil.methods.plate_incremental.equations import DAY_MIN, RATE_MM_MIN, minutes_until
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    Increments,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)

_ROW = attrgetter("pressure_kpa", "elapsed_min", *GAUGES)
_NONE_READ = (None,) * len(GAUGES)
# Readings a rate is told by, the step of a dial gauge in mm, and the slowest rate anybody waits for.
_FEWEST, _GAUGE_MM, _SLOWEST = 3, 0.01, 0.02 / 60
# A pump that is held creeps: by so much of a pressure it is the same one. Increments are several times that.
_SAME = 0.02


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
    moved_mm: list[list[float]] = field(default_factory=list)
    """How far each gauge moved since the row of no pressure; nan for one that was not read."""

    @property
    def last_mm(self) -> float:
        return self.settlement_mm[-1]

    def _since(self, rule: Rate) -> int | None:
        """Return the reading from which the rate is taken: the latest before the last between which the gauge could
        show the rate asked for."""
        last, span = len(self.minutes) - 1, _GAUGE_MM / RATE_MM_MIN.get(rule, _SLOWEST)
        return next((i for i in range(last - 1, -1, -1) if self.minutes[last] - self.minutes[i] >= span - 1e-9), None)

    def rate_mm_min(self, rule: Rate) -> float | None:
        """Return the rate at the end of the stage; None until three readings, and time enough for the gauge, tell it.

        The mean is that of the gauges read at both times. A gauge that goes back a hair says that the plate rests.
        """
        since = self._since(rule)
        if len(self.minutes) < _FEWEST or since is None:
            return None
        moved = [
            after - before
            for before, after in zip(self.gauges[since], self.gauges[-1], strict=True)
            if before is not None and after is not None
        ]
        if not moved:
            return None
        return max(0.0, sum(moved) / len(moved)) / (self.minutes[-1] - self.minutes[since])

    def may_go_on(self, rule: Rate, least_hold_min: float = 0.0) -> bool:
        """Return whether the waiting rule is met."""
        if not self.minutes or self.minutes[-1] < least_hold_min - 1e-6:
            return False
        if rule == Rate.DAY:
            return self.minutes[-1] >= DAY_MIN - 1e-6
        rate = self.rate_mm_min(rule)
        return rate is not None and rate < RATE_MM_MIN[rule]

    def ready_at_min(self, rule: Rate, least_hold_min: float = 0.0) -> float | None:
        """Return the minute of the stage at which the waiting rule is likely met."""
        if rule == Rate.DAY:
            return DAY_MIN
        rate = self.rate_mm_min(rule)
        if rate is None:
            return least_hold_min or None
        between = (self.minutes[-1] * max(self.minutes[-2], 0.25 * self.minutes[-1])) ** 0.5
        return max(least_hold_min, minutes_until(rate, between, RATE_MM_MIN[rule]))


def in_pressure(readings: PlateIncrementalReadings, settings: PlateIncrementalSettings) -> PlateIncrementalReadings:
    """Return the readings with a typed force or oil pressure as pressure below the plate."""
    if settings.load_as == LoadAs.PRESSURE:
        return readings
    area, piston = settings.area_m2, readings.piston_cm2
    rows = [
        row.model_copy(update={"pressure_kpa": pressure_of(row, settings.load_as, area, piston)})
        for row in readings.rows
    ]
    return readings.model_copy(update={"rows": rows})


def stages(readings: PlateIncrementalReadings) -> list[Stage]:
    """Return the stages in order; a blank pressure stands for the one above. Gauges count from the row of no
    pressure. What is left out begins no stage, but a pressure written there stands for blanks below it."""
    made: list[Stage] = []
    pressure, written = None, 0
    zero = [0.0] * len(GAUGES)
    for i, row in enumerate(readings.rows):
        own, elapsed, a, b, c, d = _ROW(row)
        read = (a, b, c, d)
        if own is not None:
            pressure, written = own, i
        if pressure is None:
            continue
        if pressure == 0 and not made:
            zero = [at if value is None or not row.used else value for value, at in zip(read, zero, strict=True)]
            continue
        held = bool(made) and _is_held(made[-1], pressure)
        if not held and not row.used:
            continue
        if not held:
            made.append(Stage(pressure, not _loads_further(made, pressure), written))
        stage = made[-1]
        stage.every_row.append(i)
        if elapsed is not None and row.used and read != _NONE_READ:
            stage.rows.append(i)
            stage.minutes.append(elapsed)
            stage.gauges.append(read)
    _settle(made, zero)
    return made


def _loads_further(made: list[Stage], pressure_kpa: float) -> bool:
    """Return whether a pressure is one that the plate did not stand under before; or the largest after a single lower
    one: a slip, or the pump let go."""
    most = max((one.pressure_kpa for one in made), default=0.0)
    loaded_back = len(made) > 1 and made[-1].unloading and made[-2].unloading
    return pressure_kpa > most * (1 + _SAME) if loaded_back else pressure_kpa >= most


def _is_held(stage: Stage, pressure_kpa: float) -> bool:
    """Return whether a pressure is that of a stage still."""
    return abs(pressure_kpa - stage.pressure_kpa) <= _SAME * stage.pressure_kpa


def _settle(made: list[Stage], zero: list[float]) -> None:
    """Fill mean and spread of the gauges into the stages, all at once: a long test has thousands of readings."""
    if not (read := [gauges for stage in made for gauges in stage.gauges]):
        return
    moved = np.array(read, dtype=float) - zero  # a gauge not read is nan
    means, spreads = np.nanmean(moved, axis=1).tolist(), np.nanmax(moved, axis=1) - np.nanmin(moved, axis=1)
    every = zip(means, spreads.tolist(), moved.tolist(), strict=True)
    for stage in made:
        for mean, spread, gauges in islice(every, len(stage.rows)):
            stage.settlement_mm.append(mean)
            stage.spread_mm.append(spread)
            stage.moved_mm.append(gauges)


def loaded_again(made: list[Stage]) -> Stage | None:
    """Return the first stage of a plate that was loaded again after load was taken off it."""
    return next((b for a, b in pairwise(made) if a.unloading and b.pressure_kpa > a.pressure_kpa * (1 + _SAME)), None)


def loading(made: list[Stage]) -> list[Stage]:
    return [stage for stage in made if not stage.unloading and stage.rows]


def next_pressure(
    readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage]
) -> float | None:
    """Return the next planned pressure, None while nothing is estimated."""
    if readings.estimate_kpa is None:
        return None
    before = made[-1].pressure_kpa if made else 0.0
    return before + increment_kpa(readings.estimate_kpa, settings, before)


def increment_kpa(estimate_kpa: float, settings: PlateIncrementalSettings, before_kpa: float) -> float:
    """Return the increment after a pressure: a fifth of the safe estimate, a tenth of the ultimate expected, or as much
    again; to ten kPa where it is large enough."""
    if settings.increments == Increments.DOUBLING and before_kpa > 0:
        return before_kpa
    share = {Increments.FIFTH: 1 / 5, Increments.TENTH: settings.safety_factor / 10, Increments.DOUBLING: 1 / 8}
    step = estimate_kpa * share[settings.increments]
    return 10.0 * round(step / 10) if step >= 20 else step

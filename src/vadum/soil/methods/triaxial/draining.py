"""Consolidation of each specimen: both constructions, and the rate of shearing they allow."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from vadum.soil.contract.rows import numbered
from vadum.soil.methods.triaxial.readings import TimesRow, TriaxialReadings
from vadum.soil.methods.triaxial.settings import RateRule, TriaxialSettings
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.consolidation import LogTime, RootTime, log_time, root_time
from vadum.soil.physics.triaxial import Ends

# A stretch of so many times its beginning in which so much of the water came out shows no curve.
_APART, _MUCH = 6.5, 0.25
# The first reading is taken within a minute or two.
_BEGINS_MIN = 0.5


@dataclass(frozen=True)
class Drained:
    """Water out of one specimen by minutes, with what can be constructed of it."""

    number: int
    points: list[tuple[float, float]]
    root: RootTime | None
    log: LogTime | None
    by_hand: TimesRow
    ends: Ends

    @property
    def t100_min(self) -> float | None:
        return self.by_hand.t100_min or (self.root.t100_min if self.root else None)

    @property
    def t90_min(self) -> float | None:
        return self.by_hand.t90_min or (self.root.t90_min if self.root else None)

    @property
    def t50_min(self) -> float | None:
        return self.by_hand.t50_min or (self.log.t50_min if self.log else None)

    @property
    def unread_min(self) -> tuple[float, float] | None:
        """The first stretch of time, in minutes, in which much of the water came out and nothing was read."""
        points = [(0.0, 0.0), *self.points] if self.points and self.points[0][0] > 0 else self.points
        out = points[-1][1] - points[0][1] if points else 0.0
        for (t, v), (later, more) in pairwise(points):
            if later > _APART * max(t, _BEGINS_MIN) and more - v > _MUCH * out > 0:
                return t, later
        return None

    def out_at(self, minute: float) -> float:
        """Return the water out at a minute, cm3."""
        return float(np.interp(minute, [t for t, _ in self.points], [v for _, v in self.points]))

    def failure_minutes(self, settings: TriaxialSettings) -> float | None:
        """Return the least time to failure by the settings' rule, None while its construction is missing."""
        if settings.rate_rule == RateRule.T100:
            t100 = self.t100_min
            if t100 is None:
                return None
            return tx.failure_minutes(t100, settings.kind, side_drains=settings.side_drains, ends=self.ends)
        if settings.kind == "CD":
            return None if self.t90_min is None else tx.DRAINED_T90 * self.t90_min
        return None if self.t50_min is None else tx.UNDRAINED_T50 * self.t50_min


def drained(readings: TriaxialReadings, settings: TriaxialSettings) -> list[Drained]:
    """Return each specimen's consolidation in the order of time."""
    rows: dict[int, list[tuple[float, float]]] = {}
    for _, number, row in numbered(readings.consolidation):
        if row.used and row.elapsed_min is not None and row.out_cm3 is not None:
            rows.setdefault(number, []).append((row.elapsed_min, row.out_cm3))
    typed = {k: row for k, row in enumerate(readings.times, 1) if row.used}
    found = []
    for k in sorted({*rows, *typed}):
        points = rows.get(k, [])
        minutes, out = [t for t, _ in points], [v for _, v in points]
        by_hand = typed.get(k, TimesRow())
        found.append(
            Drained(k, points, root_time(minutes, out), log_time(minutes, out), by_hand, readings.ends or settings.ends)
        )
    return found


def fastest_mm_min(made: list[Drained], readings: TriaxialReadings, settings: TriaxialSettings) -> float | None:
    """Return the fastest rate at which even the slowest specimen takes long enough to fail; None while unknown."""
    times = [t for one in made if (t := one.failure_minutes(settings)) is not None]
    lengths = [s.length_mm for s in readings.specimens if s.used and s.length_mm]
    if not times or not lengths or settings.kind == "UU":
        return None
    strain = settings.failure_strain_percent
    if settings.rate_rule == RateRule.T50_T90:
        strain = min(strain, tx.MOST_FAILURE_STRAIN_PERCENT)
    return strain / 100 * min(lengths) / max(times)

"""Each run: its head by time, and k by three ways."""

from dataclasses import dataclass
from math import exp, log, pi

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.filling import Fill, fills_of
from vadum.soil.methods.borehole_permeability.readings import BoreholeReadings, BoreholeSettings, By
from vadum.soil.numbers.fit import line_fit
from vadum.soil.numbers.remembered import remembered
from vadum.soil.physics.borehole import Intake, by_lag_m_s, by_slope_m_s, intake_factor_m

Array = NDArray[np.float64]
# Heads of a few steps of the dipper say nothing about a slope of logarithms.
_LEAST_M = 0.02
_LEAST_READINGS = 3
_LAG = exp(-1.0)


@dataclass(frozen=True)
class Section:
    """Where the water goes in: area of the surface, intake factor."""

    area_m2: float
    factor_m: float


@dataclass(frozen=True)
class Run:
    """One run: head above or below rest by time, and what the levels say of it.

    ``slope_per_min`` is of -ln H, ``lag_min`` when 0.37 of the first head was left, ``rate_per_min`` the slope of the
    velocity against the head, ``rest_m`` where that velocity would be nothing; None where they cannot be had.
    """

    fill: Fill
    above: bool
    head_m: Array
    used: NDArray[np.bool_]
    slope_per_min: float | None
    intercept: float
    bend: float | None
    lag_min: float | None
    rate_per_min: float | None
    rest_m: float | None

    def k_m_s(self, section: Section, by: By) -> float | None:
        """Return k by one of the ways."""
        if by == By.LAG:
            return None if self.lag_min is None else by_lag_m_s(section.area_m2, section.factor_m, 60 * self.lag_min)
        slope = self.slope_per_min if by == By.SLOPE else self.rate_per_min
        return None if slope is None or slope <= 0 else by_slope_m_s(section.area_m2, section.factor_m, slope / 60)

    @property
    def left(self) -> float:
        """The share of the first head that is left."""
        return float(self.head_m[-1] / self.head_m[0]) if self.head_m[0] > 0 else 1.0


def section_of(readings: BoreholeReadings, settings: BoreholeSettings) -> Section | None:
    """Return the section as measured; None before its sizes are typed, or where they cannot be."""
    r = readings
    if r.casing_mm is None or r.section_mm is None:
        return None
    length = 0.0
    if settings.intake in (Intake.SECTION, Intake.SECTION_BOUNDARY):
        if r.top_m is None or r.base_m is None or r.base_m <= r.top_m:
            return None
        length = r.base_m - r.top_m
    factor = intake_factor_m(settings.intake, r.section_mm / 1000, length)
    return Section(pi / 4 * (r.casing_mm / 1000) ** 2, factor)


def runs_of(readings: BoreholeReadings) -> list[Run]:
    """Return the runs that are read against the water at rest; none before that is known."""
    rest = readings.rest_m
    return [] if rest is None else [_run(fill, rest) for fill in fills_of(readings.levels, "level_m")]


def _run(fill: Fill, rest: float) -> Run:
    above = bool(fill.level[0] < rest)
    head = (rest - fill.level) if above else (fill.level - rest)
    used = head >= _LEAST_M
    if not fill.in_order or used.sum() < _LEAST_READINGS:
        return Run(fill, above, head, used, None, 0.0, None, None, None, None)
    slope, intercept, bend, lag, rate, still = _said_by(fill.minutes, head, used)
    at_rest = None if still is None else (rest - still if above else rest + still)
    return Run(fill, above, head, used, slope, intercept or 0.0, bend, lag, rate, at_rest)


@remembered
def _said_by(minutes: Array, head: Array, used: NDArray[np.bool_]) -> tuple[float | None, ...]:
    """Return what the heads of a run say: slope and intercept of its straight line, bend, lag, rate, head at rest."""
    logs = np.log(head[used])
    fit = line_fit(minutes[used], logs)
    slope, intercept = (-fit.slope, fit.intercept) if fit else (None, 0.0)
    return slope, intercept, _bend(minutes[used], logs), _lag(minutes, head), *_velocity(minutes, head)


def _bend(minutes: Array, logs: Array) -> float | None:
    """Return how many times as fast ln H falls in the last half of its range as in the first."""
    if len(minutes) < 2 * _LEAST_READINGS:
        return None
    middle = (logs[0] + logs[-1]) / 2
    first, last = logs >= middle, logs <= middle
    one, other = line_fit(minutes[first], logs[first]), line_fit(minutes[last], logs[last])
    if first.sum() < _LEAST_READINGS or last.sum() < _LEAST_READINGS or not one or not other or one.slope >= 0:
        return None
    return other.slope / one.slope


def _lag(minutes: Array, head: Array) -> float | None:
    """Return when 0.37 of the first head was left, on a straight line of ln H between two readings."""
    below = np.flatnonzero(head <= _LAG * head[0])
    if not len(below) or head[0] <= 0 or below[0] == 0 or head[below[0]] <= 0:
        return None
    k = int(below[0])
    share = log(head[k - 1] / (_LAG * head[0])) / log(head[k - 1] / head[k])
    return float(minutes[k - 1] + share * (minutes[k] - minutes[k - 1]) - minutes[0])


def _velocity(minutes: Array, head: Array) -> tuple[float | None, float | None]:
    """Return the slope of the velocity against the head, per minute, and the head at which nothing moves."""
    if len(minutes) < 2 * _LEAST_READINGS:
        return None, None
    speed, middle = -np.diff(head) / np.diff(minutes), (head[1:] + head[:-1]) / 2
    fit = line_fit(middle, speed)
    return (None, None) if fit is None or fit.slope <= 0 else (fit.slope, -fit.intercept / fit.slope)

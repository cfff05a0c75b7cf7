"""Readings of a cylinder as arrays: which rows can be reduced, and what each says."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.joint import coarse_limb
from vadum.soil.bench.particle import particle_density
from vadum.soil.contract.field import Leant
from vadum.soil.methods.hydrometer import equations as eq
from vadum.soil.methods.hydrometer.readings import Depth, HydrometerReadings, HydrometerSettings

Array = NDArray[np.float64]
# A single correction counts for temperatures this near to its own.
_NEAR_C = 0.5


@dataclass(frozen=True)
class Suspension:
    """Rows that carry a time and a reading, hand-kept first, then logged, each in order of time.

    ``rows`` holds the number of the hand-kept row, -1 for a logged one. ``within`` marks temperatures the corrections
    cover. ``diameter_mm`` and ``finer_percent`` (of the whole sample) are nan where they cannot be had.
    """

    rows: NDArray[np.int64]
    minutes: Array
    reading: Array
    temperature_c: Array
    within: NDArray[np.bool_]
    composite: Array
    depth_cm: Array
    diameter_mm: Array
    finer_percent: Array
    gs: Leant
    passing: Leant | None

    def __len__(self) -> int:
        return len(self.rows)

    @property
    def sound(self) -> NDArray[np.bool_]:
        return np.isfinite(self.diameter_mm) & np.isfinite(self.finer_percent) & (self.diameter_mm > 0)


def suspension(readings: HydrometerReadings, settings: HydrometerSettings, context: GradingContext) -> Suspension:
    """Return the readings with diameters and percentages, as far as mass and corrections are known."""
    rows, minutes, values, temperatures = _columns(readings)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    known = [
        (c.temperature_c, c.hydrometer)
        for c in readings.corrections
        if c.used and c.temperature_c is not None and c.hydrometer is not None
    ]
    composite = np.full(len(rows), np.nan)
    within = np.zeros(len(rows), dtype=bool)
    if known:
        at = np.array([t for t, _ in known])
        composite = eq.composite_correction(temperatures, at, [r for _, r in known])
        slack = _NEAR_C if np.ptp(at) < 1e-9 else 1e-6
        within = (temperatures >= at.min() - slack) & (temperatures <= at.max() + slack)
    depth = depth_cm(values, readings, settings)
    with np.errstate(invalid="ignore", divide="ignore"):
        diameter = eq.stokes_diameter_mm(np.where(depth > 0, depth, np.nan), minutes, gs.value, temperatures)
    passing = passing_share(readings, settings, context)
    finer = np.full(len(rows), np.nan)
    if readings.dry_mass_g:
        share = eq.percent_in_suspension(values, composite, readings.dry_mass_g, gs.value, settings.instrument)
        counted = within | bool(readings.outside_because)
        finer = np.where(counted, share * (passing.value if passing else 100.0) / 100.0, np.nan)
    return Suspension(rows, minutes, values, temperatures, within, composite, depth, diameter, finer, gs, passing)


_MARKS = {"152H": (0.0, 60.0), "151H": (1.0, 1.038)}


def depth_cm(values: Array, readings: HydrometerReadings, settings: HydrometerSettings) -> Array:
    """Return the depth of each reading by the school; nan while the own geometry is not all known."""
    if settings.depth == Depth.TABLE:
        return eq.effective_depth_cm(values, settings.instrument)
    low, high, length = readings.stem_at_low_cm, readings.stem_at_high_cm, readings.bulb_length_cm
    volume, area = readings.bulb_volume_cm3, readings.cylinder_area_cm2
    if low is None or high is None or length is None or volume is None or not area:
        return np.full(len(values), np.nan)
    level = values + (readings.meniscus or 0.0)
    return eq.own_depth_cm(level, _MARKS[settings.instrument], (low, high), length, volume, area)


def passing_share(readings: HydrometerReadings, settings: HydrometerSettings, context: GradingContext) -> Leant | None:
    """Return the share of the whole sample that passes the sieve that fed the specimen, None when nobody knows it."""
    if readings.passing_percent is not None:
        return Leant(value=readings.passing_percent, source="typed on this sheet")
    share = coarse_limb(context).finer_at(settings.specimen_mm) if context.sieve_curve else None
    if share is None or context.sieve_curve is None:
        return None
    return Leant(value=share, source=context.sieve_curve.source)


def _columns(readings: HydrometerReadings) -> tuple[NDArray[np.int64], Array, Array, Array]:
    # A reading without its temperature has neither a viscosity nor a correction of its own.
    kept = [
        (i, row.minutes, row.hydrometer, row.temperature_c)
        for i, row in enumerate(readings.sedimentation)
        if row.used and row.hydrometer is not None and row.minutes and row.temperature_c is not None
    ]
    hand = np.array(kept, dtype=float).reshape(-1, 4)
    log = readings.log
    logged = np.empty((0, 4))
    if log is not None and len(log):
        logged = np.column_stack([np.full(len(log), -1.0), log.elapsed_min, log.hydrometer, log.temperature_c])
        logged = logged[logged[:, 1] > 0]
    both = np.vstack([hand, logged])
    return both[:, 0].astype(np.int64), both[:, 1], both[:, 2], both[:, 3]

"""Each cylinder's record with its fit."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.rows import numbered
from vadum.soil.methods.falling_head.readings import (
    MOST_CYLINDERS,
    CylinderRow,
    FallingHeadReadings,
    FallingHeadSettings,
    Moisture,
)
from vadum.soil.numbers.fit import line_fit
from vadum.soil.physics.falling_fit import Fitted, fit_falling_head
from vadum.soil.physics.falling_head import Cylinder, saturation_of_dial, water_deficit
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import water_viscosity

Array = NDArray[np.float64]
_LATE_SHARE = 1 / 3


@dataclass(frozen=True)
class Place:
    """One cylinder: its rows, minutes and heads in the order of time, the ground's deficit, and the fit."""

    number: int
    rows: NDArray[np.int64]
    minutes: Array
    head_mm: Array
    deficit: float | None
    cylinder: Cylinder | None
    fit: Fitted | None
    to_20: float
    """Factor that takes Ks to 20 degrees, 1 while the water's temperature is not read."""
    water_c: float | None

    @property
    def ks_20_mm_h(self) -> float | None:
        """Return Ks at 20 degrees."""
        return None if self.fit is None else 60 * self.fit.ks_mm_min * self.to_20

    @property
    def band_20_mm_h(self) -> tuple[float, float] | None:
        if self.fit is None:
            return None
        low, high = self.fit.ks_band
        return 60 * low * self.to_20, 60 * high * self.to_20

    @property
    def only_below(self) -> bool:
        return self.fit is not None and self.fit.only_below

    @property
    def late_mm_h(self) -> float | None:
        """Return the speed of the fall over the last third of the time."""
        late = (self.minutes >= (1 - _LATE_SHARE) * self.minutes[-1]) & (self.head_mm > 0)
        fit = line_fit(self.minutes[late], self.head_mm[late]) if late.sum() > 1 else None
        return None if fit is None else -60 * fit.slope


def cylinder_of(number: int, readings: FallingHeadReadings) -> CylinderRow:
    """Return what was read of a cylinder beside its heads; blank where nothing was."""
    return readings.cylinders[number - 1] if number <= len(readings.cylinders) else CylinderRow()


def places(readings: FallingHeadReadings, settings: FallingHeadSettings, porosity: float) -> list[Place]:
    """Return the cylinders that have a record, in their order."""
    columns = _columns(readings)
    found = []
    for k in range(1, MOST_CYLINDERS + 1):
        mine = columns[columns[:, 1] == k]
        row = cylinder_of(k, readings)
        if not len(mine) or not row.used:
            continue
        found.append(_place(k, mine, row, readings, settings, porosity))
    return found


def deficit_of(
    row: CylinderRow, readings: FallingHeadReadings, settings: FallingHeadSettings, porosity: float
) -> float | None:
    """Return the moisture behind the front less the one before, a share of the volume; None while one is not read."""
    if row.moisture_before is None or row.moisture_after is None:
        return None
    if settings.moisture == Moisture.PERCENT:
        return water_deficit(row.moisture_before, row.moisture_after, None)
    if settings.moisture == Moisture.MASS:
        dry = readings.dry_density_g_cm3
        return None if dry is None else water_deficit(row.moisture_before, row.moisture_after, dry / WATER)
    before, after = saturation_of_dial(row.moisture_before), saturation_of_dial(row.moisture_after)
    return water_deficit(before, after, porosity)


def _columns(readings: FallingHeadReadings) -> Array:
    """Return row, cylinder, minutes and head of every line; the row is -1 for a logged one."""
    if readings.log is not None and len(readings.log):
        log = readings.log
        return np.column_stack([np.full(len(log), -1.0), log.cylinder, log.elapsed_min, log.head_mm])
    kept = []
    for i, number, row in numbered(readings.heads, "cylinder"):
        if row.used and row.elapsed_min is not None and row.head_mm is not None:
            kept.append((float(i), float(number), row.elapsed_min, row.head_mm))
    return np.array(kept, dtype=float).reshape(-1, 4)


def _place(
    number: int,
    mine: Array,
    row: CylinderRow,
    readings: FallingHeadReadings,
    settings: FallingHeadSettings,
    porosity: float,
) -> Place:
    deficit = deficit_of(row, readings, settings, porosity)
    rows, minutes, head = mine[:, 0].astype(np.int64), mine[:, 2], mine[:, 3]
    cylinder = fit = None
    sound = deficit is not None and deficit > 0 and minutes[0] <= 1e-9 and (np.diff(minutes) > 0).all()
    if sound and deficit and readings.radius_mm and readings.embedded_mm and head[0] > 0:
        cylinder = Cylinder(readings.radius_mm, readings.embedded_mm, float(head[0]), deficit)
        fit = fit_falling_head(cylinder, minutes, head, settings.resolution_mm)
    to_20 = 1.0
    if row.temperature_c is not None:
        to_20 = float(water_viscosity(row.temperature_c) / water_viscosity(20.0))
    return Place(number, rows, minutes, head, deficit, cylinder, fit, to_20, row.temperature_c)

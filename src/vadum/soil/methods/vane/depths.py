"""Readings by depth as strengths."""

from dataclasses import dataclass

from vadum.soil.methods.vane import equations as eq
from vadum.soil.methods.vane.readings import Instrument, VaneReadings, VaneSettings


@dataclass(frozen=True)
class Sheared:
    """One depth as reduced: strengths in kPa, None where it was not read."""

    row: int
    depth_m: float
    peak_kpa: float
    remoulded_kpa: float | None

    @property
    def sensitivity(self) -> float | None:
        return self.peak_kpa / self.remoulded_kpa if self.remoulded_kpa else None


def sheared(readings: VaneReadings, settings: VaneSettings) -> list[Sheared]:
    """Return the depths at which a peak was read and is a strength."""
    found = []
    for i, row in enumerate(readings.profile):
        if row.depth_m is None or row.peak is None:
            continue
        peak = _kpa(row.peak - (row.friction or 0.0), readings, settings)
        if peak is None:
            continue
        left = None if row.remoulded is None else _kpa(row.remoulded - (row.friction or 0.0), readings, settings)
        found.append(Sheared(i, row.depth_m, peak, left))
    return found


def _kpa(value: float, readings: VaneReadings, settings: VaneSettings) -> float | None:
    if settings.instrument == Instrument.BALANCE:
        return None if readings.constant is None else float(eq.strength_from_balance_kpa(value, readings.constant))
    if readings.diameter_mm is None or readings.height_mm is None:
        return None
    return float(eq.strength_from_torque_kpa(value, readings.diameter_mm, readings.height_mm))

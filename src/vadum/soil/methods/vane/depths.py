"""Readings by depth as strengths, each with the vane it was read with."""

from dataclasses import dataclass

from vadum.soil.contract.rows import numbered
from vadum.soil.methods.vane import equations as eq
from vadum.soil.methods.vane.readings import Instrument, OtherVane, VaneReadings, Vanes, VaneSettings

FIRST = 1
Vane = VaneReadings | OtherVane
"""A vane as the sheet, or a line of the others, describes it."""


@dataclass(frozen=True)
class Sheared:
    """One depth as reduced: strengths in kPa, None where it was not read."""

    row: int
    vane: Vane
    depth_m: float
    peak_kpa: float
    remoulded_kpa: float | None

    @property
    def sensitivity(self) -> float | None:
        return self.peak_kpa / self.remoulded_kpa if self.remoulded_kpa else None


def sheared(readings: VaneReadings, settings: VaneSettings) -> list[Sheared]:
    """Return the depths at which a peak was read and is a strength."""
    found = []
    for (i, row), vane in zip(enumerate(readings.profile), vanes_in_use(readings, settings), strict=True):
        if row.depth_m is None or row.peak is None or vane is None:
            continue
        peak = _kpa(row.peak - (row.friction or 0.0), vane, settings)
        if peak is None:
            continue
        left = None if row.remoulded is None else _kpa(row.remoulded - (row.friction or 0.0), vane, settings)
        found.append(Sheared(i, vane, row.depth_m, peak, left))
    return found


def vanes_in_use(readings: VaneReadings, settings: VaneSettings) -> list[Vane | None]:
    """Return the vane of every depth; None where it is not described."""
    if settings.vanes == Vanes.ONE:
        return [readings] * len(readings.profile)
    others = {other.vane: other for other in readings.others if other.used}
    return [readings if number == FIRST else others.get(number) for _, number, _ in numbered(readings.profile, "vane")]


def _kpa(value: float, vane: Vane, settings: VaneSettings) -> float | None:
    if settings.instrument == Instrument.BALANCE:
        return None if vane.constant is None else float(eq.strength_from_balance_kpa(value, vane.constant))
    if vane.diameter_mm is None or vane.height_mm is None:
        return None
    return float(eq.strength_from_torque_kpa(value, vane.diameter_mm, vane.height_mm, *tapers(vane)))


def tapers(vane: Vane) -> tuple[float, float]:
    """Return the taper of a vane's ends, top and bottom, degrees."""
    return vane.taper_top_deg or 0.0, vane.taper_bottom_deg or 0.0

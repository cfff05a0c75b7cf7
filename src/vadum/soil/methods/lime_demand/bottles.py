"""Bottles as read: their lime, their pH at 25 degrees, and the one with lime only."""

from dataclasses import dataclass

from vadum.soil.methods.lime_demand.equations import lime_mass_g, ph_at_25
from vadum.soil.methods.lime_demand.readings import BottleRow, LimeReadings, LimeSettings
from vadum.soil.physics.moisture import moist_mass_g


def holds_lime_only(row: BottleRow) -> bool:
    """Return whether a bottle holds no soil by what was weighed into it; that it is meant so is said by its tick."""
    return row.lime_percent is None and not row.mass_soil_g


@dataclass(frozen=True)
class Bottle:
    """One bottle that is read: its row, its lime in percent (None: lime only), pH at 25 degrees."""

    row: int
    percent: float | None
    ph25: float
    corrected: bool


def bottles_of(readings: LimeReadings) -> list[Bottle]:
    """Return the bottles with a pH, as they stand in the table."""
    found = []
    for i, row in enumerate(readings.bottles):
        if not row.used or row.ph is None:
            continue
        ph25 = ph_at_25(row.ph, row.temperature_c) if row.temperature_c is not None else row.ph
        found.append(Bottle(i, None if holds_lime_only(row) else row.lime_percent, ph25, row.temperature_c is not None))
    return found


def wanted(row: BottleRow, readings: LimeReadings, settings: LimeSettings) -> tuple[float | None, float | None]:
    """Return the masses of moist soil and lime a bottle should hold, None where they are not known yet."""
    w = readings.water_content_percent
    soil = moist_mass_g(settings.dry_g, w) if w is not None and row.lime_percent is not None else None
    lime = lime_mass_g(settings.dry_g, row.lime_percent) if row.lime_percent is not None else None
    return soil, lime

"""What the masses of a ring say: its tare, its dry soil, its water by volume."""

from vadum.soil.methods.retention.readings import RetentionReadings, RetentionSettings, Tare
from vadum.soil.methods.retention.steps import Step
from vadum.soil.physics.retention import water_by_volume


def tare_g(readings: RetentionReadings, settings: RetentionSettings) -> float | None:
    """Return the mass of apparatus and ring, None while one of them is missing."""
    ring = 0.0 if settings.tare == Tare.WITH else readings.mass_ring_g
    return None if readings.mass_apparatus_g is None or ring is None else readings.mass_apparatus_g + ring


def dry_g(readings: RetentionReadings) -> float | None:
    """Return the mass of the dry soil without the can it was weighed in."""
    return None if readings.mass_dry_g is None else readings.mass_dry_g - (readings.mass_can_g or 0.0)


def water(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> list[float]:
    """Return the water by volume at the end of each step; empty while a mass is missing."""
    tare, dry = tare_g(readings, settings), dry_g(readings)
    if readings.volume_cm3 is None or tare is None or dry is None:
        return []
    return [water_by_volume(s.mass_g[-1], tare, 0.0, dry, readings.volume_cm3) for s in made]

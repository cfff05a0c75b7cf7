"""Moulds of soil as points of the curve."""

from dataclasses import dataclass

from vadum.soil.methods.compaction.readings import CompactionReadings, Point
from vadum.soil.physics.phases import dry_density


@dataclass(frozen=True)
class Compacted:
    """One point as reduced."""

    row: int
    water_content: float
    bulk_density: float
    dry_density: float


def water_of(point: Point, tins: dict[str, float]) -> float | None:
    """Return a point's water content by its tin, else as typed."""
    return found if (found := point.water_content(tins)) is not None else point.water_content_percent


def compacted(readings: CompactionReadings, tins: dict[str, float]) -> list[Compacted]:
    """Return the points whose masses are known, in the order they were made."""
    mould, volume = readings.mass_mould_g, readings.volume_mould_cm3
    found = []
    for i, point in enumerate(readings.points):
        w, mass = water_of(point, tins), point.mass_mould_soil_g
        if mould is None or not volume or w is None or mass is None or mass <= mould:
            continue
        bulk = (mass - mould) / volume
        found.append(Compacted(i, w, bulk, dry_density(bulk, w)))
    return found

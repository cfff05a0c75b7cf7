"""Each measurement as permeability at its own temperature and at the one of reference."""

from dataclasses import dataclass
from math import pi

from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.methods.permeability_laboratory.readings import Head, PermeabilityReadings, PermeabilitySettings
from vadum.soil.physics.permeameter import constant_head_m_s, falling_head_m_s


@dataclass(frozen=True)
class Measured:
    """One measurement: its row and table, gradient at its mean head, speed of flow, k as measured and at reference."""

    table: str
    row: int
    gradient: float
    k_m_s: float
    k_ref_m_s: float

    @property
    def flow_m_s(self) -> float:
        """The speed of flow at reference, the volume over area and time."""
        return self.k_ref_m_s * self.gradient


def measured(readings: PermeabilityReadings, settings: PermeabilitySettings) -> list[Measured]:
    """Return the measurements that can be reduced, in the order of time."""
    return _constant(readings, settings) if settings.head == Head.CONSTANT else _falling(readings, settings)


def _constant(readings: PermeabilityReadings, settings: PermeabilitySettings) -> list[Measured]:
    diameter, taps = readings.diameter_mm, readings.taps_mm
    if diameter is None or taps is None:
        return []
    found = []
    for i, row in enumerate(readings.flows):
        head, volume, seconds = row.head_mm, row.volume_cm3, row.seconds
        if not row.used or head is None or volume is None or seconds is None:
            continue
        k = constant_head_m_s(volume, taps, pi / 4 * diameter**2, head, seconds)
        found.append(Measured("flows", i, head / taps, k, _taken(k, row.temperature_c, settings)))
    return found


def _falling(readings: PermeabilityReadings, settings: PermeabilitySettings) -> list[Measured]:
    diameter, length, tube = readings.diameter_mm, readings.length_mm, readings.tube_mm
    if diameter is None or length is None or tube is None:
        return []
    found = []
    for i, row in enumerate(readings.falls):
        before, after, seconds = row.from_mm, row.to_mm, row.seconds
        if not row.used or before is None or after is None or seconds is None or after >= before:
            continue
        areas = (pi / 4 * tube**2, pi / 4 * diameter**2)
        k = falling_head_m_s(areas[0], length, areas[1], (before, after), seconds)
        found.append(Measured("falls", i, (before + after) / 2 / length, k, _taken(k, row.temperature_c, settings)))
    return found


def _taken(k: float, water_c: float | None, settings: PermeabilitySettings) -> float:
    return k if water_c is None else k * to_temperature(water_c, settings.reference_c)

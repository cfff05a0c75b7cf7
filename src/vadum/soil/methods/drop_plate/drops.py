"""A place with its drops."""

from dataclasses import dataclass

from vadum.soil.methods.drop_plate.readings import SPEEDS, DropPlateSettings, Place
from vadum.soil.physics.drop_plate import dynamic_modulus_mpa, settlement_over_velocity_ms


@dataclass(frozen=True)
class Dropped:
    """A place with its three measuring drops."""

    row: int
    name: str
    s_mm: float
    evd_mpa: float
    ratio_ms: float | None


def dropped(i: int, name: str, row: Place, drops: list[float], settings: DropPlateSettings) -> Dropped:
    """Return a place from its three measuring drops."""
    s = sum(drops) / len(drops)
    speeds = [value for key in SPEEDS if (value := getattr(row, key))]
    ratio = None
    if settings.velocity and len(speeds) == len(SPEEDS):
        ratio = settlement_over_velocity_ms(s, sum(speeds) / len(speeds))
    return Dropped(i, name, s, dynamic_modulus_mpa(settings.diameter_mm / 2, settings.pressure_kpa, s), ratio)

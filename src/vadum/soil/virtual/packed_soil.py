"""A soil in place whose phases are known."""

from dataclasses import dataclass

import numpy as np

from vadum.soil.physics.phases import WATER


@dataclass(frozen=True)
class PackedSoil:
    """The truth: dry density of the whole in g/cm3, water content in percent, Gs; stones as percent of the dry mass."""

    dry_density: float
    water_content: float
    particle_density: float
    stones_percent: float = 0.0
    stone_density: float = 2.65

    @property
    def bulk_density(self) -> float:
        return self.dry_density * (1 + self.water_content / 100)

    @property
    def stones_by_volume_percent(self) -> float:
        return self.stones_percent * self.dry_density / (self.stone_density * WATER)

    @property
    def fine_earth_density(self) -> float:
        """Dry mass of grains below 2 mm over the volume that is not stones, g/cm3."""
        fine = self.dry_density * (1 - self.stones_percent / 100)
        return fine / (1 - self.stones_by_volume_percent / 100)


def a_packed_soil(rng: np.random.Generator) -> PackedSoil:
    """Return a believable soil in place, stony or not, between half and nearly full of water."""
    gs = float(rng.uniform(2.62, 2.74))
    void_ratio = float(rng.uniform(0.4, 1.1))
    return PackedSoil(
        dry_density=gs * WATER / (1 + void_ratio),
        water_content=100 * void_ratio / gs * float(rng.uniform(0.4, 0.96)),
        particle_density=gs,
        stones_percent=float(rng.uniform(3, 40)),
    )

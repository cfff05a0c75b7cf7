"""A soil whose compaction curve is known."""

from dataclasses import dataclass

import numpy as np

from vadum.soil.physics.phases import saturated_dry_density


@dataclass(frozen=True)
class CompactionSoil:
    """The truth: optimum water content in percent, maximum dry density in g/cm3, and how fast density falls off."""

    optimum_percent: float
    maximum_dry_density: float
    bend: float
    particle_density: float

    def dry_density_at(self, water_content_percent: float) -> float:
        """Return the dry density, g/cm3: a parabola, held below 1 % air on the wet side."""
        off = water_content_percent - self.optimum_percent
        free = self.maximum_dry_density - self.bend * off**2
        return min(free, saturated_dry_density(water_content_percent, self.particle_density, 1.0))


def a_compaction_soil(rng: np.random.Generator) -> CompactionSoil:
    """Return a believable soil from sand to clay, its optimum at three to six percent air."""
    optimum = float(rng.uniform(8, 22))
    gs = float(rng.uniform(2.62, 2.74))
    return CompactionSoil(
        optimum_percent=optimum,
        maximum_dry_density=saturated_dry_density(optimum, gs, float(rng.uniform(4, 7))),
        bend=float(rng.uniform(0.004, 0.009)),
        particle_density=gs,
    )

"""Ground around an auger hole whose conductivity and class are known."""

from dataclasses import dataclass

import numpy as np

from vadum.soil.physics.constant_head import SoilClass


@dataclass(frozen=True)
class AugeredGround:
    """The truth at 20 degrees: Kfs in mm/h, the class that sets alpha*, and how much faster dry ground drinks at
    first."""

    kfs_mm_h: float
    soil: SoilClass
    eager: float


def an_augered_ground(rng: np.random.Generator) -> AugeredGround:
    """Return a believable loam, the class that the sheet takes unless another is chosen."""
    return AugeredGround(float(10 ** rng.uniform(0.3, 2.3)), SoilClass.LOAM, float(rng.uniform(0.4, 1.2)))

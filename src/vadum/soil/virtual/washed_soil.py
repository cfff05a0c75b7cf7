"""A specimen whose permeability is known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class WashedSoil:
    """The truth: permeability of a sand at 20 degrees in m/s, of a silt in the same jar, and the dry density."""

    sand_m_s: float
    silt_m_s: float
    dry_density_g_cm3: float


def a_washed_soil(rng: np.random.Generator) -> WashedSoil:
    """Return a clean sand, and the silt that was washed out of it."""
    return WashedSoil(
        float(10 ** rng.uniform(-4.7, -3.2)), float(10 ** rng.uniform(-8.0, -5.5)), float(rng.uniform(1.5, 1.8))
    )

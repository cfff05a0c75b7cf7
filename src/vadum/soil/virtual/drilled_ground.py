"""Ground around a test section whose permeability is known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class DrilledGround:
    """The truth at the ground's temperature: permeability in m/s, and where the water stands, m down."""

    k_m_s: float
    rest_m: float


def a_drilled_ground(rng: np.random.Generator) -> DrilledGround:
    """Return a silt or a fine sand with its water a few metres down."""
    return DrilledGround(float(10 ** rng.uniform(-7.3, -4.6)), round(float(rng.uniform(1.2, 4.0)), 3))

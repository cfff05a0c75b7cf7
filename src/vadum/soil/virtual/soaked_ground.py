"""Ground around a hole or a pit that takes water at a known rate wherever it is wet."""

from dataclasses import dataclass
from math import exp

import numpy as np


@dataclass(frozen=True)
class SoakedGround:
    """The truth at 20 degrees: rate in mm/h through every wetted part, and how much faster it drinks at first."""

    rate_mm_h: float
    eager: float

    def fall(self, rate_mm_min: float, radius_mm: float, water_mm: float) -> float:
        """Return how fast the water in a round hole falls, mm/min."""
        return rate_mm_min * (1 + 2 * water_mm / radius_mm)

    def left(self, rate_mm_min: float, radius_mm: float, from_mm: float, minutes: float) -> float:
        """Return the water left in a round hole, mm: dh/dt = -i (1 + 2 h/r), integrated."""
        through_base = radius_mm / 2
        return (from_mm + through_base) * exp(-2 * rate_mm_min * minutes / radius_mm) - through_base

    def emptied(
        self, rate_mm_min: float, plan: tuple[float, float], from_mm: float, minutes: np.ndarray, voids: float
    ) -> np.ndarray:
        """Return the water left in a pit with straight sides at these times, mm, down to nothing."""
        length, width = plan
        share = 2 * (length + width) / (length * width)
        left = (from_mm + 1 / share) * np.exp(-rate_mm_min * share * minutes / voids) - 1 / share
        return np.maximum(left, 0.0)


def a_soaked_ground(rng: np.random.Generator) -> SoakedGround:
    """Return a believable sandy or silty soil."""
    return SoakedGround(float(10 ** rng.uniform(0.5, 2.2)), float(rng.uniform(0.05, 0.3)))

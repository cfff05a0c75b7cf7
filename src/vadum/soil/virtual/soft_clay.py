"""Soft clay below a dried crust, whose undrained strength at every depth is known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class SoftClay:
    """The truth: a crust that fades with depth on strength that grows with it; kPa, m."""

    crust_kpa: float
    crust_m: float
    at_surface_kpa: float
    growth_kpa_m: float
    sensitivity: float
    plasticity_index: float

    def undrained_kpa(self, depth_m: float) -> float:
        """Return the undrained strength at a depth."""
        return (
            self.crust_kpa * float(np.exp(-depth_m / self.crust_m)) + self.at_surface_kpa + self.growth_kpa_m * depth_m
        )


def a_soft_clay(rng: np.random.Generator) -> SoftClay:
    """Return believable soft ground."""
    return SoftClay(
        crust_kpa=float(rng.uniform(10, 30)),
        crust_m=float(rng.uniform(0.7, 1.5)),
        at_surface_kpa=float(rng.uniform(12, 25)),
        growth_kpa_m=float(rng.uniform(1.0, 3.0)),
        sensitivity=float(rng.uniform(2.2, 6.5)),
        plasticity_index=float(rng.uniform(15, 60)),
    )

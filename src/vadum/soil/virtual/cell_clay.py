"""Clay in a triaxial cell: friction, cohesion, pore-pressure coefficient and consolidation are known."""

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from vadum.soil.physics.consolidation import degree


@dataclass(frozen=True)
class CellClay:
    """The truth: c' and phi', A at failure, strain at failure, undrained strength for UU, t100, volume strain
    drained."""

    friction_deg: float
    cohesion_kpa: float
    pore_coefficient: float
    failure_percent: float
    undrained_kpa: float
    t100_min: float
    volume_percent: float

    def undrained_deviator_kpa(self, minor_kpa: float) -> float:
        """Return the deviator at failure from an effective cell pressure, pore pressure rising by A times it."""
        s, c = sin(radians(self.friction_deg)), cos(radians(self.friction_deg))
        # t = c cos phi + s' sin phi with s' = minor - A 2t + t.
        return 2 * (self.cohesion_kpa * c + minor_kpa * s) / (1 - s * (1 - 2 * self.pore_coefficient))

    def drained_deviator_kpa(self, minor_kpa: float) -> float:
        s, c = sin(radians(self.friction_deg)), cos(radians(self.friction_deg))
        return 2 * (self.cohesion_kpa * c + minor_kpa * s) / (1 - s)

    def share(self, strain_percent: float) -> float:
        """Return the share of the deviator at failure reached at a strain: up as 2x / (1 + x^2), down beyond."""
        x = strain_percent / self.failure_percent
        return 2 * x / (1 + x * x)

    def out_share(self, minutes: float) -> float:
        """Return the share of the water that is out after some minutes."""
        return degree(np.pi / 4 * minutes / self.t100_min)


def a_cell_clay(rng: np.random.Generator) -> CellClay:
    """Return a believable clay."""
    return CellClay(
        friction_deg=float(rng.uniform(20, 32)),
        cohesion_kpa=float(rng.choice([0.0, rng.uniform(3, 15)])),
        pore_coefficient=float(rng.uniform(0.1, 0.7)),
        failure_percent=float(rng.uniform(4, 10)),
        undrained_kpa=float(rng.uniform(30, 140)),
        t100_min=float(rng.uniform(40, 300)),
        volume_percent=float(rng.uniform(1, 4)),
    )

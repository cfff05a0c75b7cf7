"""A clay cylinder whose strength, strain at failure and sensitivity are known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class ClayCylinder:
    """The truth. Stress rises as 2x / (1 + x^2) of the strain over the strain at failure and falls beyond it."""

    compressive_kpa: float
    failure_percent: float
    sensitivity: float
    water_content: float

    def stress_kpa(self, strain_percent: float) -> float:
        """Return the axial stress at an axial strain."""
        x = strain_percent / self.failure_percent
        return self.compressive_kpa * 2 * x / (1 + x * x)


def a_clay_cylinder(rng: np.random.Generator) -> ClayCylinder:
    """Return a believable clay from soft to very stiff."""
    return ClayCylinder(
        compressive_kpa=float(np.exp(rng.uniform(np.log(40), np.log(350)))),
        failure_percent=float(rng.uniform(3.5, 9.0)),
        sensitivity=float(rng.uniform(1.6, 5.0)),
        water_content=float(rng.uniform(18, 45)),
    )

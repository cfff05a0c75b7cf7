"""A soil whose water retention is known."""

from dataclasses import dataclass

import numpy as np

from vadum.soil.physics.retention import van_genuchten


@dataclass(frozen=True)
class HoldingSoil:
    """The truth: van Genuchten's parameters (alpha in 1/kPa), the porosity, and the days in which a step drains to
    1/e."""

    theta_r: float
    theta_s: float
    alpha: float
    n: float
    porosity: float
    drains_days: float

    def theta(self, kpa: float) -> float:
        return float(van_genuchten(kpa, self.theta_r, self.theta_s, self.alpha, self.n))


def a_holding_soil(rng: np.random.Generator) -> HoldingSoil:
    """Return a believable soil from sand to loam that nearly fills its pores."""
    porosity = float(rng.uniform(0.38, 0.52))
    return HoldingSoil(
        theta_r=float(rng.uniform(0.02, 0.08)),
        theta_s=porosity * float(rng.uniform(0.94, 0.99)),
        alpha=float(np.exp(rng.uniform(np.log(0.1), np.log(0.5)))),
        n=float(rng.uniform(1.35, 2.6)),
        porosity=porosity,
        drains_days=float(rng.uniform(0.4, 0.7)),
    )

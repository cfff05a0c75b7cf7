"""A rolled lift of fill whose dynamic modulus is known, with what still gives under the plate."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class RolledLift:
    """The truth: the modulus the drops end at, MPa; how far places scatter; the seating that is left at the first
    drop, as a share."""

    evd_mpa: float
    scatter: float
    seating: float

    def drops_mm(self, modulus_mpa: float, count: int, radius_mm: float, pressure_kpa: float) -> list[float]:
        """Return the settlement of so many drops one after the other: each seats the plate further."""
        end = 1.5 * radius_mm * pressure_kpa / 1000 / modulus_mpa
        return [end * (1 + self.seating * float(np.exp(-0.9 * k))) for k in range(count)]


def a_rolled_lift(rng: np.random.Generator) -> RolledLift:
    """Return a believable lift from a soft subgrade to a good base."""
    return RolledLift(float(np.exp(rng.uniform(np.log(16), np.log(75)))), 0.08, float(rng.uniform(0.1, 0.4)))

"""Ground under a plate whose moduli, yield and creep are known."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np


@dataclass(frozen=True)
class ElasticPlateSoil:
    """The truth for repeated loading: s = a1 sigma + a2 sigma^2 in both loadings (mm, MPa), with a settlement that
    stays."""

    first: tuple[float, float]
    again: tuple[float, float]
    left_mm: float
    """Settlement that is left after full unloading."""

    def loaded_to(self, largest_kpa: float) -> "ElasticPlateSoil":
        """Return the ground as no more than this load leaves it: what comes back was settled before."""
        settled, back = _settled_mm(self.first, largest_kpa), _settled_mm(self.again, largest_kpa)
        return replace(self, left_mm=min(self.left_mm, _left_mm(settled, back)))

    def first_mm(self, pressure_kpa: float) -> float:
        return _settled_mm(self.first, pressure_kpa)

    def again_mm(self, pressure_kpa: float) -> float:
        return self.left_mm + _settled_mm(self.again, pressure_kpa)

    def back_mm(self, pressure_kpa: float, largest_kpa: float) -> float:
        """Return the settlement while unloading: most of it comes back only near the end."""
        share = max(pressure_kpa, 0.0) / largest_kpa
        return self.left_mm + (self.first_mm(largest_kpa) - self.left_mm) * share**0.45

    def modulus_mpa(self, loading: int, radius_mm: float, largest_kpa: float) -> float:
        """Return the true Ev of loading 1 or 2."""
        a1, a2 = self.first if loading == 1 else self.again
        return 1.5 * radius_mm / (a1 + a2 * largest_kpa / 1000)


def an_elastic_plate_soil(
    rng: np.random.Generator, radius_mm: float = 150.0, largest_kpa: float = 500.0
) -> ElasticPlateSoil:
    """Return believable ground from soft subgrade to a good base."""
    ev1 = float(np.exp(rng.uniform(np.log(23), np.log(90))))
    ev2 = ev1 * float(rng.uniform(1.6, 2.9))
    sigma = largest_kpa / 1000
    curved = float(rng.uniform(-0.25, 0.05))

    def curve(ev: float, bend: float) -> tuple[float, float]:
        slope = 1.5 * radius_mm / ev
        return slope * (1 - bend), slope * bend / sigma

    first, again = curve(ev1, curved), curve(ev2, 0.5 * curved)
    left_mm = _left_mm(_settled_mm(first, largest_kpa), _settled_mm(again, largest_kpa))
    return ElasticPlateSoil(first, again, left_mm)


def _settled_mm(law: tuple[float, float], pressure_kpa: float) -> float:
    sigma = pressure_kpa / 1000
    return law[0] * sigma + law[1] * sigma**2


def _left_mm(settled: float, back: float) -> float:
    """Return what is left of a settlement of which so much, and a little less, comes back."""
    return max(0.05, settled - 0.97 * back)


@dataclass(frozen=True)
class YieldingPlateSoil:
    """The truth for loading to failure: two laws that meet at the yield pressure, and creep within each stage.

    ``law`` "straight" bends from one straight line in pressure and settlement to a steeper one; "power" from one
    straight line in their logarithms to a steeper one. Both branches meet exactly at ``yield_kpa``.
    """

    law: Literal["straight", "power"]
    yield_kpa: float
    stiffness_kpa_mm: float
    steeper: float
    """Slope beyond the yield over the slope before it, in the law's own axes."""
    creep_min: float
    softness: float = 0.05

    def settlement_mm(self, pressure_kpa: float) -> float:
        """Return the settlement at the end of creep."""
        x = pressure_kpa / self.yield_kpa
        at_yield = self.yield_kpa / self.stiffness_kpa_mm
        if self.law == "straight":
            beyond = self.softness * np.logaddexp(0.0, (x - 1) / self.softness)
            return float(at_yield * (x + (self.steeper - 1) * beyond))
        return float(at_yield * (x**8 + x ** (8 * self.steeper)) ** (1 / 8)) if x > 0 else 0.0

    def at(self, minutes: float, before_mm: float, pressure_kpa: float) -> float:
        """Return the settlement so many minutes into a stage that began at ``before_mm``."""
        final = self.settlement_mm(pressure_kpa)
        return before_mm + (final - before_mm) * (1 - 0.45 * float(np.exp(-np.sqrt(minutes / self.creep_min))))


def a_yielding_plate_soil(rng: np.random.Generator) -> YieldingPlateSoil:
    """Return believable ground that yields within the test."""
    law: Literal["straight", "power"] = "straight" if rng.random() < 0.5 else "power"
    return YieldingPlateSoil(
        law=law,
        yield_kpa=float(rng.uniform(180, 420)),
        stiffness_kpa_mm=float(rng.uniform(50, 110)),
        steeper=float(rng.uniform(6, 9)) if law == "straight" else float(rng.uniform(3.5, 4.5)),
        creep_min=float(rng.uniform(0.6, 2.5)),
    )

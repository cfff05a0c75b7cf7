"""A soil under a plunger whose bearing ratio and bedding error are known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class PlungerSoil:
    """The truth: stiffness in kN/mm, straight to ``straight_mm``, then bending over ``bend_mm``, after a soft bed.

    The plunger touches fully only after twice ``bedding_mm``; the straight part then meets the axis at ``bedding_mm``.
    """

    stiffness_kn_mm: float
    straight_mm: float
    bend_mm: float
    bedding_mm: float

    def force_kn(self, penetration_mm: float) -> float:
        """Return the force at a penetration: a parabola in the bed, the straight part, then a hyperbola, joined
        smoothly."""
        bed = 2 * self.bedding_mm
        if penetration_mm < bed:
            return self.stiffness_kn_mm * penetration_mm**2 / (2 * bed)
        return self.stiffness_kn_mm * self._spring(penetration_mm - self.bedding_mm)

    def ratio_percent(self, depth_mm: float, standard_kn: float) -> float:
        """Return the true bearing ratio at a depth below the moved origin."""
        return 100 * self.stiffness_kn_mm * self._spring(depth_mm) / standard_kn

    def _spring(self, depth_mm: float) -> float:
        beyond = depth_mm - self.straight_mm
        return depth_mm if beyond <= 0 else self.straight_mm + beyond / (1 + beyond / self.bend_mm)


def a_plunger_soil(rng: np.random.Generator) -> PlungerSoil:
    """Return a believable soil from soft clay to gravel; its first ratio is the larger one."""
    ratio = float(np.exp(rng.uniform(np.log(4), np.log(90))))
    straight, bend = float(rng.uniform(1.3, 1.9)), float(rng.uniform(2.0, 3.6))
    bedding = float(rng.choice([0.0, rng.uniform(0.1, 0.45)]))
    shape = PlungerSoil(1.0, straight, bend, bedding)
    return PlungerSoil(ratio / shape.ratio_percent(2.5, 13.2), straight, bend, bedding)


def linear_ring_n_div(force_kn: float) -> float:
    """Return the factor in N per division of the weakest of a set of linear rings that carries a force."""
    return next((factor for factor in (1.25, 2.5, 5.0, 12.5, 25.0, 50.0) if factor * 1600 >= 1000 * force_kn), 100.0)


def ring_for(force_kn: float) -> list[tuple[float, float]]:
    """Return the calibration of a ring that carries a force: slightly stiffer with load, as rings are."""
    capacity = 1.6 * linear_ring_n_div(1.15 * force_kn)
    divisions = np.linspace(0, 1600, 9)
    share = divisions / 1600
    return [(float(d), float(round(capacity * (s + 0.012 * s * s), 5))) for d, s in zip(divisions, share, strict=True)]


def ring_reads(force_kn: float, ring: list[tuple[float, float]]) -> float:
    """Return what the dial of a calibrated ring shows."""
    table = np.asarray(ring)
    return ring_step(float(np.interp(force_kn, table[:, 1], table[:, 0])))


def ring_step(divisions: float) -> float:
    """Return a reading to the dial's half divisions."""
    return round(divisions / 0.5) * 0.5

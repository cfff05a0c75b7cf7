"""A soil in a shear box whose friction, cohesion and dilation are known."""

from dataclasses import dataclass
from math import radians, tan

import numpy as np


@dataclass(frozen=True)
class BoxSoil:
    """The truth: friction and cohesion at the peak and at the end, where the peak comes, how fast it softens,
    dilation."""

    friction_peak_deg: float
    friction_end_deg: float
    cohesion_kpa: float
    peak_mm: float
    softening_mm: float
    dilation_deg: float

    def peak_kpa(self, normal_kpa: float) -> float:
        return self.cohesion_kpa + normal_kpa * tan(radians(self.friction_peak_deg))

    def end_kpa(self, normal_kpa: float) -> float:
        return normal_kpa * tan(radians(self.friction_end_deg))

    @property
    def friction_residual_deg(self) -> float:
        """What is left when every grain along the plane lies flat: the more the soil dilated, the further down."""
        return self.friction_end_deg - 0.6 * (self.friction_peak_deg - self.friction_end_deg)

    def again_kpa(self, number: int, travel_mm: float, normal_kpa: float) -> float:
        """Return the shear stress of a pass after the first, its end nearer to the residual one from pass to pass."""
        residual = normal_kpa * tan(radians(self.friction_residual_deg))
        level = residual + (self.end_kpa(normal_kpa) - residual) * float(np.exp(-1.6 * (number - 1)))
        return level * float(1 - np.exp(-8 * travel_mm / self.peak_mm))

    def shear_kpa(self, travel_mm: float, normal_kpa: float) -> float:
        """Return the shear stress at a travel: rising as 2x / (1 + x^2), then softening to the end's."""
        top, end = self.peak_kpa(normal_kpa), self.end_kpa(normal_kpa)
        x = travel_mm / self.peak_mm
        if x <= 1:
            return top * 2 * x / (1 + x * x)
        return end + (top - end) * float(np.exp(-(((travel_mm - self.peak_mm) / self.softening_mm) ** 2)))

    def rise_mm(self, travel_mm: float) -> float:
        """Return the vertical movement, up positive: a little down first, steepest at the peak, level at the end."""
        rate, middle, spread = tan(radians(self.dilation_deg)), self.peak_mm, 0.8 * self.softening_mm
        grown = rate * spread * (np.tanh((travel_mm - middle) / spread) + np.tanh(middle / spread))
        return float(grown - 0.05 * (1 - np.exp(-4 * travel_mm / self.peak_mm)))


def a_box_soil(rng: np.random.Generator) -> BoxSoil:
    """Return a believable sand or stiff clay."""
    end = float(rng.uniform(26, 33))
    over = float(rng.uniform(2, 8))
    return BoxSoil(
        friction_peak_deg=end + over,
        friction_end_deg=end,
        cohesion_kpa=float(rng.choice([0.0, rng.uniform(2, 12)])),
        peak_mm=float(rng.uniform(0.9, 1.8)),
        softening_mm=float(rng.uniform(1.2, 2.0)),
        dilation_deg=0.8 * over,
    )

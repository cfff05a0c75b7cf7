"""A soil whose grain sizes are known: a log-hyperbolic distribution, which bends more like soils than a log-normal."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

_GRID = np.linspace(np.log(1e-6), np.log(400.0), 4001)


@dataclass(frozen=True)
class GrainSoil:
    """The truth. In x = ln(d in mm) the density is exp(-(p+q)/2 sqrt(s^2 + (x-m)^2) + (p-q)/2 (x-m)), normed.

    ``fine_slope`` p and ``coarse_slope`` q are the slopes of the log density in the two tails, ``spread`` s rounds the
    crest at the mode m = ln(``mode_mm``). Source: Barndorff-Nielsen (1977), Proc. R. Soc. A 353, 401-419.
    """

    mode_mm: float
    fine_slope: float
    coarse_slope: float
    spread: float
    particle_density: float = 2.65
    largest_mm: float = 75.0
    smallest_mm: float = 1e-5

    @cached_property
    def _share(self) -> NDArray[np.float64]:
        off = _GRID - np.log(self.mode_mm)
        p, q = self.fine_slope, self.coarse_slope
        log_density = -(p + q) / 2 * np.sqrt(self.spread**2 + off**2) + (p - q) / 2 * off
        density = np.exp(log_density - log_density.max())
        density[(np.log(self.largest_mm) < _GRID) | (np.log(self.smallest_mm) > _GRID)] = 0.0
        total = np.concatenate([[0.0], np.cumsum((density[1:] + density[:-1]) / 2)])
        return total / total[-1]

    def finer(self, diameter_mm: float) -> float:
        """Return the percentage finer than a diameter in mm."""
        return float(100 * np.interp(np.log(max(diameter_mm, 1e-9)), _GRID, self._share))

    def diameter(self, finer_percent: float) -> float:
        """Return the diameter in mm than which this percentage is finer."""
        return float(np.exp(np.interp(finer_percent / 100, self._share, _GRID)))


def a_grain_soil(rng: np.random.Generator) -> GrainSoil:
    """Return a believable soil anywhere from clayey silt to sandy gravel."""
    return GrainSoil(
        mode_mm=float(np.exp(rng.uniform(np.log(0.01), np.log(3.0)))),
        fine_slope=float(rng.uniform(0.4, 1.1)),
        coarse_slope=float(rng.uniform(0.6, 1.4)),
        spread=float(rng.uniform(0.6, 1.6)),
        particle_density=float(rng.uniform(2.62, 2.74)),
        largest_mm=float(rng.choice([4.75, 9.5, 19.0])),
    )

"""A soil whose pH rises with lime in a known way."""

from dataclasses import dataclass
from math import exp

import numpy as np

_LIME_WATER = 12.45


@dataclass(frozen=True)
class LimingSoil:
    """The truth: pH without lime, and the percent of lime that takes its distance from lime water down to 1/e."""

    bare_ph: float
    takes_percent: float

    def ph(self, lime_percent: float | None) -> float:
        """Return the pH at 25 degrees after an hour; of lime water when there is no soil."""
        if lime_percent is None:
            return _LIME_WATER
        return _LIME_WATER - (_LIME_WATER - self.bare_ph) * exp(-lime_percent / self.takes_percent)


def a_liming_soil(rng: np.random.Generator) -> LimingSoil:
    """Return a believable clay that two to six percent of lime satisfy."""
    return LimingSoil(bare_ph=float(rng.uniform(6.5, 8.0)), takes_percent=float(rng.uniform(0.5, 1.15)))

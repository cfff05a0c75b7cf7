"""Ground whose conductivity and suction are known, under a cylinder or a hole."""

from dataclasses import dataclass
from math import pi

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# Of the front on its way; heads come out within a hundred-thousandth of a millimetre.
_STEPS = 10_000


@dataclass(frozen=True)
class ThirstyGround:
    """The truth at 20 degrees: Ks in mm/h, suction at the front in mm, degree of saturation before, deficit."""

    ks_mm_h: float
    suction_mm: float
    before: float
    deficit: float

    def fall(
        self, radius_mm: float, embedded_mm: float, start_mm: float, deficit: float, ks_mm_min: float, *, left: float
    ) -> tuple[Array, Array]:
        """Return minutes and heads of a cylinder until only the share ``left`` of the start head stands in it.

        Water goes straight down until the front stands at the foot (Green and Ampt, 1911); from there on the time is
        integrated over the front's radius, where the reduction integrates the model over the head.
        """
        from scipy.optimize import brentq

        r1, r0, length = radius_mm, radius_mm / 2, embedded_mm
        depth = np.linspace(0.0, length, 200)
        # dz/dt = Ks (H + C + z) / (z dtheta) with H = H0 - dtheta z.
        slow = depth * deficit / (ks_mm_min * (start_mm + self.suction_mm + (1 - deficit) * depth))
        inside_min = np.concatenate([[0.0], np.cumsum((slow[1:] + slow[:-1]) / 2 * np.diff(depth))])

        def head(r: Array | float) -> Array:
            capped = np.where(r >= length, 2 * r**3 + 3 * r**2 * length - length**3, 4 * r**3)
            return start_mm - deficit / 3 * (capped - 4 * r0**3) / r1**2

        def minutes_per_mm(r: Array) -> Array:
            g = pi**2 / 16 * r1**2 * np.log(r * (r0 + length) / (r0 * (r + length))) / length
            speed = ks_mm_min * (np.maximum(head(r), 0.0) + self.suction_mm + length + g) / (length + g)
            return deficit / r1**2 * np.where(r >= length, 2 * r * (r + length), 4 * r**2) / speed

        first, last = (
            float(brentq(lambda r, h=h: float(head(r)) - h, r0, 50 * r1))
            for h in (start_mm - deficit * length, left * start_mm)
        )
        front = np.linspace(first, last, _STEPS + 1)
        # Simpson's rule over each step.
        ends, middle = minutes_per_mm(front), minutes_per_mm((front[1:] + front[:-1]) / 2)
        spent = np.concatenate([[0.0], np.cumsum((ends[1:] + 4 * middle + ends[:-1]) / 6 * np.diff(front))])
        minutes = spent[-1] * np.linspace(0, 1, 600)[1:] ** 2
        return (
            np.concatenate([inside_min, inside_min[-1] + minutes]),
            np.concatenate([start_mm - deficit * depth, head(np.interp(minutes, spent, front))]),
        )


def a_thirsty_ground(rng: np.random.Generator) -> ThirstyGround:
    """Return a believable ground from clay to sand; finer ground draws harder."""
    ks_m_s = float(10 ** rng.uniform(-7, -4))
    finer = (-4 - np.log10(ks_m_s)) / 3
    return ThirstyGround(
        ks_mm_h=ks_m_s * 3.6e6,
        suction_mm=float(np.exp(rng.uniform(np.log(40), np.log(90)) + finer * np.log(5))),
        before=float(rng.uniform(0.1, 0.5)),
        deficit=float(rng.uniform(0.12, 0.22)),
    )

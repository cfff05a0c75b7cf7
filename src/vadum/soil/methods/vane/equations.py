"""Strength from a vane."""

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

MU_BOUNDS = (0.6, 1.1)


def vane_constant_m3(diameter_mm: float, height_mm: float) -> float:
    """Return K = pi D^2 (H/2 + D/6) of a rectangular vane in m3, so that su = T / K.

    Source: ASTM D2573 (2018), equation 1; ISO 22476-9.
    """
    d, h = diameter_mm / 1000, height_mm / 1000
    return math.pi * d**2 * (h / 2 + d / 6)


@published("strength, torque", "su = T / K, K = π D² (H/2 + D/6)", "ASTM D2573 eq. 1")
def strength_from_torque_kpa(torque_nm: ArrayLike, diameter_mm: float, height_mm: float) -> NDArray[np.float64]:
    """Return su = T / K in kPa from a torque in N m with the rods' friction already taken off.

    >>> round(float(strength_from_torque_kpa(10.0, 50, 100)), 1)  # K = π 0.05² (0.05 + 0.05/6)
    21.8
    """
    return np.asarray(torque_nm, dtype=float) / vane_constant_m3(diameter_mm, height_mm) / 1000


@published("strength, balance", "su = (reading − rods) / constant of the vane", "calibration of the instrument")
def strength_from_balance_kpa(reading: ArrayLike, constant: float) -> NDArray[np.float64]:
    """Return su in kPa from a spring balance: its reading over the vane's constant, readings per kPa.

    >>> float(strength_from_balance_kpa(30.0, 1.5))
    20.0
    """
    return np.asarray(reading, dtype=float) / constant


@published("correction", "μ = 1.18 e^(−0.08 PI) + 0.57, PI above 5", "Morris and Williams (1994)")
def failures_correction(plasticity_index: float) -> float:
    """Return mu = 1.18 exp(-0.08 PI) + 0.57, from failures of embankments, bounded to 0.6-1.1.

    Source: Morris and Williams (1994), Canadian Geotechnical Journal 31, 137-143, equation by PI.

    >>> round(failures_correction(50), 2)
    0.6
    """
    return min(MU_BOUNDS[1], max(MU_BOUNDS[0], 1.18 * math.exp(-0.08 * plasticity_index) + 0.57))


@published("correction", "μ = 1.7 − 0.54 log10 PI, bounded 0.6 to 1.1", "Bjerrum (1972)")
def plasticity_correction(plasticity_index: float) -> float:
    """Return mu = 1.7 - 0.54 log10 PI, bounded to 0.6-1.1, by which a vane's strength is multiplied.

    Source: Bjerrum (1972), as an equation in ASTM D2573 appendix.

    >>> round(plasticity_correction(50), 2)
    0.78
    """
    if plasticity_index <= 0:
        return MU_BOUNDS[1]
    return min(MU_BOUNDS[1], max(MU_BOUNDS[0], 1.7 - 0.54 * math.log10(plasticity_index)))

"""Strength from a vane."""

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

MU_BOUNDS = (0.6, 1.1)


def vane_constant_m3(diameter_mm: float, height_mm: float, top_deg: float = 0.0, bottom_deg: float = 0.0) -> float:
    """Return K = pi D^2 (D / cos it + D / cos ib + 6 H) / 12 of a vane in m3, so that su = T / K.

    Arguments
    ---------
    diameter_mm, height_mm : of the blades; the height is that of their straight part
    top_deg, bottom_deg : taper of the blades' ends from the horizontal, 0 for a rectangular vane

    Source: ASTM D2573 (2018), equations 1 and 2; ISO 22476-9. Rectangular: pi D^2 (H/2 + D/6).

    >>> round(vane_constant_m3(50, 100, 45, 45) / vane_constant_m3(50, 100), 4)  # (6 + √2) / (6 + 1), of D and H = 2 D
    1.0592
    """
    d, h = diameter_mm / 1000, height_mm / 1000
    ends = d / math.cos(math.radians(top_deg)) + d / math.cos(math.radians(bottom_deg))
    return math.pi * d**2 * (ends + 6 * h) / 12


@published("strength, torque", "su = T / K, K = π D² (D/cos it + D/cos ib + 6 H) / 12", "ASTM D2573 eq. 1 and 2")
def strength_from_torque_kpa(
    torque_nm: ArrayLike, diameter_mm: float, height_mm: float, top_deg: float = 0.0, bottom_deg: float = 0.0
) -> NDArray[np.float64]:
    """Return su = T / K in kPa from a torque in N m with the rods' friction already taken off.

    >>> round(float(strength_from_torque_kpa(10.0, 50, 100)), 1)  # K = π 0.05² (0.05 + 0.05/6)
    21.8
    """
    return np.asarray(torque_nm, dtype=float) / vane_constant_m3(diameter_mm, height_mm, top_deg, bottom_deg) / 1000


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

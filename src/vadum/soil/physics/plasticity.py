"""Published relations of the plasticity chart and the indices."""

import numpy as np
from numpy.typing import ArrayLike, NDArray


def plasticity_index(liquid_limit: float, plastic_limit: float) -> float:
    """Return PI = LL - PL, both as reported, in percent. Source: ASTM D4318 (2017), clause 20."""
    return liquid_limit - plastic_limit


def a_line(liquid_limit: ArrayLike) -> NDArray[np.float64]:
    """Return the plasticity index on the A-line.

    Arguments
    ---------
    liquid_limit : shape (n,), percent

    Returns
    -------
    shape (n,), percent: 4 up to LL 25.5, then 0.73 (LL - 20).

    Source: ASTM D2487 (2017), figure 3.
    """
    return np.maximum(4.0, 0.73 * (np.asarray(liquid_limit, dtype=float) - 20.0))


def u_line(liquid_limit: ArrayLike) -> NDArray[np.float64]:
    """Return the plasticity index on the U-line, 0.9 (LL - 8), the approximate upper limit of natural soils.

    Source: ASTM D2487 (2017), figure 3; it starts at LL = 16.
    """
    return 0.9 * (np.asarray(liquid_limit, dtype=float) - 8.0)


def liquidity_index(water_content: float, plastic_limit: float, index: float) -> float:
    """Return LI = (w - PL) / PI, plain number; w, PL and PI in percent. Source: ASTM D4318 (2017), clause 21."""
    return (water_content - plastic_limit) / index


def consistency_index(water_content: float, liquid_limit: float, index: float) -> float:
    """Return IC = (LL - w) / PI, plain number; w, LL and PI in percent. Source: ISO 17892-12 (2018)."""
    return (liquid_limit - water_content) / index


def activity(index: float, clay_percent: float) -> float:
    """Return A = PI / share finer than 2 um, plain number; both in percent. Source: Skempton (1953)."""
    return index / clay_percent

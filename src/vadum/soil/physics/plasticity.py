"""Published relations of the plasticity chart and the indices."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published


@published("plasticity index", "PI = LL − PL, both as reported", "ASTM D4318 clause 20")
def plasticity_index(liquid_limit: float, plastic_limit: float) -> float:
    """Return PI = LL - PL, both as reported, in percent. Source: ASTM D4318 (2017), clause 20.

    >>> plasticity_index(62.0, 24.0)
    38.0
    """
    return liquid_limit - plastic_limit


@published("A-line", "PI = 0.73 (LL − 20), not below 4", "ASTM D2487 figure 3")
def a_line(liquid_limit: ArrayLike) -> NDArray[np.float64]:
    """Return the plasticity index on the A-line.

    Arguments
    ---------
    liquid_limit : shape (n,), percent

    Returns
    -------
    shape (n,), percent: 4 up to LL 25.5, then 0.73 (LL - 20).

    Source: ASTM D2487 (2017), figure 3.

    >>> a_line(62.0).round(2).item()
    30.66
    """
    return np.maximum(4.0, 0.73 * (np.asarray(liquid_limit, dtype=float) - 20.0))


@published("U-line", "PI = 0.9 (LL − 8)", "ASTM D2487 figure 3")
def u_line(liquid_limit: ArrayLike) -> NDArray[np.float64]:
    """Return the plasticity index on the U-line, 0.9 (LL - 8), the approximate upper limit of natural soils.

    Source: ASTM D2487 (2017), figure 3; it starts at LL = 16.

    >>> u_line(62.0).round(1).item()
    48.6
    """
    return 0.9 * (np.asarray(liquid_limit, dtype=float) - 8.0)


@published(
    "water of the fine part", "w / (1 − R/100), R retained on 0.425 mm and holding no water", "BS 1377-2 clause 4.2"
)
def water_of_fine_part(water_content: float, retained_percent: float) -> float:
    """Return the water content of what passes 0.425 mm, percent, when what is retained holds none.

    Arguments
    ---------
    water_content : of the whole sample, percent
    retained_percent : share of the dry sample retained on 0.425 mm, percent, below 100

    >>> round(water_of_fine_part(18.0, 40.0), 6)
    30.0
    """
    return water_content / (1.0 - retained_percent / 100.0)


@published("liquidity index", "LI = (w − PL) / PI", "ASTM D4318 clause 21")
def liquidity_index(water_content: float, plastic_limit: float, index: float) -> float:
    """Return LI = (w - PL) / PI, plain number; w, PL and PI in percent. Source: ASTM D4318 (2017), clause 21.

    >>> liquidity_index(33.5, 24.0, 38.0)
    0.25
    """
    return (water_content - plastic_limit) / index


@published("consistency index", "IC = (LL − w) / PI", "ISO 17892-12")
def consistency_index(water_content: float, liquid_limit: float, index: float) -> float:
    """Return IC = (LL - w) / PI, plain number; w, LL and PI in percent. Source: ISO 17892-12 (2018).

    >>> consistency_index(33.5, 62.0, 38.0)
    0.75
    """
    return (liquid_limit - water_content) / index


@published("activity", "A = PI / % finer 2 µm", "Skempton (1953)")
def activity(index: float, clay_percent: float) -> float:
    """Return A = PI / share finer than 2 um, plain number; both in percent. Source: Skempton (1953).

    >>> activity(38.0, 40.0)
    0.95
    """
    return index / clay_percent

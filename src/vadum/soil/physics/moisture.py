"""Water by dry mass: the definition, and the masses that follow from it."""

from typing import TypeVar

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

Masses = TypeVar("Masses", float, NDArray[np.float64])


@published("water content", "w = 100 (Mwet − Mdry) / (Mdry − Mtin)", "ASTM D2216 clause 12")
def water_content_percent(mass_wet_g: Masses, mass_dry_g: Masses, mass_tin_g: Masses) -> Masses:
    """Return the water content by dry mass, w = 100 (Mwet - Mdry) / (Mdry - Mtin).

    Arguments
    ---------
    mass_wet_g, mass_dry_g : numbers or shape (n,), g; tin with moist soil and with dry soil
    mass_tin_g : number or shape (n,), g; the empty tin, lighter than the tin with dry soil

    Returns
    -------
    number or shape (n,), percent.

    Raises
    ------
    ZeroDivisionError
        For a number where there is no dry soil.

    Source: ASTM D2216 (2019), clause 12.1; ISO 17892-1 (2014), clause 6.

    >>> round(water_content_percent(38.62, 31.94, 17.40), 2)
    45.94
    """
    return 100.0 * (mass_wet_g - mass_dry_g) / (mass_dry_g - mass_tin_g)


@published(
    "constant mass", "Δ = 100 (Mbefore − Mafter) / (Mwet − Mtin) ≤ 0.1 %", "ASTM D4643 clause 11, D4959 clause 10"
)
def mass_change_percent(
    mass_before_g: ArrayLike, mass_after_g: ArrayLike, wet_soil_g: ArrayLike
) -> NDArray[np.float64]:
    """Return the change between two dry weighings in percent of the initial wet mass of soil.

    Arguments
    ---------
    mass_before_g, mass_after_g, wet_soil_g : shape (n,), g

    Returns
    -------
    shape (n,), percent; positive while the soil still loses water.

    Source: ASTM D4643 (2017), clause 11; ASTM D4959 (2016), clause 10.

    >>> round(float(mass_change_percent(100.0, 99.95, 50.0)), 3)
    0.1
    """
    before, after = np.asarray(mass_before_g, dtype=float), np.asarray(mass_after_g, dtype=float)
    return 100.0 * (before - after) / np.asarray(wet_soil_g, dtype=float)


def moist_mass_g(mass_dry_g: float, water_content_percent: float) -> float:
    """Return Md (1 + w), g; w in percent. Source: the definition of water content, ASTM D2216.

    >>> moist_mass_g(100.0, 18.0)
    118.0
    """
    return mass_dry_g * (1.0 + water_content_percent / 100.0)


@published("water to add", "Md (w target − w now)", "ASTM D2216, definition")
def water_to_add_g(mass_dry_g: float, w_target_percent: float, w_now_percent: float) -> float:
    """Return Md (w_target - w_now), g; water contents in percent. Source: the definition of water content, ASTM D2216.

    >>> water_to_add_g(500.0, 14.0, 10.0)
    20.0
    """
    return mass_dry_g * (w_target_percent - w_now_percent) / 100.0

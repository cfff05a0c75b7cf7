"""The water pycnometer."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.phases import WATER
from vadum.soil.physics.published import published
from vadum.soil.physics.water import water_density


@published("Gs at 20 °C", "Gs = ρw(T)/ρw(20) × Ms / (Ms + Me + V ρw(T) − Msw)", "ASTM D854 clauses 11, 12")
def specific_gravity(
    mass_dry_g: ArrayLike,
    mass_empty_g: ArrayLike,
    mass_water_g: ArrayLike,
    water_c: ArrayLike,
    mass_soil_water_g: ArrayLike,
    soil_c: ArrayLike,
) -> NDArray[np.float64]:
    """Return Gs at 20 degrees from a water pycnometer.

    Arguments
    ---------
    mass_dry_g : shape (n,), oven-dry soil
    mass_empty_g, mass_water_g, mass_soil_water_g : shape (n,), g; the flask empty, with water, with soil and water
    water_c, soil_c : shape (n,), degrees Celsius, of the last two

    Returns
    -------
    shape (n,), plain number; nan where the soil displaces no water.

    Source: ASTM D854 (2014), clauses 11 and 12: the mass of flask and water is carried to the soil's temperature by
    the volume of the flask, and the ratio to 20 degrees by the density of water.

    >>> round(float(specific_gravity(50, 150, 647.9, 20, 679.032, 20)), 3)  # 50 g displace 18.868 g
    2.65
    """
    dry, empty, full, both = (
        np.asarray(m, dtype=float) for m in (mass_dry_g, mass_empty_g, mass_water_g, mass_soil_water_g)
    )
    volume = (full - empty) / water_density(water_c)
    at_soil = empty + volume * water_density(soil_c)
    displaced = dry + at_soil - both
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(displaced > 0, dry / displaced * water_density(soil_c) / WATER, np.nan)

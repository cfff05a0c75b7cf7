"""Constant mass and the least specimen."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

# Largest particle in mm -> least moist specimen in g, for reporting to 0.1 % and to 1 %. ASTM D2216 (2019), table 1.
LEAST_SPECIMEN_G: tuple[tuple[float, float, float], ...] = (
    (2.0, 20.0, 20.0),
    (4.75, 100.0, 20.0),
    (9.5, 500.0, 50.0),
    (19.0, 2500.0, 250.0),
    (37.5, 10000.0, 1000.0),
    (75.0, 50000.0, 5000.0),
)


@published("least specimen", "table by largest particle, 20 g to 50 kg", "ASTM D2216 table 1")
def least_specimen_g(largest_particle_mm: float, to_tenth: bool) -> float:
    """Return the least moist specimen in g for a largest particle in mm.

    Arguments
    ---------
    largest_particle_mm : mm; above 75 mm the row of 75 mm serves as a lower bound
    to_tenth : report to 0.1 % (method B) instead of 1 % (method A)

    Source: ASTM D2216 (2019), table 1.

    >>> least_specimen_g(4.75, True), least_specimen_g(4.75, False)
    (100.0, 20.0)
    """
    for size, tenth, whole in LEAST_SPECIMEN_G:
        if largest_particle_mm <= size:
            return tenth if to_tenth else whole
    return LEAST_SPECIMEN_G[-1][1 if to_tenth else 2]


@published(
    "constant mass", "Δ = 100 (Mbefore − Mafter) / (Mwet − Mtin) ≤ 0.1 %", "ASTM D4643 clause 11, D4959 clause 10"
)
def change_percent(mass_before_g: ArrayLike, mass_after_g: ArrayLike, wet_soil_g: ArrayLike) -> NDArray[np.float64]:
    """Return the change between two dry weighings in percent of the initial wet mass of soil.

    Arguments
    ---------
    mass_before_g, mass_after_g, wet_soil_g : shape (n,), g

    Returns
    -------
    shape (n,), percent; positive while the soil still loses water.

    Source: ASTM D4643 (2017), clause 11; ASTM D4959 (2016), clause 10.

    >>> round(float(change_percent(100.0, 99.95, 50.0)), 3)
    0.1
    """
    before, after = np.asarray(mass_before_g, dtype=float), np.asarray(mass_after_g, dtype=float)
    return 100.0 * (before - after) / np.asarray(wet_soil_g, dtype=float)

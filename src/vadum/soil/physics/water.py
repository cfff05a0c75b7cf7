"""Water: density and viscosity against temperature."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

GRAVITY_CM_S2 = 980.665
REFERENCE_C = 20.0


@published("density of water", "quotient of polynomials in T", "Kell (1975)")
def water_density(temperature_c: ArrayLike) -> NDArray[np.float64]:
    """Return the density of air-free water.

    Arguments
    ---------
    temperature_c : shape (n,), degrees Celsius, 0 to 100

    Returns
    -------
    shape (n,), g/cm3; 0.99820 at 20 degrees.

    Source: Kell (1975), J. Chem. Eng. Data 20(1), 97-105, at one atmosphere.

    >>> water_density(20.0).round(5).item()
    0.9982
    """
    t = np.asarray(temperature_c, dtype=float)
    top = 999.83952 + t * (
        16.945176 + t * (-7.9870401e-3 + t * (-46.170461e-6 + t * (105.56302e-9 - 280.54253e-12 * t)))
    )
    return top / (1 + 16.879850e-3 * t) / 1000.0


@published(
    "viscosity of water",
    "log10(η/η20) = (20−T)/(T+96) (1.2364 − 0.00137 (20−T) + 5.7e−6 (20−T)²)",
    "Kestin et al. (1978)",
)
def water_viscosity(temperature_c: ArrayLike) -> NDArray[np.float64]:
    """Return the dynamic viscosity of water.

    Arguments
    ---------
    temperature_c : shape (n,), degrees Celsius, 0 to 100

    Returns
    -------
    shape (n,), mPa s; 1.002 at 20 degrees.

    Source: Kestin, Sokolov and Wakeham (1978), J. Phys. Chem. Ref. Data 7(3), 941-948: log10 of the ratio to 20 °C.

    >>> water_viscosity(25.0).round(4).item()
    0.8902
    """
    below = REFERENCE_C - np.asarray(temperature_c, dtype=float)
    exponent = below / (REFERENCE_C - below + 96.0) * (1.2364 - 1.37e-3 * below + 5.7e-6 * below**2)
    return 1.002 * 10.0**exponent

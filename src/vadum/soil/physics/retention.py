"""Water held against suction: two curves fitted to measured points, with standard errors and what they say of a soil.

Suction in kPa, water content by volume as a share.
"""

from collections.abc import Callable
from dataclasses import dataclass
from math import log

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.choice import Choice
from vadum.soil.numbers.bounded import Bounds, least_squares
from vadum.soil.numbers.remembered import remembered
from vadum.soil.physics.published import published


class Device(Choice):
    """What suction is read on."""

    WATER = "water-column", "cm water", "water column"
    MERCURY = "mercury-column", "cm mercury", "mercury column"
    GAUGE = "gauge", "bar"
    KILOPASCAL = "kilopascal", "kPa"


class Curve(Choice):
    """A relation of water content to suction."""

    VAN_GENUCHTEN = "van-genuchten", "van Genuchten"
    BROOKS_COREY = "brooks-corey", "Brooks-Corey"


Array = NDArray[np.float64]
WILTING_KPA = 1500.0

# A column of 1 cm of water at 4 degrees, and of mercury at 0 degrees, in kPa.
_KPA = {Device.WATER: 0.0980665, Device.MERCURY: 1.3332239, Device.GAUGE: 100.0, Device.KILOPASCAL: 1.0}
_NAMES = {Curve.VAN_GENUCHTEN: ("θr", "θs", "α", "n"), Curve.BROOKS_COREY: ("θr", "θs", "ψb", "λ")}
_AT_BOUND = 0.005
# A fit this close, in theta, needs no second start.
_CLOSE = 0.012


@published("columns", "1 cm of water 0.0981 kPa, 1 cm of mercury 1.3332 kPa, 1 bar 100 kPa", "ISO 80000-4")
def suction_kpa(read: float, device: Device) -> float:
    """Return a suction read on a device: cm of column, or bar or kPa on a gauge.

    >>> round(suction_kpa(100, Device.WATER), 5)
    9.80665
    """
    return read * _KPA[device]


@published("van Genuchten", "θ = θr + (θs − θr) [1 + (αψ)^n]^−(1 − 1/n)", "van Genuchten (1980), Mualem's m")
def van_genuchten(psi: ArrayLike, r: float, s: float, alpha: float, n: float) -> Array:
    """Return theta = r + (s - r) [1 + (alpha psi)^n]^-(1 - 1/n).

    Arguments
    ---------
    psi : shape (n,), kPa
    alpha : 1/kPa

    Source: van Genuchten (1980), Soil Sci. Soc. Am. J. 44, with m = 1 - 1/n (Mualem).

    >>> [round(float(theta), 4) for theta in van_genuchten([0, 10], 0.05, 0.45, 0.1, 2)]
    [0.45, 0.3328]
    """
    return r + (s - r) * (1 + (alpha * np.asarray(psi, dtype=float)) ** n) ** -(1 - 1 / n)


@published("Brooks-Corey", "θ = θr + (θs − θr) (ψb/ψ)^λ beyond ψb", "Brooks and Corey (1964)")
def brooks_corey(psi: ArrayLike, r: float, s: float, entry_kpa: float, slope: float) -> Array:
    """Return theta = r + (s - r) (psi_b / psi)^lambda beyond the entry value, s up to it. Source: Brooks and Corey
    (1964).

    >>> [round(float(theta), 4) for theta in brooks_corey([5, 20], 0.05, 0.45, 10, 1)]
    [0.45, 0.25]
    """
    x = np.asarray(psi, dtype=float)
    return r + (s - r) * np.where(x > entry_kpa, (entry_kpa / np.maximum(x, entry_kpa)) ** slope, 1.0)


def _van_genuchten_slopes(psi: Array, r: float, s: float, alpha: float, n: float) -> Array:
    """Return the derivatives of theta by r, s, ln alpha and n, shape (n, 4)."""
    scaled = np.maximum(alpha * psi, 1e-300)
    u, m = scaled**n, 1 - 1 / n
    held = (1 + u) ** -m
    by_alpha = -(s - r) * m * held * n * u / (1 + u)
    by_n = -(s - r) * held * (np.log1p(u) / n**2 + m * u * np.log(scaled) / (1 + u))
    return np.column_stack([1 - held, held, by_alpha, by_n])


def _brooks_corey_slopes(psi: Array, r: float, s: float, entry_kpa: float, slope: float) -> Array:
    """Return the derivatives of theta by r, s, the logarithm of the entry value and lambda, shape (n, 4)."""
    ratio = entry_kpa / np.maximum(psi, entry_kpa)
    held = ratio**slope
    beyond = psi > entry_kpa
    by_entry = np.where(beyond, (s - r) * held * slope, 0.0)
    return np.column_stack([1 - held, held, by_entry, (s - r) * held * np.log(ratio)])


@dataclass(frozen=True)
class Retention:
    """A fitted curve: its name, parameters in their order, standard errors (None at a bound), misfit, Akaike's
    value, and by how many the points outnumber what was fitted."""

    name: Curve
    values: tuple[float, ...]
    errors: tuple[float | None, ...]
    misfit: float
    aic: float
    curve: Callable[..., Array]
    freedom: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return _NAMES[self.name]

    def at(self, psi_kpa: ArrayLike) -> Array:
        return self.curve(psi_kpa, *self.values)


@remembered
def fit_retention(psi_kpa: ArrayLike, theta: ArrayLike, name: Curve) -> Retention | None:
    """Fit a curve by least squares in theta, parameters within their bounds.

    Arguments
    ---------
    psi_kpa, theta : shape (n,), n at least 5, with the saturated state at a suction of about nothing

    Returns
    -------
    None with fewer points than that. A parameter at its bound has no standard error: it is undetermined.
    """
    x, y = np.asarray(psi_kpa, dtype=float), np.asarray(theta, dtype=float)
    if len(x) < 5 or np.ptp(y) <= 0:
        return None
    curve = van_genuchten if name == Curve.VAN_GENUCHTEN else brooks_corey
    top = float(y.max())
    # alpha and the entry value are fitted by their logarithms: they run over decades.
    low = np.array([0.0, 0.5 * top, log(1e-4), 1.01] if curve is van_genuchten else [0.0, 0.5 * top, log(0.05), 0.02])
    high = np.array(
        [max(float(y.min()), 1e-6), min(1.0, 1.3 * top), log(20.0), 12.0]
        if curve is van_genuchten
        else [max(float(y.min()), 1e-6), min(1.0, 1.3 * top), log(1000.0), 8.0]
    )

    def off(p: Array) -> Array:
        return curve(x, float(p[0]), float(p[1]), float(np.exp(p[2])), float(p[3])) - y

    slopes = _van_genuchten_slopes if curve is van_genuchten else _brooks_corey_slopes

    def by(p: Array) -> Array:
        return slopes(x, float(p[0]), float(p[1]), float(np.exp(p[2])), float(p[3]))

    half = float(np.interp(-(top + y.min()) / 2, -y, np.maximum(x, 0.05)))
    starts = [
        (0.4 * y.min(), top, log(1 / half) if curve is van_genuchten else log(half / 3), shape)
        for shape in ((1.3, 2.5) if curve is van_genuchten else (0.3, 1.5))
    ]
    # The better start first; the other one only where the curve does not come near the points.
    bounds, best, ssr = Bounds(low, high), np.empty(0), np.inf
    for start in sorted((np.clip(start, low, high) for start in starts), key=lambda p: float((off(p) ** 2).sum())):
        found, misfit = least_squares(off, by, start, bounds)
        if misfit < ssr:
            best, ssr = found, misfit
        if ssr / len(x) < _CLOSE**2:
            break
    n, k = len(x), 4
    inside = ((best - low) / (high - low) > _AT_BOUND) & ((high - best) / (high - low) > _AT_BOUND)
    values = (float(best[0]), float(best[1]), float(np.exp(best[2])), float(best[3]))
    return Retention(
        name=name,
        values=values,
        errors=_errors(by(best), inside, ssr / max(n - int(inside.sum()), 1), values[2]),
        misfit=float(np.sqrt(ssr / max(n - k, 1))),
        aic=n * log(max(ssr, 1e-18) / n) + 2 * (k + 1),
        curve=curve,
        freedom=n - int(inside.sum()),
    )


def _errors(jacobian: Array, inside: NDArray[np.bool_], variance: float, scaled: float) -> tuple[float | None, ...]:
    """Return the standard error of each parameter that is not at a bound; the third was fitted by its logarithm."""
    free = np.flatnonzero(inside)
    found: list[float | None] = [None] * len(inside)
    if len(free):
        spread = np.sqrt(np.diag(np.linalg.pinv(jacobian[:, free].T @ jacobian[:, free])) * variance)
        for i, error in zip(free, spread, strict=True):
            found[int(i)] = float(error) * (scaled if i == 2 else 1.0)
    return tuple(found)


@published("water", "θ = (M − M apparatus − M ring − M dry) / (ρw V)", "ISO 11274")
def water_by_volume(
    mass_g: float, apparatus_g: float, ring_g: float, dry_g: float, volume_cm3: float, density: float = 0.998
) -> float:
    """Return theta = (M - M apparatus - M ring - M dry) / (rho_w V). Source: ISO 11274 (2019), ASTM D6836.

    >>> round(water_by_volume(250, 50, 60, 100, 100, density=1.0), 3)
    0.4
    """
    return (mass_g - apparatus_g - ring_g - dry_g) / (density * volume_cm3)

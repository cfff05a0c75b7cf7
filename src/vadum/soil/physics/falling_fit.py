"""Conductivity and suction from heads and times: least squares in the head, bands from the profile of the misfit."""

from dataclasses import dataclass
from functools import lru_cache
from math import exp, log, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.falling_head import Cylinder
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
SUCTION_BOUNDS_MM = (5.0, 2500.0)
_KS_BOUNDS = (log(1e-6), log(600.0))
_USUAL_SUCTION_MM = 150.0
_PROFILE = 21
# A band of the suction narrower than this, in its logarithm, is an ellipse's.
_NARROW = 0.7
_EDGE = 1.02
# Gauss-Newton along the valley: at most so many steps, none longer in ln Ks, until the longest is as short as this.
_STEPS, _STRIDE, _STILL = 6, 0.7, 1e-4


class Record(NamedTuple):
    """The readings that count: minutes and heads in mm."""

    cylinder: Cylinder
    minutes: Array
    head_mm: Array


@dataclass(frozen=True)
class Fitted:
    """Ks in mm/min and suction in mm with their bands of 95 %, the misfit in mm, and which readings were used."""

    ks_mm_min: float
    ks_band: tuple[float, float]
    suction_mm: float
    suction_band: tuple[float, float]
    suction_known: bool
    misfit_mm: float
    used: NDArray[np.bool_]
    residuals_mm: Array

    @property
    def standard_error(self) -> float:
        """Return one standard error of ln Ks, from the band."""
        return log(self.ks_band[1] / self.ks_band[0]) / 4


@published(
    "fit",
    "Ks and C by least squares in H over readings with R ≥ √(r1² + L²); band of 95 % by the profile of the misfit",
    "Seber and Wild (1989), ch. 5",
)
def fit_falling_head(
    cylinder: Cylinder, minutes: ArrayLike, head_mm: ArrayLike, resolution_mm: float = 1.0
) -> Fitted | None:
    """Fit conductivity and suction to a record.

    Arguments
    ---------
    minutes, head_mm : shape (n,), time rising from the start at the cylinder's first head
    resolution_mm : step of the level readings; the misfit never counts as smaller than what it makes

    Returns
    -------
    None with fewer than four readings. Only readings with the front outside the cylinder count, where there are at
    least four; all of them otherwise, which ``used`` tells.

    The band of Ks is where the misfit, with the best suction for it, stays within Fisher's limit: with a suction that
    the record does not determine the usual standard error would be too small. Source: Seber and Wild (1989), ch. 5.

    >>> cylinder = Cylinder(radius_mm=50, embedded_mm=50, start_mm=450, deficit=0.2)
    >>> minutes = np.arange(0, 60, 2.0)
    >>> round(fit_falling_head(cylinder, minutes, cylinder.head_at(minutes, 1.5, 100.0)).ks_mm_min, 2)
    1.5
    """
    # Imported here: it takes a second that other methods need not wait for.
    from scipy.optimize import leastsq
    from scipy.special import fdtri

    t, h = np.asarray(minutes, dtype=float), np.asarray(head_mm, dtype=float)
    outside = (h <= cylinder.clear_head_mm + 1e-9) & (h > 0)
    used = outside if outside.sum() >= 4 else (t > 0) & (h > 0)
    if used.sum() < 4:
        return None
    at, read = t[used], h[used]

    record = Record(cylinder, at, read)
    edges = np.log(SUCTION_BOUNDS_MM)
    least, most = np.array([_KS_BOUNDS[0], edges[0]]), np.array([_KS_BOUNDS[1], edges[1]])

    @lru_cache(maxsize=2)  # misfit and slopes are asked for at the same place
    def there(k: float, c: float) -> tuple[Array, Array, Array]:
        return cylinder.sensitivity(at, exp(k), exp(c))

    def off(p: Array) -> Array:
        return there(*np.clip(p, least, most))[0] - read

    def slopes(p: Array) -> Array:
        inside = np.clip(p, least, most)
        return np.column_stack(there(*inside)[1:]) * (p == inside)

    start = [_start(cylinder, at, read, _USUAL_SUCTION_MM), log(_USUAL_SUCTION_MM)]
    best = np.clip(leastsq(off, start, Dfun=slopes, xtol=1e-8, maxfev=60)[0], least, most)
    if best[1] in edges:
        # The record asks for more suction than there is, or less than none: Ks alone is fitted with it.
        best[0] = _valley(record, best[1:], float(best[0]), np.inf)[0][0]
    n = len(at)
    floor = resolution_mm / sqrt(12)
    ssr = float((off(best) ** 2).sum())
    scatter = max(ssr / (n - 2) if n > 2 else 0.0, floor**2)
    # Rounded readings of a slow fall err together, a run of equal ones counts once.
    independent = max(3, 1 + int((np.diff(read) != 0).sum()))
    allowed = ssr + scatter * max(1.0, n / independent) * float(fdtri(1, max(independent - 2, 1), 0.95))
    ks_band, suction_band = _bands(record, best, slopes(best), ssr, allowed, (edges[0], edges[1]))
    inside = (SUCTION_BOUNDS_MM[0] * _EDGE, SUCTION_BOUNDS_MM[1] / _EDGE)
    return Fitted(
        ks_mm_min=exp(best[0]),
        ks_band=ks_band,
        suction_mm=exp(best[1]),
        suction_band=suction_band,
        suction_known=inside[0] < suction_band[0] and suction_band[1] < inside[1],
        misfit_mm=sqrt(scatter),
        used=used,
        residuals_mm=h - cylinder.head_at(t, exp(best[0]), exp(best[1])),
    )


def _start(cylinder: Cylinder, at: Array, read: Array, suction_mm: float) -> float:
    """Return ln Ks that meets the last reading with a suction."""
    path = cylinder.path(suction_mm)
    reach = float(np.interp(-read[-1], -cylinder.heads, path))
    return float(np.clip(log(max(reach, 1e-6) / max(float(at[-1]), 1e-6)), *_KS_BOUNDS))


def _bands(
    record: Record, best: Array, jacobian: Array, ssr: float, allowed: float, bounds: tuple[float, float]
) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return the bands of Ks and suction: as an ellipse around the best, and along the valley of the misfit."""
    (ks_width, suction_width), k = _ellipse(jacobian, allowed - ssr), float(best[0])
    ks, suctions = [k - ks_width, k + ks_width], [float(best[1])]
    if suction_width < _NARROW:
        suctions += [suctions[0] - suction_width, suctions[0] + suction_width]
    else:
        across = np.linspace(*bounds, _PROFILE)
        found, widths, misfits = _valley(record, across, k, allowed)
        inside = misfits <= allowed
        ks += [*(found - widths)[inside], *(found + widths)[inside]]
        suctions += list(across[inside])
    low, high = (min(max(edge, _KS_BOUNDS[0]), _KS_BOUNDS[1]) for edge in (min(ks), max(ks)))
    return (exp(low), exp(high)), (exp(max(min(suctions), bounds[0])), exp(min(max(suctions), bounds[1])))


def _ellipse(jacobian: Array, room: float) -> tuple[float, float]:
    """Return half the width of each parameter's band when the misfit is a parabola."""
    squares = jacobian.T @ jacobian
    if np.linalg.cond(squares) > 1e12:
        return 0.0, float("inf")
    spread = np.diag(np.linalg.inv(squares)) * max(room, 0.0)
    return float(np.sqrt(spread[0])), float(np.sqrt(spread[1]))


def _valley(record: Record, across: Array, k: float, allowed: float) -> tuple[Array, Array, Array]:
    """Return for each ln suction the ln Ks that fits best, how far it may move within the limit, and the misfit.

    Gauss-Newton in ln Ks for all suctions at once.
    """
    suctions = np.exp(across)
    ks = np.full(len(across), k)
    for _ in range(_STEPS + 1):
        reach = np.exp(ks)[:, None] * record.minutes
        heads, falling = record.cylinder.heads_at(reach, suctions)
        off, slope = heads - record.head_mm, falling * reach
        curved = np.maximum((slope**2).sum(axis=1), 1e-300)
        step = np.clip(-(slope * off).sum(axis=1) / curved, -_STRIDE, _STRIDE)
        if np.abs(step).max() < _STILL:
            break
        ks = np.clip(ks + step, *_KS_BOUNDS)
    misfits = (off**2).sum(axis=1)
    return ks, np.sqrt(np.maximum(allowed - misfits, 0.0) / curved), misfits

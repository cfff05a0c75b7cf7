"""Conductivity, suction and the start of the flow around the foot from heads and times: least squares in the head,
bands from the profile of the misfit."""

from dataclasses import dataclass
from functools import lru_cache
from math import exp, hypot, log, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.remembered import remembered
from vadum.soil.physics.falling_head import Cylinder
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
SUCTION_BOUNDS_MM = (5.0, 2500.0)
_KS_BOUNDS = (log(1e-6), log(600.0))
_USUAL_SUCTION_MM = 150.0
_PROFILE = 17
_EDGE = 1.02
# How far the model itself may be off in ln Ks, at 95 %: against Richards' equation in five loams it was -2.2 to 2.7 %
# off (tests/soil/test_richards.py).
_MODEL = 0.03
# What is fitted, and the fewest readings that can tell it.
_FITTED, _FEWEST = 3, 5
_TRIED = 160
# How far the start may move, as a share of the way to where the front comes clear: while it is inside the cylinder
# water goes straight down, sooner or later than around a sphere.
_START_SHARE = 1.5
# Gauss-Newton along the valley: at most so many steps, none longer in ln Ks, until the longest is as short as this.
_STEPS, _STRIDE, _STILL = 12, 0.7, 2e-3


class Record(NamedTuple):
    """The readings that count: minutes and heads in mm."""

    cylinder: Cylinder
    minutes: Array
    head_mm: Array


@dataclass(frozen=True)
class Fitted:
    """Ks in mm/min and suction in mm with their bands of 95 %, where the flow around the foot began in mm of Ks t, the
    misfit in mm, and which readings were used."""

    ks_mm_min: float
    ks_band: tuple[float, float]
    suction_mm: float
    suction_band: tuple[float, float]
    suction_known: bool
    start_mm: float
    misfit_mm: float
    used: NDArray[np.bool_]
    residuals_mm: Array

    @property
    def only_below(self) -> bool:
        """Whether the record has no lower bound: the head hardly fell."""
        return self.ks_band[0] <= exp(_KS_BOUNDS[0]) * _EDGE

    @property
    def standard_error(self) -> float:
        """Return one standard error of ln Ks, from the band."""
        return log(self.ks_band[1] / self.ks_band[0]) / 4


@published(
    "fit",
    "Ks, C and the start of the flow around the foot by least squares in H over readings with R ≥ √(r1² + L²); band of"
    " 95 % by the profile of the misfit",
    "ASTM D8152; Seber and Wild (1989), ch. 5",
)
@remembered
def fit_falling_head(
    cylinder: Cylinder, minutes: ArrayLike, head_mm: ArrayLike, resolution_mm: float = 1.0
) -> Fitted | None:
    """Fit conductivity, suction and start to a record.

    Arguments
    ---------
    minutes, head_mm : shape (n,), time rising from the start at the cylinder's first head
    resolution_mm : step of the level readings; the misfit never counts as smaller than what it makes

    Returns
    -------
    None with fewer than five readings. Only readings with the front outside the cylinder count, where there are at
    least five. Else water only went straight down, and what that tells of Ks is kept: a bound above where the head
    hardly fell, and as much doubt as the suction leaves. ``used`` tells which.

    While the front is inside the cylinder water goes straight down, and the model of a sphere does not say how long
    that takes: the start of the sphere's clock is fitted too. With a clock tied to the filling Ks came out up to a
    tenth too high against Richards' equation.

    The band of Ks is where the misfit, with the best suction and start for it, stays within Fisher's limit: with a
    suction that the record does not determine the usual standard error would be too small. Source: Seber and Wild
    (1989), ch. 5.

    >>> cylinder = Cylinder(radius_mm=50, embedded_mm=50, start_mm=450, deficit=0.2)
    >>> minutes = np.arange(0, 60, 2.0)
    >>> round(fit_falling_head(cylinder, minutes, cylinder.head_at(minutes, 1.5, 100.0)).ks_mm_min, 2)
    1.5
    """
    # Imported here: it takes a second that other methods need not wait for.
    from scipy.optimize import leastsq
    from scipy.special import fdtri

    t, h = np.asarray(minutes, dtype=float), np.asarray(head_mm, dtype=float)
    used = (h <= cylinder.clear_head_mm + 1e-9) & (h > 0)
    if used.sum() < _FEWEST:
        return _fit_inside(cylinder, t, h, resolution_mm)
    at, read = t[used], h[used]

    record = Record(cylinder, at, read)
    edges = np.log(SUCTION_BOUNDS_MM)
    free = _START_SHARE * float(np.interp(-cylinder.clear_head_mm, -cylinder.heads, cylinder.path(_USUAL_SUCTION_MM)))
    least, most = np.array([_KS_BOUNDS[0], edges[0], -free]), np.array([_KS_BOUNDS[1], edges[1], free])

    @lru_cache(maxsize=2)  # misfit and slopes are asked for at the same place
    def there(k: float, c: float, b: float) -> tuple[Array, Array, Array, Array]:
        return cylinder.sensitivity(at, exp(k), exp(c), b)

    def off(p: Array) -> Array:
        return there(*np.clip(p, least, most))[0] - read

    def slopes(p: Array) -> Array:
        inside = np.clip(p, least, most)
        return np.column_stack(there(*inside)[1:]) * (p == inside)

    across = np.linspace(edges[0], edges[1], _PROFILE)
    valley = _valley(record, across, free)
    k = int(np.argmin(valley.misfits))
    floor_of_it = np.array([valley.ks[k], across[k], valley.starts[k]])
    best = np.clip(leastsq(off, floor_of_it, Dfun=slopes, xtol=1e-6, maxfev=40)[0], least, most)
    if float((off(best) ** 2).sum()) > valley.misfits[k]:
        best = floor_of_it
    n = len(at)
    floor = resolution_mm / sqrt(12)
    ssr = float((off(best) ** 2).sum())
    scatter = max(ssr / (n - _FITTED) if n > _FITTED else 0.0, floor**2)
    # Rounded readings of a slow fall err together, a run of equal ones counts once.
    independent = max(_FITTED + 1, 1 + int((np.diff(read) != 0).sum()))
    allowed = ssr + scatter * max(1.0, n / independent) * float(fdtri(1, max(independent - _FITTED, 1), 0.95))
    ks_band, suction_band = _bands(best, slopes(best), ssr, valley, across, allowed)
    inside = (SUCTION_BOUNDS_MM[0] * _EDGE, SUCTION_BOUNDS_MM[1] / _EDGE)
    reach = exp(best[0]) * t + best[2]
    return Fitted(
        ks_mm_min=exp(best[0]),
        ks_band=ks_band,
        suction_mm=exp(best[1]),
        suction_band=suction_band,
        suction_known=inside[0] < suction_band[0] and suction_band[1] < inside[1],
        start_mm=float(best[2]),
        misfit_mm=sqrt(scatter),
        used=used,
        residuals_mm=np.where(used, h - cylinder.head_after(reach, exp(best[1])), np.nan),
    )


def _fit_inside(cylinder: Cylinder, t: Array, h: Array, resolution_mm: float) -> Fitted | None:
    """Return what a record tells whose front never left the cylinder: Ks t by the way straight down, tied to the
    filling, for every suction there may be."""
    from scipy.special import fdtri

    used = (t > 0) & (h > 0)
    if used.sum() < _FEWEST:
        return None
    at, read = t[used], h[used]
    suctions, ks = np.geomspace(*SUCTION_BOUNDS_MM, 12), np.linspace(*_KS_BOUNDS, _TRIED)
    reach = np.exp(ks)[:, None] * at
    heads = np.stack([np.interp(reach, cylinder.plug_path(float(c)), cylinder.heads) for c in suctions])
    misfits = ((heads - read) ** 2).sum(axis=2)
    where = np.unravel_index(int(np.argmin(misfits)), misfits.shape)
    ssr = float(misfits[where])
    scatter = max(ssr / (len(at) - 2), resolution_mm**2 / 12)
    inside = misfits <= ssr + scatter * len(at) * float(fdtri(1, _FITTED, 0.95)) / _FITTED
    held = ks[inside.any(axis=0)]
    half = (ks[1] - ks[0]) / 2
    low = _KS_BOUNDS[0] if held[0] <= ks[0] else float(held[0]) - half
    c, k = float(suctions[where[0]]), float(ks[where[1]])
    reached = suctions[inside.any(axis=1)]
    return Fitted(
        ks_mm_min=exp(k),
        ks_band=(exp(low), exp(min(float(held[-1]) + half, _KS_BOUNDS[1]))),
        suction_mm=c,
        suction_band=(float(reached[0]), float(reached[-1])),
        suction_known=False,
        start_mm=0.0,
        misfit_mm=sqrt(scatter),
        used=used,
        residuals_mm=np.where(used, h - np.interp(exp(k) * t, cylinder.plug_path(c), cylinder.heads), np.nan),
    )


class _Valley(NamedTuple):
    """For each ln suction the best ln Ks and start, how far ln Ks may move per root of misfit, and the misfit."""

    ks: Array
    starts: Array
    stiffness: Array
    misfits: Array


def _bands(
    best: Array, jacobian: Array, ssr: float, valley: _Valley, across: Array, allowed: float
) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return the bands of Ks and suction along the valley of the misfit, with the best place in it."""
    by_ks, by_start = jacobian[:, 0], jacobian[:, 2]
    along = float(by_start @ by_start)
    stiff = float(by_ks @ by_ks) - (float(by_ks @ by_start) ** 2 / along if along > 0 else 0.0)
    ks, misfits = np.append(valley.ks, best[0]), np.append(valley.misfits, ssr)
    widths = np.sqrt(np.maximum(allowed - misfits, 0.0) / np.maximum(np.append(valley.stiffness, stiff), 1e-300))
    inside, suctions = misfits <= allowed, np.append(across, best[1])
    low, high = float((ks - widths)[inside].min()), float((ks + widths)[inside].max())
    # The readings' doubt and the model's add in squares.
    low, high = (float(best[0]) + side * hypot(edge - best[0], _MODEL) for side, edge in ((-1, low), (1, high)))
    low, high = max(low, _KS_BOUNDS[0]), min(high, _KS_BOUNDS[1])
    return (exp(low), exp(high)), _crossing(suctions, misfits, allowed)


def _crossing(suctions: Array, misfits: Array, allowed: float) -> tuple[float, float]:
    """Return where the misfit along the suctions crosses what is allowed, straight between the places tried."""
    order = np.argsort(suctions)
    c, over = suctions[order], misfits[order] - allowed
    inside = np.flatnonzero(over <= 0)
    if not len(inside):
        k = int(np.argmin(over))
        return exp(c[k]), exp(c[k])
    first, last = int(inside[0]), int(inside[-1])
    low = c[first] if first == 0 else np.interp(0.0, [over[first], over[first - 1]], [c[first], c[first - 1]])
    high = c[last] if last == len(c) - 1 else np.interp(0.0, [over[last], over[last + 1]], [c[last], c[last + 1]])
    return exp(float(low)), exp(float(high))


def _valley(record: Record, across: Array, free: float) -> _Valley:
    """Return the floor of the misfit along ln suctions: Gauss-Newton in ln Ks and start for all suctions at once."""
    ways = record.cylinder.ways(np.exp(across))
    # To begin with, Ks meets the first and the last reading, and the start what is left between them.
    first, last = (ways.reach_at(head) for head in (record.head_mm[0], record.head_mm[-1]))
    between = max(float(record.minutes[-1] - record.minutes[0]), 1e-9)
    ks = np.clip(np.log(np.maximum(last - first, 1e-9) / between), *_KS_BOUNDS)
    starts = np.clip(last - np.exp(ks) * record.minutes[-1], -free, free)
    for _ in range(_STEPS + 1):
        reach = np.exp(ks)[:, None] * record.minutes
        heads, falling = ways.heads_at(reach + starts[:, None])
        off, by_ks = heads - record.head_mm, falling * reach
        a11, a12, a22 = (by_ks**2).sum(axis=1), (by_ks * falling).sum(axis=1), (falling**2).sum(axis=1)
        g1, g2 = (by_ks * off).sum(axis=1), (falling * off).sum(axis=1)
        held = ((starts >= free) & (g2 < 0)) | ((starts <= -free) & (g2 > 0))
        a12, g2 = np.where(held, 0.0, a12), np.where(held, 0.0, g2)
        a22 = np.maximum(a22, 1e-300)
        stiff = np.maximum(a11 - a12**2 / a22, 1e-12 * a11 + 1e-300)
        step = np.clip(-(g1 - a12 * g2 / a22) / stiff, -_STRIDE, _STRIDE)
        if np.abs(step).max() < _STILL:
            break
        ks = np.clip(ks + step, *_KS_BOUNDS)
        starts = np.clip(starts - (g2 + a12 * step) / a22, -free, free)
    return _Valley(ks, starts, stiff, (off**2).sum(axis=1))

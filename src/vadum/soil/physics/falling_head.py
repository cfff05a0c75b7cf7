"""The falling head in a single cylinder: a wetting front that leaves the foot as part of a sphere.

All lengths in mm, times in minutes, conductivity in mm/min inside this module's arguments.
"""

from dataclasses import dataclass
from functools import cached_property
from math import hypot, pi

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published

Array = NDArray[np.float64]
_GRID = 400
_FRONTS = 800


@dataclass(frozen=True)
class Cylinder:
    """The cylinder and the ground it stands in.

    Arguments
    ---------
    radius_mm : inner radius r1
    embedded_mm : depth L to which the cylinder is driven
    start_mm : head H0 above the ground when the clock starts
    deficit : volumetric moisture behind the front less the one before, a share
    """

    radius_mm: float
    embedded_mm: float
    start_mm: float
    deficit: float

    @property
    def source_mm(self) -> float:
        """Return r0, the radius of the spherical source."""
        return self.radius_mm / 2

    @property
    def clear_mm(self) -> float:
        """Return the front's radius from which on it is outside the cylinder all around."""
        return hypot(self.radius_mm, self.embedded_mm)

    @published(
        "mass balance",
        "r1² (H0 − H) = Δθ/3 (2R³ + 3R²L − L³ − 4 r0³), R ≥ L; Δθ/3 (4R³ − 4 r0³) below; r0 = r1/2",
        "Ahmed et al. (2014), Vadose Zone J. 13(10); ASTM D8152",
    )
    def infiltrated_mm(self, front_mm: ArrayLike) -> Array:
        """Return the fall of head H0 - H that has wetted the ground out to a front.

        r1^2 (H0 - H) = dtheta/3 (2R^3 + 3R^2 L - L^3 - 4 r0^3) for R >= L, dtheta/3 (4R^3 - 4 r0^3) below.
        Source: Ahmed, Nestingen, Nieber, Gulliver and Hozalski (2014), Vadose Zone J. 13(10); ASTM D8152 (2018).

        >>> ground = Cylinder(radius_mm=50, embedded_mm=50, start_mm=300, deficit=0.3)
        >>> round(float(ground.infiltrated_mm(100)), 1)  # 0.1 × (2 + 1.5 − 0.125 − 0.0625) × 10^6 / 2500
        132.5
        """
        r, length, r0 = np.asarray(front_mm, dtype=float), self.embedded_mm, self.source_mm
        capped = np.where(r >= length, 2 * r**3 + 3 * r**2 * length - length**3, 4 * r**3)
        return self.deficit / 3 * (capped - 4 * r0**3) / self.radius_mm**2

    @cached_property
    def _fronts(self) -> tuple[Array, Array]:
        furthest = self.clear_mm
        while self.infiltrated_mm(furthest) < self.start_mm:
            furthest *= 1.5
        fronts = np.geomspace(self.source_mm, furthest, _FRONTS)
        return fronts, self.infiltrated_mm(fronts)

    def front_mm(self, head_mm: ArrayLike) -> Array:
        """Return the radius R of the wetting front at a head; the source's own radius before anything went in."""
        fronts, fallen = self._fronts
        return np.interp(self.start_mm - np.asarray(head_mm, dtype=float), fallen, fronts)

    def resistance_mm(self, head_mm: ArrayLike) -> Array:
        """Return g(R) = pi^2/16 r1^2 ln[R (r0 + L) / (r0 (R + L))] / L, the length of soil the sphere counts for."""
        r, r0, length = self.front_mm(head_mm), self.source_mm, self.embedded_mm
        shape = np.log(r * (r0 + length) / (r0 * (r + length))) / length if length > 0 else 1 / r0 - 1 / r
        return pi**2 / 16 * self.radius_mm**2 * shape

    @property
    def clear_head_mm(self) -> float:
        """Return the head below which the front is outside the cylinder; readings above tell of the seal."""
        return self.start_mm - float(self.infiltrated_mm(self.clear_mm))

    @cached_property
    def heads(self) -> Array:
        """Return heads from full to empty, closer together at the start."""
        share = np.linspace(0, 1, _GRID) ** 1.5
        return self.start_mm * (1 - share)

    @cached_property
    def _grid(self) -> tuple[Array, Array]:
        heads = self.heads
        return heads, self.embedded_mm + self.resistance_mm(heads)

    @cached_property
    def _halves(self) -> Array:
        """Return half the fall between neighbouring heads: the trapezoidal rule's weights."""
        return -0.5 * np.diff(self.heads)

    def path(self, suction_mm: float) -> Array:
        """Return Ks t in mm at each of :attr:`heads`: the integral of (L + g) / (H + C + L + g) over the head.

        From -dH/dt = Ks (H + C + L + g) / (L + g), by the trapezoidal rule.
        """
        return self.paths(np.array([suction_mm]))[0]

    def ways(self, suction_mm: Array) -> "Ways":
        """Return the falls for several suctions, shape (m,), ready to be read at many times."""
        heads, soil = self._grid
        paths = self.paths(suction_mm)
        # One table for all: each path begins beyond the end of the one before.
        offset = 2.0 * float(paths[:, -1].max()) * np.arange(len(paths), dtype=np.float64)[:, None]
        return Ways(
            suction_mm, heads, soil, paths[:, -1:], offset, (paths + offset).ravel(), np.tile(heads, len(paths))
        )

    def paths(self, suction_mm: Array) -> Array:
        """Return :meth:`path` for several suctions, shape (m, grid)."""
        heads, soil = self._grid
        slope = soil / (heads + suction_mm[:, None] + soil)
        steps = (slope[:, 1:] + slope[:, :-1]) * self._halves
        return np.concatenate([np.zeros((len(slope), 1)), np.cumsum(steps, axis=1)], axis=1)

    def sensitivity(
        self, minutes: Array, ks_mm_min: float, suction_mm: float, start_mm: float = 0.0
    ) -> tuple[Array, Array, Array, Array]:
        """Return the head at some minutes, and its derivatives by ln Ks, by ln suction and by the start.

        With s = Ks t + start the head solves path(H, C) = s, so dH/ds = 1 / path_H and dH/dC = -path_C / path_H.
        """
        heads, soil = self._grid
        reach = ks_mm_min * minutes
        ways = self.ways(np.array([suction_mm]))
        found, falling = (part[0] for part in ways.heads_at(reach[None, :] + start_mm))
        through = -soil / (heads + suction_mm + soil) ** 2
        steps = (through[1:] + through[:-1]) * self._halves
        by_suction = np.interp(-found, -heads, np.concatenate([[0.0], np.cumsum(steps)]))
        return found, falling * reach, -by_suction * falling * suction_mm, falling

    def head_after(self, reach_mm: ArrayLike, suction_mm: float) -> Array:
        """Return the head in mm at some Ks t; nothing once the cylinder is empty."""
        return np.interp(np.asarray(reach_mm, dtype=float), self.path(suction_mm), self.heads)

    def head_at(self, minutes: ArrayLike, ks_mm_min: float, suction_mm: float) -> Array:
        """Return the head in mm after some minutes by the sphere's clock."""
        return self.head_after(ks_mm_min * np.asarray(minutes, dtype=float), suction_mm)

    @published(
        "inside the cylinder",
        "Ks t = ∫ z/(H + C + z) dH, z = (H0 − H)/Δθ, until z = L; then around the foot",
        "Green and Ampt (1911)",
    )
    def plug_path(self, suction_mm: float) -> Array:
        """Return Ks t in mm at each of :attr:`heads` when water goes straight down until the front is at the foot.

        Source: Green and Ampt (1911) while the front is inside; the sphere's mass balance and fall from there on.

        >>> ground = Cylinder(radius_mm=50, embedded_mm=50, start_mm=300, deficit=0.3)
        >>> round(float(np.interp(-285.0, -ground.heads, ground.plug_path(0.0))), 1)  # 0.43 (50 − 429 ln(1 + 50/429))
        1.2
        """
        heads = self.heads
        depth = (self.start_mm - heads) / self.deficit
        slope = depth / (heads + suction_mm + depth)
        plug = np.concatenate([[0.0], np.cumsum((slope[1:] + slope[:-1]) * self._halves)])
        inside, around = depth <= self.embedded_mm, self.path(suction_mm)
        last = int(np.flatnonzero(inside)[-1])
        return np.where(inside, plug, plug[last] + around - around[last])

    @published("fall", "−dH/dt = Ks (H + C + L + g)/(L + g), g = π²/16 r1² ln[R(r0 + L)/(r0(R + L))]/L", "ASTM D8152")
    def rate_mm_min(self, head_mm: float, ks_mm_min: float, suction_mm: float) -> float:
        """Return the speed at which the head falls there.

        >>> ground = Cylinder(radius_mm=50, embedded_mm=50, start_mm=300, deficit=0.3)
        >>> round(ground.rate_mm_min(300, 1.0, 0.0), 6)  # nothing of the sphere yet: (300 + 50) / 50
        7.0
        """
        soil = self.embedded_mm + float(self.resistance_mm(head_mm))
        return ks_mm_min * (head_mm + suction_mm + soil) / soil


@dataclass(frozen=True)
class Ways:
    """Ks t against the head for several suctions in one table; see :meth:`Cylinder.ways`."""

    suction_mm: Array
    heads: Array
    soil_mm: Array
    last: Array
    offset: Array
    paths: Array
    tiled: Array

    def reach_at(self, head_mm: float) -> Array:
        """Return Ks t at which each suction has brought the head down so far, shape (m,)."""
        at = int(np.searchsorted(-self.heads, -head_mm).clip(0, len(self.heads) - 1))
        return self.paths.reshape(len(self.suction_mm), -1)[:, at] - self.offset[:, 0]

    def heads_at(self, reach_mm: Array) -> tuple[Array, Array]:
        """Return heads for each suction, and how fast they fall there.

        Arguments
        ---------
        reach_mm : shape (m, n), Ks t of n readings for each suction

        Returns
        -------
        Heads in mm and their derivative by Ks t, both of shape (m, n); nothing falls once the cylinder is empty.
        """
        found = np.interp(np.minimum(reach_mm, self.last) + self.offset, self.paths, self.tiled)
        below = np.interp(-found, -self.heads, self.soil_mm)
        falling = np.where(reach_mm < self.last, -(found + self.suction_mm[:, None] + below) / below, 0.0)
        return found, falling


@published("deficit", "(dial after − dial before) × 10 %, rounded up, × porosity", "practice of dial meters")
def water_deficit(before: float, after: float, by_volume: float | None) -> float:
    """Return the volumetric deficit as a share, from two moistures in percent.

    Arguments
    ---------
    before, after : percent by volume; or of saturation or by mass
    by_volume : what makes them parts of the volume, a share: the porosity of saturation, the dry density over that of
        water of mass; None where they are

    >>> round(water_deficit(40.0, 90.0, 0.4), 3)
    0.2
    """
    return (after - before) / 100 * (by_volume if by_volume is not None else 1.0)


def saturation_of_dial(dial: float) -> float:
    """Return the percent of saturation of a moisture meter's dial from 0 to 10, rounded up to ten percent.

    Source: the practice of dial meters. Rounded up before the test it makes the deficit less, rounded up after it more:
    the difference is true to ten percent of saturation either way.
    """
    return 10.0 * float(np.ceil(round(dial, 6)))


@published("site", "geometric mean and geometric standard deviation", "log-normal conductivity, Nielsen et al. (1973)")
def geometric_mean(values: ArrayLike) -> tuple[float, float]:
    """Return the geometric mean and the geometric standard deviation (a factor, 1 for a single value).

    >>> [round(value, 2) for value in geometric_mean([1.0, 100.0])]  # e to the deviation of 0 and 4.605
    [10.0, 25.95]
    """
    logs = np.log(np.asarray(values, dtype=float))
    return float(np.exp(logs.mean())), float(np.exp(logs.std(ddof=1))) if len(logs) > 1 else 1.0

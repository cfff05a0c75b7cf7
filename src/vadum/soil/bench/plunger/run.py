"""One run of the plunger as reduced: readings to forces, start put right, ratios at both depths."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.bench.plunger.readings import BearingSettings, ForceRead, PenetrationRow
from vadum.soil.numbers.odd import off_neighbours, scatter_of
from vadum.soil.physics import bearing as eq

Array = NDArray[np.float64]
# A start that meets the axis nearer than this to where it began needs no correction.
_NO_SHIFT_MM = 0.03
_DRAWN = 60


@dataclass(frozen=True)
class Run:
    """A run: the table it stands in, its used rows as arrays, gaps that were bridged, tangent and ratios.

    ``ratios`` holds, for each standard depth, the depth in mm, the force in kN and the ratio in percent; None where the
    run ended before.
    """

    table: str
    label: str
    rows: NDArray[np.int64]
    penetration_mm: Array
    force_kn: Array
    bridged_mm: list[float]
    tangent: eq.Tangent | None
    by_hand: bool
    ratios: list[tuple[float, float, float] | None]
    first_counts: bool = False
    """A check run did not confirm that the ratio at the second depth is the larger one."""
    off_kn: Array = field(default_factory=lambda: np.empty(0))
    """How far each reading but two at each end lies off its neighbours' curve."""
    column: str = "ring_div"
    """Where its force is read."""

    def cell(self, i: int) -> str:
        """Return the cell of a reading of the force."""
        return f"{self.table}.{self.rows[i]}.{self.column}"

    @cached_property
    def curve(self) -> Callable[[ArrayLike], Array]:
        """The curve through the readings."""
        return eq.curve_through(self.penetration_mm, self.force_kn)

    @cached_property
    def drawn_through(self) -> list[tuple[float, float]]:
        """The curve as points: every figure of a test draws it, its own or another's."""
        if len(self.rows) < 3:
            return list(zip(self.penetration_mm.tolist(), self.force_kn.tolist(), strict=True))
        x = np.linspace(self.penetration_mm[0], self.penetration_mm[-1], _DRAWN)
        return list(zip(x.tolist(), self.curve(x).tolist(), strict=True))

    @property
    def zero_mm(self) -> float:
        """How far the origin is moved: never to the left, never for a hair's breadth."""
        if self.tangent is None:
            return 0.0
        least = 0.0 if self.by_hand else _NO_SHIFT_MM
        return self.tangent.zero_mm if self.tangent.zero_mm > least else 0.0

    @property
    def reached_mm(self) -> float:
        return float(self.penetration_mm[-1]) if len(self.rows) else 0.0

    @property
    def second_larger(self) -> bool:
        """Whether the ratio at the second depth is the larger one."""
        first, second = (*self.ratios, None, None)[:2]
        return first is not None and second is not None and second[2] > first[2]

    @property
    def governing(self) -> tuple[float, float, float] | None:
        """The ratio that counts: the larger of those reached."""
        counting = self.ratios[:1] if self.first_counts else self.ratios
        return max((r for r in counting if r is not None), key=lambda r: r[2], default=None)


def reduce_run(
    table: str,
    label: str,
    readings: list[PenetrationRow],
    ring: list[tuple[float, float]] | None,
    settings: BearingSettings,
    tangent_mm: float | None,
    *,
    first_counts: bool = False,
) -> Run:
    """Return a run as far as it has come; without a calibrated ring there are no forces."""
    kept = [
        (i, r.penetration_mm, shown)
        for i, r in enumerate(readings)
        if r.used and r.penetration_mm is not None and (shown := r.force_by(settings)) is not None
    ]
    kept.sort(key=lambda row: row[1])
    unique = [row for k, row in enumerate(kept) if k == 0 or row[1] > kept[k - 1][1]]
    rows = np.array([row[0] for row in unique], dtype=np.int64)
    x = np.array([row[1] for row in unique], dtype=float)
    said = np.array([row[2] for row in unique], dtype=float)
    force = eq.ring_force_kn(said, ring) if ring else np.full(len(x), np.nan)
    sound = np.isfinite(force)
    rows, x, force = rows[sound], x[sound], force[sound]
    off = off_neighbours(x, force)
    tangent = (
        eq.tangent_at(x, force, tangent_mm)
        if tangent_mm is not None
        else eq.steepest_tangent(x, force, scatter_of(off))
    )
    column = "load_kn" if settings.force_read == ForceRead.CELL else "ring_div"
    bridged = _bridged(readings, x)
    run = Run(table, label, rows, x, force, bridged, tangent, tangent_mm is not None, [], first_counts, off, column)
    run.ratios.extend(_ratio(run, depth, standard) for depth, standard in eq.STANDARD_FORCE_KN[settings.school])
    return run


def _ratio(run: Run, depth: float, standard: float) -> tuple[float, float, float] | None:
    at = depth + run.zero_mm
    if len(run.rows) < 3 or not run.penetration_mm[0] <= at <= run.reached_mm + 1e-9:
        return None
    force = float(run.curve(min(at, run.reached_mm)))
    return depth, force, eq.bearing_ratio_percent(force, standard)


def _bridged(readings: list[PenetrationRow], taken: Array) -> list[float]:
    """Return the penetrations of rows without a reading that later readings went past."""
    if not len(taken):
        return []
    return [
        r.penetration_mm
        for r in readings
        if r.used and r.read is None and r.penetration_mm is not None and 0 < r.penetration_mm < taken[-1]
    ]


def forces_of(
    table: str, rows: list[PenetrationRow], ring: list[tuple[float, float]] | None, settings: BearingSettings
) -> dict[str, float | str]:
    """Return the worked-out force of every reading by its cell; none beyond the ring's calibration."""
    if ring is None:
        return {}
    read = [(i, said) for i, row in enumerate(rows) if (said := row.force_by(settings)) is not None]
    forces = eq.ring_force_kn([said for _, said in read], ring)
    return {f"{table}.{i}.force_kn": float(f) for (i, _), f in zip(read, forces, strict=True) if np.isfinite(f)}

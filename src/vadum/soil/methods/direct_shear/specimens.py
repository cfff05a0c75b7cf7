"""The record sorted into specimens: stresses, peak, end, dilation."""

from dataclasses import dataclass, replace
from math import atan, degrees, pi

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.rows import numbered
from vadum.soil.methods.direct_shear.passes import Pass, forward_passes
from vadum.soil.methods.direct_shear.readings import DirectShearReadings, RecordRow
from vadum.soil.methods.direct_shear.settings import PEAKS, DirectShearSettings, ForceRead
from vadum.soil.physics.peak import peak_passed
from vadum.soil.physics.published import published

Array = NDArray[np.float64]
GRAVITY = 9.80665
_END_SHARE = 0.05
_SLOPE_SHARE = 0.06
# A first line further along is a dial that was not set to zero.
_NOT_ZERO_MM = 0.5


@dataclass(frozen=True)
class Sheared:
    """One specimen: its record as arrays, stresses in kPa at peak and at the end, dilation angle at the peak."""

    number: int
    rows: NDArray[np.int64]
    horizontal_mm: Array
    shear_kpa: Array
    vertical_mm: Array
    normal_kpa: float
    peak_index: int
    by_hand: bool
    peak_kpa: float
    peak_normal_kpa: float
    end_kpa: float
    end_normal_kpa: float
    dilation_deg: float | None
    rising: bool
    """True while the record has not passed its peak."""
    began_mm: float
    """Where the dial stood at the first line, 0 where it was set to zero."""
    passed: bool
    """Whether it may stand on a line: past its peak, or sheared as far as the box is asked to go."""
    force_key: str
    """The column its force is read in."""
    again: tuple[Pass, ...] = ()
    """The passes after the first, where the box was pushed back."""

    @property
    def peak_mm(self) -> float:
        return float(self.horizontal_mm[self.peak_index])

    @property
    def apart_percent(self) -> float | None:
        """How far the ends of the last two passes lie apart, of the last one; None with a single pass."""
        if not self.again:
            return None
        before = self.again[-2].end_kpa if len(self.again) > 1 else self.end_kpa
        last = self.again[-1].end_kpa
        return 100 * (before - last) / last if last > 0 else None


def area_mm2(readings: DirectShearReadings, settings: DirectShearSettings) -> float | None:
    side = readings.side_mm
    return None if side is None else side**2 * (1.0 if settings.box == "square" else pi / 4)


@published(
    "area left",
    "square 1 − x/a; round (2/π) [arccos u − u √(1 − u²)], u = x/D",
    "geometry of two overlapping squares, of two overlapping circles",
)
def area_left(travel_mm: Array, side_mm: float, box: str) -> Array:
    """Return the share of the area on which both halves of the box still meet.

    Arguments
    ---------
    travel_mm : shape (n,), horizontal way
    side_mm : side of a square box, diameter of a round one

    Returns
    -------
    Shares, a tenth at least. Two squares overlap in a rectangle, two circles in a lens.

    >>> [round(float(area_left(np.array([5.0]), 60.0, box)[0]), 4) for box in ("square", "round")]
    [0.9167, 0.894]
    """
    u = np.clip(travel_mm / side_mm, 0.0, 0.9)
    return 1 - u if box == "square" else 2 / pi * (np.arccos(u) - u * np.sqrt(1 - u * u))


def normal_stress_kpa(dead_kg: float, readings: DirectShearReadings, area: float) -> float:
    """Return (dead mass x lever + hanger + cap) g / A in kPa. Source: statics; ISO 17892-10 clause 6."""
    mass = dead_kg * (readings.lever or 1.0) + (readings.hanger_kg or 0.0) + (readings.cap_kg or 0.0)
    return mass * GRAVITY / area * 1000


def sheared(readings: DirectShearReadings, settings: DirectShearSettings) -> list[Sheared]:
    """Return the specimens whose load and record are known, in their order."""
    area = area_mm2(readings, settings)
    if area is None:
        return []
    columns = _columns(readings, settings)
    found = []
    for k, row in enumerate(readings.specimens, 1):
        mine = columns[columns[:, 1] == k]
        if not row.used or row.dead_mass_kg is None or len(mine) < 4:
            continue
        normal = normal_stress_kpa(row.dead_mass_kg, readings, area)
        found.append(_specimen(k, mine, normal, area, readings, settings))
    return found


def without_load(readings: DirectShearReadings, settings: DirectShearSettings) -> int | None:
    """Return the number of the first specimen that was sheared under a load not written."""
    on_record = set(_columns(readings, settings)[:, 1])
    rows = enumerate(readings.specimens, 1)
    return next((k for k, row in rows if row.used and row.dead_mass_kg is None and k in on_record), None)


def _columns(readings: DirectShearReadings, settings: DirectShearSettings) -> Array:
    """Return row, specimen, travel, force, vertical movement of every line; the row is -1 for a logged one."""
    if readings.log is not None and len(readings.log):
        log = readings.log
        # A logger writes zeros where it has no such gauge: nothing was measured, not that nothing moved.
        lid = np.asarray(log.vertical_mm) if any(log.vertical_mm) else np.full(len(log), np.nan)
        return np.column_stack([np.full(len(log), -1.0), log.specimen, log.horizontal_mm, log.force_n, lid])
    kept = []
    for i, number, row in numbered(readings.record):
        force = force_n(row, number, readings, settings)
        if row.used and row.horizontal_mm is not None and force is not None:
            vertical = row.vertical_mm if row.vertical_mm is not None else np.nan
            kept.append((float(i), float(number), row.horizontal_mm, force, vertical))
    return np.array(kept, dtype=float).reshape(-1, 5)


def force_n(row: RecordRow, number: int, readings: DirectShearReadings, settings: DirectShearSettings) -> float | None:
    """Return the force of a line in N: as read, or the divisions by the ring of its specimen."""
    if settings.force_read == ForceRead.NEWTONS:
        return row.force_n
    ring = readings.specimens[number - 1].ring_n_div if number <= len(readings.specimens) else None
    return None if row.force_div is None or ring is None else row.force_div * ring


def started_at(travel_mm: Array) -> float:
    """Return where a dial stood that was not set to zero: its first reading, where that is no way of shearing."""
    first = float(travel_mm[0])
    return first if abs(first) > _NOT_ZERO_MM else 0.0


def _specimen(
    number: int, mine: Array, normal: float, area: float, readings: DirectShearReadings, settings: DirectShearSettings
) -> Sheared:
    """Return a specimen by its only pass, or by its first with those that followed."""
    if not settings.reversals:
        return _one(number, mine, normal, area, readings, settings)
    parts = [mine[part] for part in forward_passes(mine[:, 2])] or [mine]
    first, *others = [_one(number, part, normal, area, readings, settings) for part in parts]
    return replace(first, again=tuple(Pass(o.horizontal_mm, o.shear_kpa, o.end_kpa, o.end_normal_kpa) for o in others))


def _one(
    number: int, mine: Array, normal: float, area: float, readings: DirectShearReadings, settings: DirectShearSettings
) -> Sheared:
    travel, force, vertical = mine[:, 2] - started_at(mine[:, 2]), mine[:, 3], mine[:, 4]
    side = readings.side_mm or 1.0
    left = area_left(travel, side, settings.box) if settings.area == "corrected" else np.ones(len(travel))
    shear = force / (area * left) * 1000
    chosen = getattr(settings, PEAKS[number - 1])
    # Shear and normal stress rise alike as the area shrinks: the peak is that of their ratio, force over load.
    k = int(np.argmax(force)) if chosen is None else int(np.argmin(np.abs(travel - chosen)))
    tail = max(1, round(_END_SHARE * len(shear)))
    rising = chosen is None and not peak_passed(shear, settings.peak_fall_percent)
    return Sheared(
        number=number,
        rows=mine[:, 0].astype(np.int64),
        horizontal_mm=travel,
        shear_kpa=shear,
        vertical_mm=vertical,
        normal_kpa=normal,
        peak_index=k,
        by_hand=chosen is not None,
        peak_kpa=float(shear[k]),
        peak_normal_kpa=float(normal / left[k]),
        end_kpa=float(shear[-tail:].mean()),
        end_normal_kpa=float((normal / left[-tail:]).mean()),
        dilation_deg=_dilation(travel, vertical, k),
        rising=rising,
        began_mm=started_at(mine[:, 2]),
        force_key="force_n" if settings.force_read == ForceRead.NEWTONS else "force_div",
        passed=not rising or 100 * float(travel[-1]) / side >= settings.travel_percent,
    )


def _dilation(travel: Array, vertical: Array, k: int) -> float | None:
    """Return the angle of dilation at a line of the record, degrees: rise over travel around it."""
    near = np.abs(travel - travel[k]) <= max(_SLOPE_SHARE * float(np.ptp(travel)), 1e-9)
    x, v = travel[near], vertical[near]
    if len(x) < 3 or np.isnan(v).any() or np.ptp(x) <= 0:
        return None
    return degrees(atan(float(np.polyfit(x, v, 1)[0])))

"""The record sorted into specimens: stresses, peak, end, dilation."""

from dataclasses import dataclass
from math import atan, degrees, pi

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.rows import numbered
from vadum.soil.methods.direct_shear.readings import PEAKS, DirectShearReadings, DirectShearSettings
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

    @property
    def peak_mm(self) -> float:
        return float(self.horizontal_mm[self.peak_index])


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


def density_g_cm3(number: int, readings: DirectShearReadings, area: float) -> float | None:
    """Return the bulk density of a specimen: mass used over its volume."""
    row = readings.specimens[number - 1]
    if row.mass_before_g is None or row.mass_after_g is None or not row.height_mm:
        return None
    return (row.mass_before_g - row.mass_after_g) / (area * row.height_mm / 1000)


def sheared(readings: DirectShearReadings, settings: DirectShearSettings) -> list[Sheared]:
    """Return the specimens whose load and record are known, in their order."""
    area = area_mm2(readings, settings)
    if area is None:
        return []
    columns = _columns(readings)
    found = []
    for k, row in enumerate(readings.specimens, 1):
        mine = columns[columns[:, 1] == k]
        if not row.used or row.dead_mass_kg is None or len(mine) < 4:
            continue
        found.append(_one(k, mine, normal_stress_kpa(row.dead_mass_kg, readings, area), area, readings, settings))
    return found


def _columns(readings: DirectShearReadings) -> Array:
    """Return row, specimen, travel, force, vertical movement of every line; the row is -1 for a logged one."""
    if readings.log is not None and len(readings.log):
        log = readings.log
        return np.column_stack([np.full(len(log), -1.0), log.specimen, log.horizontal_mm, log.force_n, log.vertical_mm])
    kept = []
    for i, number, row in numbered(readings.record):
        if row.used and row.horizontal_mm is not None and row.force_n is not None:
            kept.append(
                (
                    float(i),
                    float(number),
                    row.horizontal_mm,
                    row.force_n,
                    row.vertical_mm if row.vertical_mm is not None else np.nan,
                )
            )
    return np.array(kept, dtype=float).reshape(-1, 5)


def started_at(travel_mm: Array) -> float:
    """Return where a dial stood that was not set to zero: its first reading, where that is no way of shearing."""
    first = float(travel_mm[0])
    return first if abs(first) > _NOT_ZERO_MM else 0.0


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
        passed=not rising or 100 * float(travel[-1]) / side >= settings.travel_percent,
    )


def _dilation(travel: Array, vertical: Array, k: int) -> float | None:
    """Return the angle of dilation at a line of the record, degrees: rise over travel around it."""
    near = np.abs(travel - travel[k]) <= max(_SLOPE_SHARE * float(np.ptp(travel)), 1e-9)
    x, v = travel[near], vertical[near]
    if len(x) < 3 or np.isnan(v).any() or np.ptp(x) <= 0:
        return None
    return degrees(atan(float(np.polyfit(x, v, 1)[0])))

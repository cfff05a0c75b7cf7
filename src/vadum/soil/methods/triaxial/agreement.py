"""What is read twice in a triaxial test agrees: water out, shortening, back pressure."""

from collections.abc import Iterator
from math import pi

import numpy as np

from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.triaxial.draining import Drained
from vadum.soil.methods.triaxial.findings import (
    BACK_DIFFERS,
    OUT_DIFFERS,
    SHORTENING_ODD,
    SIZE_IMPOSSIBLE,
    TIME_DIFFERS,
)
from vadum.soil.methods.triaxial.readings import SpecimenRow, TriaxialReadings
from vadum.soil.methods.triaxial.settings import TriaxialSettings
from vadum.soil.methods.triaxial.sizes import trimmed_cm3

_OUT_CM3, _OUT_SHARE = 0.1, 0.03
_BACK_KPA = 10.0
# Two people read one curve; a factor of two is a slip.
_TIMES = 2.0
# Soil shrinks more one way than the other, but hardly twice as much; below this shortening the gauge cannot say.
_ALL_ROUND, _LEAST_MM = 1.8, 0.05


def agreement_findings(
    readings: TriaxialReadings, settings: TriaxialSettings, draining: list[Drained]
) -> Iterator[Finding]:
    """Yield what contradicts itself between stages; nothing of an unconsolidated test."""
    if settings.kind == "UU":
        return
    ends = {one.number: one.points[-1][1] for one in draining if one.points}
    first = _first_pores(readings)
    for k, row in enumerate(readings.specimens, 1):
        if row.used:
            yield from _specimen(k, row, ends.get(k), first.get(k) if settings.kind == "CU" else None)
    for one in draining:
        yield from _times(one)


def _first_pores(readings: TriaxialReadings) -> dict[int, float]:
    """Return the pore pressure at which the shearing of each specimen begins, typed or logged."""
    log = readings.log
    if log is not None and len(log):
        numbers, pore = np.asarray(log.specimen), np.asarray(log.pore_kpa)
        parts, begins = np.unique(numbers, return_index=True)
        # A logger writes zeros where it has no such gauge.
        return {int(k): float(pore[i]) for k, i in zip(parts, begins, strict=True) if pore[numbers == k].any()}
    first: dict[int, float] = {}
    for _, number, line in numbered(readings.shearing):
        if number not in first and line.pore_kpa is not None and line.used:
            first[number] = line.pore_kpa
    return first


def _times(one: Drained) -> Iterator[Finding]:
    """Yield the times read off by hand that the readings of the same curve contradict."""
    hand, path = one.by_hand, f"times.{one.number - 1}"
    for name, typed, built in (
        ("t50", hand.t50_min, one.log.t50_min if one.log else None),
        ("t90", hand.t90_min, one.root.t90_min if one.root else None),
        ("t100", hand.t100_min, one.root.t100_min if one.root else None),
    ):
        if typed is not None and built is not None and not built / _TIMES < typed < built * _TIMES:
            yield TIME_DIFFERS.at(f"{path}.{name}_min", number=one.number, name=name, typed=typed, built=built)


def _specimen(k: int, row: SpecimenRow, last: float | None, first: float | None) -> Iterator[Finding]:
    path, out = f"specimens.{k - 1}", row.out_cm3
    volume = trimmed_cm3(row)
    if volume is not None and row.length_mm and ((out or 0) >= volume or (row.shortened_mm or 0) >= row.length_mm):
        cells = (f"{path}.out_cm3", f"{path}.shortened_mm")
        yield SIZE_IMPOSSIBLE.at(*cells, number=k, out_cm3=out or 0.0, shortened_mm=row.shortened_mm or 0.0)
        return
    if out is not None and last is not None and abs(out - last) > max(_OUT_CM3, _OUT_SHARE * abs(last)):
        yield OUT_DIFFERS.at(f"{path}.out_cm3", number=k, out_cm3=out, last=last)
    elif out is not None and row.shortened_mm is not None and row.diameter_mm and row.length_mm:
        isotropic = row.length_mm * out / (pi / 4 * row.diameter_mm**2 * row.length_mm / 1000) / 3
        short = row.shortened_mm
        if max(isotropic, short) > _LEAST_MM and not isotropic / _ALL_ROUND < short < isotropic * _ALL_ROUND:
            cells = (f"{path}.shortened_mm", f"{path}.out_cm3")
            yield SHORTENING_ODD.at(*cells, number=k, shortened_mm=short, out_cm3=out, isotropic=isotropic)
    if row.back_kpa is not None and first is not None and abs(row.back_kpa - first) > _BACK_KPA:
        yield BACK_DIFFERS.at(f"{path}.back_kpa", number=k, back_kpa=row.back_kpa, first=first)

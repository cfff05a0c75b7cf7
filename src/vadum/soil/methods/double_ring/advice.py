"""What can be wrong at the rings, and what to read next."""

from itertools import pairwise
from math import pi
from statistics import median

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.double_ring.findings import (
    HEADS_APART,
    INNER_FASTER,
    NEVER_STEADY,
    NO_RING,
    NOT_LOCATED,
    NOT_SEALED,
    OUTER_FASTER,
    RATE_JUMPS,
    RING_RATIO,
    SHALLOW,
    SHORT,
    SIZES_DIFFER,
    STOPPED,
    STUCK,
    TIME_BACK,
    WATER_TABLE,
    WRONG_WAY,
)
from vadum.soil.methods.double_ring.readings import Kept, RingReadings, RingSettings
from vadum.soil.methods.double_ring.velocities import Ring

_RATIO, _HEADS_MM, _DRIVEN_MM, _CLEARANCE_M, _SAME = (1.8, 2.6), 5.0, 50.0, 1.0, 0.02
_INNER, _OUTER, _JUMP, _LONG, _STUCK = 1.1, 1.8, 1.7, 20, 3


def ring_findings(readings: RingReadings) -> list[Finding]:
    """Return what is wrong with rings, heads and ground."""
    r = readings
    found: list[Finding] = []
    if r.services_located == "no":
        found.append(NOT_LOCATED.at("services_located"))
    if r.sealed == "no":
        found.append(NOT_SEALED.at("sealed"))
    if r.readings and r.inner_area_cm2 is None:
        found.append(NO_RING.at("inner_mm"))
    if r.ring_cm2 is not None and r.inner_mm is not None:
        by_size = pi / 4 * r.inner_mm**2 / 100
        if abs(r.ring_cm2 - by_size) > _SAME * by_size:
            found.append(SIZES_DIFFER.at("ring_cm2", "inner_mm", across=r.inner_mm, by_size=by_size, typed=r.ring_cm2))
    inner = r.inner_mm if r.inner_mm is not None else None if r.ring_cm2 is None else (400 * r.ring_cm2 / pi) ** 0.5
    if inner and r.outer_mm is not None and not _RATIO[0] <= (ratio := r.outer_mm / inner) <= _RATIO[1]:
        found.append(RING_RATIO.at("outer_mm", "inner_mm", ratio=ratio))
    heads = (r.inner_head_mm, r.outer_head_mm)
    if heads[0] is not None and heads[1] is not None and abs(heads[0] - heads[1]) > _HEADS_MM:
        cells = ("inner_head_mm", "outer_head_mm")
        found.append(HEADS_APART.at(*cells, inner=heads[0], outer=heads[1], within=_HEADS_MM))
    driven = (r.inner_driven_mm, r.outer_driven_mm)
    if driven[0] is not None and driven[1] is not None and (driven[0] < _DRIVEN_MM or driven[1] < driven[0]):
        found.append(SHALLOW.at("inner_driven_mm", "outer_driven_mm", inner=driven[0], outer=driven[1]))
    if r.water_table_m is not None and r.water_table_m < _CLEARANCE_M:
        found.append(WATER_TABLE.at("water_table_m", water_table_m=r.water_table_m, least=_CLEARANCE_M))
    return found


def velocity_findings(readings: RingReadings, settings: RingSettings, inner: Ring, outer: Ring) -> list[Finding]:
    """Return what is wrong with times and velocities."""
    found: list[Finding] = []
    times = [(i, row.elapsed_min, row.refilled == "yes") for i, row in enumerate(readings.readings) if row.used]
    known = [(i, at, refilled) for i, at, refilled in times if at is not None]
    for (i, before, _), (j, at, refilled) in pairwise(known):
        if at < before or (at == before and not refilled):
            cells = (f"readings.{j}.elapsed_min", f"readings.{i}.elapsed_min")
            found.append(TIME_BACK.at(*cells, elapsed_min=at, last=before))
    unit = "mm" if settings.kept == Kept.LEVELS else "cm3"
    for ring in (inner, outer):
        found += _of_ring(ring, f"{ring.name}_{unit}")
    steady, between = inner.steady(settings), outer.steady(settings)
    if inner.rates and steady is None:
        last = inner.rates[-1]
        cell = f"readings.{last.row}.{inner.name}_{unit}"
        slots = {"steady_rates": settings.steady_rates, "within_percent": settings.within_percent}
        many = len(inner.rates) >= _LONG
        found.append(
            NEVER_STEADY.at(cell, count=len(inner.rates), **slots) if many else STOPPED.at(cell, hours=last.to_min / 60)
        )
    if steady is not None and (hours := inner.rates[-1].to_min / 60) < settings.least_hours:
        found.append(SHORT.at("readings", hours=hours))
    if steady is not None and between is None and outer.rates:
        # Between the rings it may tremble: what it took in all is enough to hold the two against each other.
        between = median(r.mm_min for r in outer.rates[-settings.steady_rates :])
    if steady is not None and between is not None and between > 0:
        cells = ("inner_mm", "outer_mm")
        if steady > _INNER * between:
            found.append(INNER_FASTER.at(*cells, ratio=steady / between))
        elif between > _OUTER * steady:
            found.append(OUTER_FASTER.at(*cells, ratio=between / steady))
    return found


def _of_ring(ring: Ring, column: str) -> list[Finding]:
    found: list[Finding] = []
    rates = [r.mm_min for r in ring.rates]
    for r in ring.rates:
        if r.mm_min < 0:
            found.append(WRONG_WAY.at(f"readings.{r.row}.{column}", ring=ring.name, to_min=r.to_min))
    if len(rates) >= _STUCK and not any(rates[-_STUCK:]):
        stood = ring.rates[-1].to_min - ring.rates[-_STUCK].from_min
        found.append(STUCK.at(f"readings.{ring.rates[-1].row}.{column}", ring=ring.name, stood=stood))
    for k, r in enumerate(ring.rates):
        beside = rates[max(0, k - 1) : k] + rates[k + 1 : k + 2]
        if len(beside) < 2 or min(beside) <= 0 or r.mm_min < 0:
            continue
        low, high = min(beside), max(beside)
        if not low / _JUMP < r.mm_min < high * _JUMP:
            cells = (f"readings.{r.row}.{column}", f"readings.{r.row}.elapsed_min")
            near = 60 * sum(beside) / 2
            name = ring.name[:1].upper() + ring.name[1:]
            found.append(RATE_JUMPS.at(*cells, ring=name, rate=60 * r.mm_min, to_min=r.to_min, near=near))
    return found


def next_step(readings: RingReadings, settings: RingSettings, inner: Ring) -> str:
    """Return the next thing to do at the rings."""
    r = readings
    if r.services_located is None:
        return "Locate cables and pipes before you drive the rings; say so here."
    if r.inner_area_cm2 is None or r.outer_mm is None:
        return "Measure both rings inside; drive the inner one 50 mm in, the outer one as deep or deeper, and level."
    if r.inner_head_mm is None or r.outer_head_mm is None:
        return "Lay a splash guard, fill both rings to one level, 25 to 150 mm; write down both heads."
    if settings.kept == Kept.LEVELS and r.inner_tube_cm2 is None:
        return "Type the section of the inner supply tube, or take it from the register."
    if not r.readings:
        return "Read both at 0 min, then every 15 min in the first hour, every 30 min in the second, then hourly."
    if inner.window(settings):
        return ""
    now = f" Now {60 * inner.rates[-1].mm_min:.3g} mm/h." if inner.rates else ""
    left = settings.steady_rates - len(inner.rates)
    if left > 0:
        return f"Keep both at their level and read on: at least {left} more.{now}"
    return (
        f"Keep both at their level and read on: the last {settings.steady_rates} do not agree within"
        f" {settings.within_percent:g} % yet, or still go one way.{now}"
    )

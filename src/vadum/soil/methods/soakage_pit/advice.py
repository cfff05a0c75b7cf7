"""What can be wrong at a pit, and what to read next."""

from itertools import pairwise

import numpy as np

from vadum.soil.bench.filling import number_findings, order_findings
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.soakage_pit.emptying import Emptying
from vadum.soil.methods.soakage_pit.findings import (
    BELOW_BASE,
    FASTER_AGAIN,
    FILLS_APART,
    FULL_BELOW_BASE,
    LEANS_IN,
    LONG_FOR_WIDE,
    NOT_24_H,
    NOT_A_QUARTER,
    NOT_LOCATED,
    RATE_JUMPS,
    SPARSE,
    START_LOW,
    VOLUME_DIFFERS,
)
from vadum.soil.methods.soakage_pit.readings import PitReadings, PitSettings
from vadum.soil.physics.soaking import Pit

_LEAST_READINGS, _DAY_MIN = 3, 1440.0
_FASTER, _APART_PERCENT, _JUMP = 1.25, 15.0, 2.5
# Some of the water soaks away while the pit is filled.
_HOLDS = (0.8, 1.4)


def pit_findings(readings: PitReadings) -> list[Finding]:
    """Return what is wrong with the pit's sizes and its ground."""
    r = readings
    found: list[Finding] = []
    if r.services_located == "no":
        found.append(NOT_LOCATED.at("services_located"))
    if r.full_mm is not None and r.base_mm is not None and r.full_mm >= r.base_mm:
        found.append(FULL_BELOW_BASE.at("full_mm", "base_mm", full_mm=r.full_mm, base_mm=r.base_mm))
    for top, base in (("top_length_mm", r.length_mm), ("top_width_mm", r.width_mm)):
        typed = getattr(r, top)
        if typed is not None and base is not None and typed < base:
            found.append(LEANS_IN.at(top, top.removeprefix("top_")))
    if r.length_mm is not None and r.width_mm is not None and r.width_mm > r.length_mm:
        found.append(LONG_FOR_WIDE.at("length_mm", "width_mm", length_mm=r.length_mm, width_mm=r.width_mm))
    return found


def fill_findings(readings: PitReadings, pit: Pit | None, made: list[Emptying]) -> list[Finding]:
    """Return what is wrong with the levels of the fills, and with one fill beside the next."""
    found = number_findings(readings.levels) + order_findings([one.fill for one in made], rises=True)
    for one in made:
        number, first = one.fill.number, one.fill.cell(0)
        found += [
            BELOW_BASE.at(
                f"levels.{row}.level_mm", "base_mm", number=number, level_mm=level, base_mm=readings.base_mm or 0.0
            )
            for row, level, depth in zip(one.fill.rows, one.fill.level.tolist(), one.depth_mm, strict=True)
            if depth < 0
        ]
        if pit is not None and one.depth_mm[0] < 0.75 * pit.full_mm:
            found.append(START_LOW.at(first, number=number, depth=float(one.depth_mm[0]), full=pit.full_mm))
        if pit is not None and one.rate_m_s is not None and one.minutes is not None:
            within = (one.depth_mm < 0.75 * pit.full_mm) & (one.depth_mm > 0.25 * pit.full_mm)
            if (count := int(within.sum())) < _LEAST_READINGS:
                found.append(SPARSE.at(first, number=number, count=count))
            if one.minutes > _DAY_MIN:
                found.append(NOT_24_H.at(first, number=number, hours=one.minutes / 60))
        if pit is not None and one.below_m_s is not None:
            last = one.fill.cell(-1)
            found.append(NOT_A_QUARTER.at(last, number=number, depth=float(one.depth_mm[-1]), full=pit.full_mm))
        if one.fill.in_order:
            found += _jumps(one)
    if pit is not None and made and readings.filled_l is not None:
        holds = 1000 * pit.volume_m3(float(max(made[0].depth_mm[0], 0.0)))
        if not _HOLDS[0] * holds <= readings.filled_l <= _HOLDS[1] * holds:
            found.append(VOLUME_DIFFERS.at("filled_l", poured=readings.filled_l, holds=holds))
    rates = [(one, one.rate_m_s) for one in made if one.rate_m_s is not None]
    for (_, before), (one, rate) in pairwise(rates):
        if rate > _FASTER * before:
            found.append(FASTER_AGAIN.at(one.fill.cell(0), number=one.fill.number, factor=rate / before))
    if len(rates) > 1 and (less := 100 * (1 - rates[-1][1] / rates[-2][1])) > _APART_PERCENT:
        slowest = rates[-1][0].fill
        found.append(FILLS_APART.at(slowest.cell(-1), number=slowest.number, percent=less))
    return found


def _jumps(one: Emptying) -> list[Finding]:
    """Return the readings at which the water falls far faster, or slower, than before and after."""
    minutes, depth = one.fill.minutes, one.depth_mm
    found = []
    for k in range(1, len(minutes) - 2):
        before, now, after = (
            float(-(depth[j] - depth[j - 1]) / (minutes[j] - minutes[j - 1])) for j in (k, k + 1, k + 2)
        )
        beside = (before + after) / 2
        if beside <= 0 or abs(depth[k + 1] - depth[k]) + beside * (minutes[k + 1] - minutes[k]) < 40:
            continue
        if not 1 / _JUMP < now / beside < _JUMP and (now > max(before, after) or now < min(before, after)):
            row = one.fill.rows[k + 1] if abs(after - before) < abs(now - before) else one.fill.rows[k]
            found.append(
                RATE_JUMPS.at(
                    f"levels.{row}.level_mm",
                    f"levels.{row}.elapsed_min",
                    number=one.fill.number,
                    from_min=float(minutes[k]),
                    to_min=float(minutes[k + 1]),
                    factor=now / beside,
                )
            )
    return found


def next_step(readings: PitReadings, settings: PitSettings, pit: Pit | None, made: list[Emptying]) -> str:
    """Return the next thing to do at the pit."""
    if readings.services_located is None:
        return "Locate cables and pipes before you dig; say so here."
    if pit is None:
        return (
            "Dig the pit with upright sides; measure length, width, and down from one mark to the base and to the"
            " level of the drain."
        )
    unfinished = [one for one in made if one.rate_m_s is None]
    if unfinished:
        fill, quarter = unfinished[0].fill, 0.75 * pit.full_mm + (readings.full_mm or 0.0)
        return f"Fill {fill.number}: read on until the water is {quarter:.0f} mm down, a quarter of its depth."
    if len(made) < settings.fills_needed:
        again = "" if not made else ", on the same day or the next"
        return f"Fill {len(made) + 1} of {settings.fills_needed}: fill it fast to the drain's level{again}; read often."
    return ""


def water_words(one: Emptying) -> str:
    """Return what run mode says of a fill."""
    if one.rate_m_s is not None:
        return f"f {one.rate_m_s:.2g} m/s"
    return f"{float(np.round(one.depth_mm[-1])):g} mm of water"

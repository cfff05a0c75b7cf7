"""What can be wrong with compaction points, and which point to make next."""

from itertools import pairwise

from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.compaction.equations import Peak
from vadum.soil.methods.compaction.findings import (
    ABOVE_ZERO_AIR,
    DENSITY_IMPOSSIBLE,
    DRIEST_DENSEST,
    EQUAL_WATER,
    ERRATIC_POINT,
    HAND_OUTSIDE,
    MOULD_HEAVIER,
    MOULD_VOLUME,
    NO_MAXIMUM,
    ONE_SIDED,
    PEAK_ABOVE_POINTS,
    PEAK_ABOVE_ZERO_AIR,
    TOO_FEW_POINTS,
    WATER_GAP,
    WETTEST_DENSEST,
)
from vadum.soil.methods.compaction.points import Compacted
from vadum.soil.methods.compaction.readings import CompactionReadings, CompactionSettings
from vadum.soil.physics.phases import saturated_dry_density

_BULK = (1.0, 2.8)
_MOULDS = {"1 L mould": (900.0, 1100.0), "152 mm mould": (2050.0, 2450.0)}
# Steps between points below this do not show the bend, above it they may miss it.
_STEP_PERCENT = 2.0
_SAG = 0.01
# A density this much above the zero-air line is no rounding.
_ZERO_AIR = 1.003
# A curve through points 4 % apart, each side falling by 0.1 g/cm3, which is as sharp as they come, has its top so far
# above them.
_TOP_ABOVE = 0.025
# Water contents nearer than this are one; ASTM D698 (2012), clause 10: increments of not more than 4 %.
_SAME_WATER, _WIDEST_GAP = 0.05, 4.0


def point_findings(
    readings: CompactionReadings, settings: CompactionSettings, used: list[Compacted], gs: Leant
) -> list[Finding]:
    """Return what is wrong with the mould and with single points."""
    findings: list[Finding] = []
    mould, volume = readings.mass_mould_g, readings.volume_mould_cm3
    low, high = _MOULDS[settings.scheme.mould]
    if volume is not None and not low <= volume <= high:
        findings.append(
            MOULD_VOLUME.at("volume_mould_cm3", volume=volume, mould=settings.scheme.mould, low=low, high=high)
        )
    for i, point in enumerate(readings.points):
        mass = point.mass_mould_soil_g
        if point.used and mass is not None and mould is not None and mass <= mould:
            findings.append(MOULD_HEAVIER.at(f"points.{i}.mass_mould_soil_g", number=i + 1, filled=mass, mould=mould))
    for p in used:
        if not _BULK[0] <= p.bulk_density <= _BULK[1]:
            findings.append(
                DENSITY_IMPOSSIBLE.at(
                    f"points.{p.row}.mass_mould_soil_g", number=p.row + 1, bulk_density=p.bulk_density
                )
            )
            continue
        full = saturated_dry_density(p.water_content, gs.value)
        if p.dry_density > full * _ZERO_AIR:
            findings.append(
                ABOVE_ZERO_AIR.at(
                    f"points.{p.row}.mass_mould_soil_g",
                    number=p.row + 1,
                    dry_density=p.dry_density,
                    water_content=p.water_content,
                    full=full,
                    then="and measure the Gs, which is assumed" if gs.source == "assumed" else "then the Gs",
                )
            )
    return findings


def curve_findings(settings: CompactionSettings, used: list[Compacted], peak: Peak | None) -> list[Finding]:
    """Return what is wrong with the points as a curve."""
    findings: list[Finding] = []
    if not used:
        return findings
    ordered = sorted(used, key=lambda p: p.water_content)
    if len(used) < settings.points_needed:
        findings.append(
            TOO_FEW_POINTS.at(count=len(used), points_needed=settings.points_needed, next_point=_which(ordered, peak))
        )
    if len(ordered) >= 3:
        best = max(range(len(ordered)), key=lambda k: ordered[k].dry_density)
        if best == 0:
            findings.append(
                DRIEST_DENSEST.at(f"points.{ordered[0].row}.mass_mould_soil_g", water_content=ordered[0].water_content)
            )
        elif best == len(ordered) - 1:
            findings.append(
                WETTEST_DENSEST.at(
                    f"points.{ordered[-1].row}.mass_mould_soil_g", water_content=ordered[-1].water_content
                )
            )
        elif peak is None:
            findings.append(NO_MAXIMUM.at(curve=settings.curve))
    if (
        settings.optimum_percent is not None
        and peak is not None
        and not ordered[0].water_content <= settings.optimum_percent <= ordered[-1].water_content
    ):
        findings.append(HAND_OUTSIDE.at(optimum_percent=settings.optimum_percent))
    if peak is not None and len(ordered) >= settings.points_needed:
        dry, wet = (sum(1 for p in ordered if side * (p.water_content - peak.optimum_percent) > 0) for side in (-1, 1))
        if settings.optimum_percent is None and min(dry, wet) < 2:
            findings.append(ONE_SIDED.at(dry=dry, wet=wet, side="drier" if dry < wet else "wetter"))
    return findings + _spaced(ordered) + _erratic(ordered)


def peak_findings(peak: Peak, used: list[Compacted], gs: Leant) -> list[Finding]:
    """Return that the curve's maximum holds more water than there is room for, or that no point carries it."""
    full, densest = saturated_dry_density(peak.optimum_percent, gs.value), max(p.dry_density for p in used)
    where = {"dry_density": peak.maximum, "water_content": peak.optimum_percent}
    if peak.maximum > full * _ZERO_AIR:
        return [PEAK_ABOVE_ZERO_AIR.at(**where, full=full)]
    if peak.maximum > densest + _TOP_ABOVE:
        return [PEAK_ABOVE_POINTS.at(**where, above=peak.maximum - densest)]
    return []


def _spaced(ordered: list[Compacted]) -> list[Finding]:
    """Return points that are one point, and a stretch of water content that nobody looked at."""
    findings: list[Finding] = []
    for a, b in pairwise(ordered):
        gap = b.water_content - a.water_content
        cell = f"points.{b.row}.mass_mould_soil_g"
        if gap < _SAME_WATER:
            both = {"one": min(a.row, b.row) + 1, "other": max(a.row, b.row) + 1}
            findings.append(EQUAL_WATER.at(cell, **both, water_content=b.water_content))
        elif gap > _WIDEST_GAP:
            findings.append(WATER_GAP.at(cell, low=a.water_content, high=b.water_content, gap=gap))
    return findings


def _erratic(ordered: list[Compacted]) -> list[Finding]:
    """Return a warning for the point without which the curve has one crest.

    A compaction curve bends downward all along; where it sags, the point whose removal mends it best is the odd one.
    """
    sags = _sags(ordered)
    if len(ordered) < 4 or max(sags) <= _SAG:
        return []
    without = [max(_sags(ordered[:k] + ordered[k + 1 :])) for k in range(len(ordered))]
    # Where leaving out either of two mends the curve, the one that sags itself is the odd one.
    odd = min(range(len(ordered)), key=lambda k: (round(without[k], 3), -sags[k]))
    return [
        ERRATIC_POINT.at(
            f"points.{ordered[odd].row}.mass_mould_soil_g",
            number=ordered[odd].row + 1,
            largest=max(sags),
            without=without[odd],
        )
    ]


def _sags(ordered: list[Compacted]) -> list[float]:
    """Return how far each point lies below the straight line between its neighbours, g/cm3; 0 at the ends and above."""
    sags = [0.0] * len(ordered)
    for k in range(1, len(ordered) - 1):
        before, here, after = ordered[k - 1 : k + 2]
        span = after.water_content - before.water_content
        if span > 0:
            share = (here.water_content - before.water_content) / span
            sags[k] = max(0.0, before.dry_density + share * (after.dry_density - before.dry_density) - here.dry_density)
    return sags


def _which(ordered: list[Compacted], peak: Peak | None) -> str:
    """Return which point to make next, from the run of the densities so far."""
    if len(ordered) < 2:
        return f"Make the next point {_STEP_PERCENT:g} % wetter."
    best = max(range(len(ordered)), key=lambda k: ordered[k].dry_density)
    if best == len(ordered) - 1:
        return f"Density still rises: make the next point {ordered[-1].water_content + _STEP_PERCENT:.1f} %."
    if best == 0:
        return f"Density falls: make the next point {max(0.0, ordered[0].water_content - _STEP_PERCENT):.1f} %."
    left = sum(1 for p in ordered if peak and p.water_content < peak.optimum_percent)
    if left < 2:
        return f"Make a drier point, about {max(0.0, ordered[0].water_content - _STEP_PERCENT):.1f} %."
    return f"Make a wetter point, about {ordered[-1].water_content + _STEP_PERCENT:.1f} %."


def next_step(
    readings: CompactionReadings, settings: CompactionSettings, used: list[Compacted], tins: dict[str, float]
) -> str:
    """Return what to do now, in one sentence."""
    if readings.mass_mould_g is None:
        return "Weigh the empty mould with its base, without the collar."
    if readings.volume_mould_cm3 is None:
        return "Enter the volume of the mould from its calibration."
    for i, point in enumerate(readings.points):
        if not point.used or point.empty:
            continue
        if point.mass_mould_soil_g is None:
            return f"Compact point {i + 1}, strike it off level and weigh mould and soil."
        if point.water_content(tins) is None and point.water_content_percent is None:
            return f"Take a tin from the middle of point {i + 1}; weigh it moist, dry it, weigh it dry."
    if not used:
        return (
            f"Compact the first point, {settings.scheme}, some 4 % drier than the plastic limit of clay, or just moist"
            " for sand."
        )
    return ""

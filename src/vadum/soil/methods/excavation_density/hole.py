"""The volume of a hole, by the way it was measured, and what is doubtful of it."""

from collections.abc import Sequence

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.excavation_density.findings import (
    HOLE_EMPTY,
    POUR_GAINED,
    SAND_GAINED,
    SAND_RUNS_APART,
    SAND_UNKNOWN,
    TEMPERATURE_ASSUMED,
    TEMPLATE_ALL,
)
from vadum.soil.methods.excavation_density.readings import ExcavationReadings, ExcavationSettings, Hole, Pour
from vadum.soil.physics.water import REFERENCE_C, water_density

# ASTM D1556 (2015), annex: runs of a calibration agree within one percent.
_RUNS_PERCENT = 1.0


def hole_volume_cm3(readings: ExcavationReadings, settings: ExcavationSettings) -> float | None:
    """Return the volume of the hole by the way it was measured; None while a reading is missing or cannot be."""
    if settings.hole == Hole.LINER:
        return _by_water(readings)
    if settings.hole == Hole.SAND_CONE:
        return _by_sand(readings)
    sides = (readings.length_mm, readings.width_mm, readings.depth_mm)
    if any(side is None for side in sides):
        return None
    return float(sides[0] * sides[1] * sides[2]) / 1000.0  # type: ignore[operator]


def _by_water(readings: ExcavationReadings) -> float | None:
    poured = _poured_g(readings.pours) or readings.mass_water_g
    liner, at = readings.volume_liner_cm3 or 0.0, readings.temperature_c
    density = float(water_density(REFERENCE_C if at is None else at))
    template = (readings.mass_water_template_g or 0.0) / density
    if poured:
        volume = poured / density - template + liner
    elif readings.volume_water_cm3:
        volume = readings.volume_water_cm3 - template + liner
    else:
        return None
    return volume if volume > 0 else None


def _by_sand(readings: ExcavationReadings) -> float | None:
    used, cone, density = sand_used_g(readings), readings.mass_sand_cone_g, sand_density_g_cm3(readings)
    if used is None or cone is None or not density or used <= cone:
        return None
    return (used - cone) / density


def sand_used_g(readings: ExcavationReadings) -> float | None:
    """Return the sand that left the jar, in one pour or several, g."""
    if poured := _poured_g(readings.pours):
        return poured
    before, after = readings.mass_sand_before_g, readings.mass_sand_after_g
    return None if before is None or after is None else before - after


def sand_density_g_cm3(readings: ExcavationReadings) -> float | None:
    """Return the density of the poured sand as typed, else the mean of its calibration runs."""
    runs = _runs(readings)
    if readings.sand_density_g_cm3 is not None:
        return readings.sand_density_g_cm3
    return sum(runs) / len(runs) if runs else None


def _runs(readings: ExcavationReadings) -> list[float]:
    return [r.mass_sand_g / r.volume_cm3 for r in readings.sand_runs if r.used and r.mass_sand_g and r.volume_cm3]


def _poured_g(pours: Sequence[Pour]) -> float | None:
    taken = [
        p.mass_before_g - p.mass_after_g
        for p in pours
        if p.used and p.mass_before_g is not None and p.mass_after_g is not None
    ]
    return sum(taken) if taken else None


def hole_findings(readings: ExcavationReadings, settings: ExcavationSettings) -> list[Finding]:
    """Return what is doubtful of the hole's volume."""
    findings = [
        POUR_GAINED.at(f"pours.{i}.mass_after_g", before=p.mass_before_g, after=p.mass_after_g)
        for i, p in enumerate(readings.pours)
        if p.used and p.mass_before_g is not None and p.mass_after_g is not None and p.mass_after_g >= p.mass_before_g
    ]
    if settings.hole == Hole.SAND_CONE:
        findings += _sand_findings(readings)
    elif settings.hole == Hole.LINER:
        poured, template = _poured_g(readings.pours) or readings.mass_water_g, readings.mass_water_template_g
        if poured and template and template >= poured:
            findings.append(TEMPLATE_ALL.at("mass_water_template_g", template=template, all=poured))
        if poured and readings.temperature_c is None:
            findings.append(TEMPERATURE_ASSUMED.at("temperature_c"))
    return findings


def _sand_findings(readings: ExcavationReadings) -> list[Finding]:
    used, before, after = sand_used_g(readings), readings.mass_sand_before_g, readings.mass_sand_after_g
    if before is not None and after is not None and after >= before:
        return [SAND_GAINED.at("mass_sand_after_g", before=before, after=after)]
    cone, runs, findings = readings.mass_sand_cone_g, _runs(readings), []
    if used is not None and cone is not None and used <= cone:
        findings.append(HOLE_EMPTY.at("mass_sand_cone_g", grams=used, cone=cone))
    if used is not None and sand_density_g_cm3(readings) is None:
        findings.append(SAND_UNKNOWN.at("sand_density_g_cm3"))
    if len(runs) > 1 and 100 * (max(runs) - min(runs)) > _RUNS_PERCENT * min(runs):
        findings.append(SAND_RUNS_APART.at("sand_runs.0.mass_sand_g", percent=100 * (max(runs) / min(runs) - 1)))
    return findings

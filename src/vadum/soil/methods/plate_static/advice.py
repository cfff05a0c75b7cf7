"""What can be wrong with a plate test, and what to do next at the plate."""

from itertools import pairwise

import numpy as np

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.plate_static.branches import Branches
from vadum.soil.methods.plate_static.findings import (
    BEDDING_SOFT,
    CURVE_UNUSABLE,
    DATUM_NEAR,
    DIVISIONS_FOR_MM,
    FEW_STAGES,
    KN_FOR_KPA,
    LEVER_MISSING,
    PLATE_SMALL,
    PRELOAD_SHORT,
    REACTION_LIFTED,
    REACTION_NEAR,
    READING_ODD,
    RELOAD_TOO_FAR,
    SCHOOLS_APART,
    SETTLEMENT_FALLS,
    STAGE_SHORT,
    TILTED,
    UNLOADING_MISSING,
)
from vadum.soil.methods.plate_static.moduli import Loading
from vadum.soil.methods.plate_static.readings import PRELOAD_S, Bedding, PlateStaticReadings, PlateStaticSettings
from vadum.soil.numbers.odd import off_curve
from vadum.soil.physics.plate import jack_force_kn, plate_area_m2, pump_pressure_bar

# Distance of wheels or tracks from the plate's edge by plate; DIN 18134 (2012), clause 6.
_REACTION_M = {300: 0.75, 600: 1.10, 762: 1.30}
_GAUGE_MM = 0.01
_ODD_SHARE = 0.06
_SCHOOLS_APART = 0.10


def setup_findings(readings: PlateStaticReadings, settings: PlateStaticSettings) -> list[Finding]:
    """Return what is wrong with plate, bedding, datum and reaction."""
    found: list[Finding] = []
    size, grain = settings.size_mm, readings.largest_particle_mm
    if grain is not None and grain > size / 4:
        larger = {300: "the 600 mm plate", 600: "the 762 mm plate"}.get(size, "another method")
        found.append(PLATE_SMALL.at("largest_particle_mm", grain=grain, size=size, larger=larger))
    if readings.bedding == Bedding.GYPSUM_SOFT:
        found.append(BEDDING_SOFT.at("bedding"))
    if readings.reaction_lifted == "yes":
        found.append(REACTION_LIFTED.at("reaction_lifted"))
    if readings.tilted == "yes":
        found.append(TILTED.at("tilted"))
    if readings.datum_m is not None and readings.datum_m < settings.least_datum_m:
        found.append(DATUM_NEAR.at("datum_m", datum_m=readings.datum_m, least_datum_m=settings.least_datum_m))
    near = _REACTION_M[size]
    if readings.reaction_m is not None and readings.reaction_m < near:
        found.append(REACTION_NEAR.at("reaction_m", reaction_m=readings.reaction_m, near=near))
    if readings.preload_s is not None and readings.preload_s < PRELOAD_S:
        found.append(PRELOAD_SHORT.at("preload_s", preload_s=readings.preload_s))
    if settings.gauge == "beam" and not (readings.lever_plate_mm and readings.lever_gauge_mm):
        found.append(LEVER_MISSING.at("lever_plate_mm"))
    return found


def stage_findings(readings: PlateStaticReadings, settings: PlateStaticSettings, made: Branches) -> list[Finding]:
    """Return what is wrong with single stages."""
    found: list[Finding] = []
    area = plate_area_m2(settings.size_mm)
    for i, stage in enumerate(readings.stages):
        if not stage.used:
            continue
        planned, applied = stage.planned_kpa, stage.pressure_kpa
        if planned and applied and abs(applied / (planned * area) - 1) < 0.12 and abs(applied / planned - 1) > 0.3:
            found.append(
                KN_FOR_KPA.at(f"stages.{i}.pressure_kpa", number=i + 1, applied=applied, planned=planned, area=area)
            )
        if stage.hold_s is not None and stage.hold_s < 0.95 * settings.hold_s:
            found.append(STAGE_SHORT.at(f"stages.{i}.hold_s", number=i + 1, hold_s=stage.hold_s, asked=settings.hold_s))
    found += _settlements(made, settings)
    if made.second and max(p for _, p, _ in made.second) >= 0.99 * made.largest_kpa:
        i = max(made.second, key=lambda spot: spot[1])[0]
        found.append(RELOAD_TOO_FAR.at(f"stages.{i}.gauge_mm"))
    return found


def _settlements(made: Branches, settings: PlateStaticSettings) -> list[Finding]:
    found: list[Finding] = []
    if made.first and made.first[0][2] > 3 * settings.ends_at_mm:
        i, p, s = made.first[0]
        return [DIVISIONS_FOR_MM.at(f"stages.{i}.gauge_mm", settlement=s, pressure=p)]
    for branch in (made.first, made.second):
        for (_, p0, s0), (i, p1, s1) in pairwise(branch):
            if p1 > p0 and s1 < s0 - 0.005:
                found.append(SETTLEMENT_FALLS.at(f"stages.{i}.gauge_mm", p0=p0, p1=p1, s0=s0, s1=s1))
    return found


def curve_findings(
    made: Branches, first: Loading, second: Loading, settings: PlateStaticSettings, *, done: bool
) -> list[Finding]:
    """Return what is wrong with the curves: too few stages, an odd reading, schools that disagree."""
    found: list[Finding] = []
    if made.back and len(made.first) < settings.least_stages:
        found.append(
            FEW_STAGES.at(
                f"stages.{made.first[-1][0]}.gauge_mm", count=len(made.first), least_stages=settings.least_stages
            )
        )
    if done and not made.back:
        found.append(UNLOADING_MISSING.at())
    for loading, spots, name in ((first, made.first, "first"), (second, made.second, "second")):
        found += _odd(loading, spots, name)
        if loading.curve is not None and loading.quadratic is None:
            found.append(CURVE_UNUSABLE.at(f"stages.{spots[-1][0]}.gauge_mm", name=name))
        if (
            done
            and loading.quadratic
            and loading.secant
            and abs(loading.secant / loading.quadratic - 1) > _SCHOOLS_APART
        ):
            found.append(
                SCHOOLS_APART.at(
                    f"stages.{spots[-1][0]}.gauge_mm",
                    what=name.capitalize(),
                    quadratic=loading.quadratic,
                    secant=loading.secant,
                )
            )
    return found


def _odd(loading: Loading, spots: list[tuple[int, float, float]], name: str) -> list[Finding]:
    if loading.curve is None or len(spots) < 4:
        return []
    off = np.array([s - loading.at(p) for _, p, s in spots])
    span = max(s for _, _, s in spots) - min(s for _, _, s in spots)
    worst = int(np.argmax(np.abs(off)))
    mm = abs(float(off[worst]))
    if mm <= max(0.03, _ODD_SHARE * span):
        # The parabola bends to a reading that is odd near its end; its neighbours do not.
        begun = [(0.0, 0.0)] if name == "first" else []
        curve = [*begun, *((p, s) for _, p, s in spots)]
        odd = off_curve([p for p, _ in curve], [s for _, s in curve], _GAUGE_MM)
        if not odd or odd[0][0] < len(begun):
            return []
        worst = odd[0][0] - len(begun)
        mm = abs(spots[worst][2] - odd[0][1])
    i, p, s = spots[worst]
    return [READING_ODD.at(f"stages.{i}.gauge_mm", settlement=s, pressure=p, mm=mm, name=name)]


def apply_words(pressure_kpa: float, readings: PlateStaticReadings, settings: PlateStaticSettings) -> str:
    """Return how a pressure is applied: force of the jack, and oil pressure where the piston is known."""
    force = jack_force_kn(pressure_kpa, plate_area_m2(settings.size_mm))
    pump = f", pump {pump_pressure_bar(force, readings.piston_cm2):.0f} bar" if readings.piston_cm2 else ""
    return f"jack {force:.1f} kN{pump}"


def next_step(readings: PlateStaticReadings, settings: PlateStaticSettings, made: Branches, *, done: bool) -> str:
    """Return the next thing to do at the plate."""
    if not made.every and readings.preload_kpa is None:
        return "Bed the plate, preload with 10 kPa for at least 30 s, zero the gauge."
    if not done:
        if not made.back and made.first and made.first[-1][2] >= settings.ends_at_mm:
            return (
                f"{made.first[-1][2]:.1f} mm reach the settlement of {settings.ends_at_mm:g} mm: end the first loading"
                " here, unload to half."
            )
        pending = next(
            (s for s in readings.stages if s.used and s.gauge_mm is None and s.planned_kpa is not None), None
        )
        if pending is not None and pending.planned_kpa is not None:
            words = apply_words(pending.planned_kpa, readings, settings)
            return f"Set {pending.planned_kpa:g} kPa ({words}), hold {settings.hold_s:g} s, read the gauge."
        return "Load again to the last but one stage."
    return ""

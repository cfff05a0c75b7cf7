"""What can be wrong with a plate test, and what to do next at the plate."""

from itertools import pairwise

import numpy as np

from vadum.soil.bench.plate_load import load_findings
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.plate_static.as_read import gauges_of
from vadum.soil.methods.plate_static.branches import Branches
from vadum.soil.methods.plate_static.findings import (
    APPLIED_OFF,
    BEDDING_SOFT,
    CURVE_UNUSABLE,
    DATUM_NEAR,
    DIVISIONS_FOR_MM,
    FEW_STAGES,
    GAUGES_APART,
    KN_FOR_KPA,
    LEVER_MISSING,
    LOADED_FAR,
    LOADED_LOW,
    NOT_AT_REST,
    PLATE_SMALL,
    PRELOAD_SHORT,
    PRESSURE_DIPS,
    REACTION_LIFTED,
    REACTION_NEAR,
    READING_ODD,
    RELOAD_TOO_FAR,
    SCHOOLS_APART,
    SECOND_SOFTER,
    SETTLEMENT_FALLS,
    SETTLEMENT_MISSED,
    SETTLES_RELIEVED,
    STAGE_SHORT,
    SUBGRADE_PLATE,
    TILTED,
    UNLOADING_COARSE,
    UNLOADING_MISSING,
)
from vadum.soil.methods.plate_static.moduli import Loading
from vadum.soil.methods.plate_static.readings import (
    PRELOAD_S,
    UNLOADING,
    Bedding,
    PlateStaticReadings,
    PlateStaticSettings,
    Stage,
    Wanted,
)
from vadum.soil.numbers.odd import off_curve
from vadum.soil.physics.plate import (
    SUBGRADE_PLATE_MM,
    SUBGRADE_SETTLEMENT_MM,
    jack_force_kn,
    plate_area_m2,
    pump_pressure_bar,
)

# Distance of wheels or tracks from the plate's edge by plate; DIN 18134 (2012), clause 6.
_REACTION_M = {300: 0.75, 600: 1.10, 762: 1.30}
_GAUGE_MM = 0.01
# Two divisions of the gauge.
_SETTLES_ON_MM = 0.02
# A pressure off the one planned by this share, and by so many kPa, is another one; as kN it is near by this share.
_APPLIED_OFF, _APPLIED_KPA, _KN_NEAR = 0.35, 25.0, 0.12
_UNITS_KPA = {"MPa typed": 1000.0, "bar typed": 100.0, "kg/cm² typed": 98.07, "psi typed": 6.895}
_GAUGES_MM, _GAUGES_SHARE = 0.3, 0.35
_NEARLY, _UNLOADED_NEAR = 0.9, 0.1
# The plate has come to rest, in mm a minute. DIN 18134 (2012), ks test: below 0.02 mm.
REST_MM_MIN = 0.02
_ODD_SHARE = 0.06
_SCHOOLS_APART = 0.10


def setup_findings(readings: PlateStaticReadings, settings: PlateStaticSettings) -> list[Finding]:
    """Return what is wrong with plate, bedding, datum and reaction."""
    found: list[Finding] = []
    size, grain = settings.size_mm, readings.largest_particle_mm
    if grain is not None and grain > size / 4:
        larger = {300: "the 600 mm plate", 600: "the 762 mm plate"}.get(settings.nominal_mm, "another method")
        found.append(PLATE_SMALL.at("largest_particle_mm", grain=grain, size=size, larger=larger))
    if readings.bedding == Bedding.GYPSUM_SOFT:
        found.append(BEDDING_SOFT.at("bedding"))
    if readings.reaction_lifted == "yes":
        found.append(REACTION_LIFTED.at("reaction_lifted"))
    if readings.tilted == "yes":
        found.append(TILTED.at("tilted"))
    if readings.datum_m is not None and readings.datum_m < settings.least_datum_m:
        found.append(DATUM_NEAR.at("datum_m", datum_m=readings.datum_m, least_datum_m=settings.least_datum_m))
    near = _REACTION_M[settings.nominal_mm]
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
        moved = stage.last_minute_mm
        if settings.wanted == Wanted.SUBGRADE and moved is not None and moved > REST_MM_MIN:
            found.append(NOT_AT_REST.at(f"stages.{i}.last_minute_mm", number=i + 1, mm=moved, most=REST_MM_MIN))
        if stage.hold_s is not None and stage.hold_s < 0.95 * settings.hold_s:
            found.append(STAGE_SHORT.at(f"stages.{i}.hold_s", number=i + 1, hold_s=stage.hold_s, asked=settings.hold_s))
    found += _settlements(made, settings)
    if made.second and max(p for _, p, _ in made.second) >= 0.99 * made.largest_kpa:
        i = max(made.second, key=lambda spot: spot[1])[0]
        found.append(RELOAD_TOO_FAR.at(f"stages.{i}.gauge_mm"))
    return found


def rows_findings(
    typed: PlateStaticReadings,
    readings: PlateStaticReadings,
    settings: PlateStaticSettings,
    made: Branches,
    *,
    done: bool,
) -> list[Finding]:
    """Return what is wrong with how stages were loaded and read: units, dips, gauges apart, the way down."""
    found: list[Finding] = []
    for i, (as_typed, stage) in enumerate(zip(typed.stages, readings.stages, strict=True)):
        if stage.used and stage.gauge_mm is not None:
            found += _loads(i, stage, settings) + _gauges(i, as_typed, settings)
    for i, pressure, before in made.dips:
        found.append(PRESSURE_DIPS.at(f"stages.{i}.pressure_kpa", number=i + 1, pressure=pressure, before=before))
    if settings.wanted == Wanted.SUBGRADE and settings.nominal_mm != SUBGRADE_PLATE_MM:
        found.append(SUBGRADE_PLATE.at(asked=SUBGRADE_PLATE_MM, size=settings.size_mm))
    elif settings.wanted == Wanted.SUBGRADE and done and made.first[-1][2] < SUBGRADE_SETTLEMENT_MM:
        i, _, mm = made.first[-1]
        found.append(SETTLEMENT_MISSED.at(f"stages.{i}.gauge_mm", mm=mm, asked=SUBGRADE_SETTLEMENT_MM))
    rows = [(f"stages.{i}", stage) for i, stage in enumerate(typed.stages) if stage.used]
    found += load_findings(rows, settings.load_as, plate_area_m2(settings.size_mm), readings.piston_cm2)
    return found + _extent(made, settings, done=done)


def _loads(i: int, stage: Stage, settings: PlateStaticSettings) -> list[Finding]:
    """Return a pressure that is not of the size planned."""
    planned, applied, cell = stage.planned_kpa, stage.pressure_kpa, f"stages.{i}.pressure_kpa"
    as_kn = plate_area_m2(settings.size_mm)
    if not planned or applied is None or abs(applied / planned - 1) <= _APPLIED_OFF:
        return []
    if abs(applied - planned) <= _APPLIED_KPA or abs(applied / (planned * as_kn) - 1) < _KN_NEAR:
        return []
    unit = next((name for name, kpa in _UNITS_KPA.items() if abs(applied * kpa / planned - 1) < _APPLIED_OFF), "")
    return [APPLIED_OFF.at(cell, number=i + 1, applied=applied, planned=planned, slip=f": {unit}?" if unit else ".")]


def _gauges(i: int, typed: Stage, settings: PlateStaticSettings) -> list[Finding]:
    read = [value for value in gauges_of(typed, settings) if value is not None]
    apart, mean = max(read) - min(read), sum(read) / len(read)
    if apart <= max(_GAUGES_MM, _GAUGES_SHARE * abs(mean)):
        return []
    return [GAUGES_APART.at(f"stages.{i}.gauge_mm", number=i + 1, apart=apart, mean=mean)]


def _extent(made: Branches, settings: PlateStaticSettings, *, done: bool) -> list[Finding]:
    """Return whether the first loading ended where it should, and the unloading had its stages."""
    if not made.first or not (made.back or done):
        return []
    found: list[Finding] = []
    i, _, mm = made.first[-1]
    cell, ends, last = f"stages.{i}.gauge_mm", settings.ends_at_mm, settings.last_kpa
    if made.largest_kpa < _NEARLY * last and mm < _NEARLY * ends:
        found.append(LOADED_LOW.at(cell, kpa=made.largest_kpa, mm=mm, last=last, ends=ends))
    reached = next((spot for spot in made.first[:-1] if spot[2] >= ends), None)
    if reached is not None:
        found.append(LOADED_FAR.at(cell, mm=reached[2], kpa=reached[1], ends=ends))
    shares = [p / made.largest_kpa for _, p, _ in made.back]
    missing = [
        f"{100 * share:g}" for share in UNLOADING[:2] if not any(abs(s - share) <= _UNLOADED_NEAR for s in shares)
    ]
    if made.second and missing:
        cell = f"stages.{made.back[-1][0]}.gauge_mm"
        found.append(UNLOADING_COARSE.at(cell, missing=" and ".join(missing), largest=made.largest_kpa))
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
    for (_, p0, s0), (i, p1, s1) in pairwise([*made.first[-1:], *made.back]):
        if p1 < p0 and s1 > s0 + _SETTLES_ON_MM:
            found.append(SETTLES_RELIEVED.at(f"stages.{i}.gauge_mm", p0=p0, p1=p1, s0=s0, s1=s1))
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
    if done and not made.back and settings.wanted == Wanted.MODULI:
        found.append(UNLOADING_MISSING.at())
    ev1, ev2 = first.modulus(settings.reported), second.modulus(settings.reported)
    if done and ev1 and ev2 and ev2 < ev1:
        found.append(SECOND_SOFTER.at(f"stages.{made.back[-1][0]}.gauge_mm", ev1=ev1, ev2=ev2))
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
            wait = f"hold {settings.hold_s:g} s"
            if settings.wanted == Wanted.SUBGRADE:
                wait = f"wait until it settles less than {REST_MM_MIN:g} mm a minute"
            return f"Set {pending.planned_kpa:g} kPa ({words}), {wait}, read the gauge."
        return "" if settings.wanted == Wanted.SUBGRADE else "Load again to the last but one stage."
    return ""

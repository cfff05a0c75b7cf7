"""What can be wrong with a plate test, and what to do next at the plate."""

from itertools import pairwise

import numpy as np

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.plate_static.branches import Branches
from vadum.soil.methods.plate_static.moduli import Loading
from vadum.soil.methods.plate_static.readings import PlateStaticReadings, PlateStaticSettings
from vadum.soil.physics.plate import jack_force_kn, plate_area_m2, pump_pressure_bar

# Distance of wheels or tracks from the plate's edge by plate; DIN 18134 (2012), clause 6.
_REACTION_M = {300: 0.75, 600: 1.10, 762: 1.30}
_ODD_SHARE = 0.06
_SCHOOLS_APART = 0.10


def setup_findings(readings: PlateStaticReadings, settings: PlateStaticSettings) -> list[Finding]:
    """Return what is wrong with plate, bedding, datum and reaction."""
    found: list[Finding] = []
    size, grain = settings.size_mm, readings.largest_particle_mm
    if grain is not None and grain > size / 4:
        larger = {300: "the 600 mm plate", 600: "the 762 mm plate"}.get(size, "another method")
        found.append(
            warn(
                "plate-small",
                f"Grains of {grain:g} mm are more than a quarter of the {size} mm plate.",
                f"Use {larger}.",
                "largest_particle_mm",
            )
        )
    if readings.bedding == "gypsum, not set":
        found.append(
            stop(
                "bedding-soft",
                "The gypsum has not set.",
                "Wait until a thumbnail leaves no mark, then preload and zero again.",
                "bedding",
            )
        )
    if readings.reaction_lifted == "yes":
        found.append(
            stop(
                "reaction-lifted",
                "The reaction lifted: the last pressure was not held.",
                "Unload, bring a heavier reaction, begin again beside this place.",
                "reaction_lifted",
            )
        )
    if readings.tilted == "yes":
        found.append(
            warn("tilted", "The plate tilted.", "Unload, bed the plate level, begin again beside this place.", "tilted")
        )
    if readings.datum_m is not None and readings.datum_m < settings.least_datum_m:
        found.append(
            warn(
                "datum-near",
                f"The datum stands {readings.datum_m:g} m from the plate, at least {settings.least_datum_m:g} m: it"
                " settles with the ground.",
                "Move its feet away and zero again.",
                "datum_m",
            )
        )
    near = _REACTION_M[size]
    if readings.reaction_m is not None and readings.reaction_m < near:
        found.append(
            warn(
                "reaction-near",
                f"The reaction stands {readings.reaction_m:g} m from the plate, at least {near:g} m: it presses on the"
                " same ground.",
                "Move the vehicle away.",
                "reaction_m",
            )
        )
    if readings.preload_s is not None and readings.preload_s < 30:
        found.append(
            warn(
                "preload-short",
                f"The preload was held {readings.preload_s:g} s, at least 30 s.",
                "Preload again, then zero the gauge.",
                "preload_s",
            )
        )
    if settings.gauge == "beam" and not (readings.lever_plate_mm and readings.lever_gauge_mm):
        found.append(
            stop(
                "lever-missing",
                "The beam's lever is not measured: gauge readings are not settlements.",
                "Measure pivot to plate and pivot to gauge.",
                "lever_plate_mm",
            )
        )
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
                stop(
                    "kn-for-kpa",
                    f"Stage {i + 1}: {applied:g} is the force in kN of {planned:g} kPa on this plate.",
                    f"Type {planned:g} kPa, or the force with its unit over the area of {area:.4f} m².",
                    f"stages.{i}.pressure_kpa",
                )
            )
        if stage.hold_s is not None and stage.hold_s < 0.95 * settings.hold_s:
            found.append(
                warn(
                    "stage-short",
                    f"Stage {i + 1} was held {stage.hold_s:g} s, {settings.hold_s:g} s are asked.",
                    "Hold the next ones to the end of the clock.",
                    f"stages.{i}.hold_s",
                )
            )
    found += _settlements(made, settings)
    if made.second and max(p for _, p, _ in made.second) >= 0.99 * made.largest_kpa:
        i = max(made.second, key=lambda spot: spot[1])[0]
        found.append(
            warn(
                "reload-too-far",
                "The second loading goes to the last stage of the first: the ground is loaded anew there.",
                "End it at the last but one; leave this stage out.",
                f"stages.{i}.gauge_mm",
            )
        )
    return found


def _settlements(made: Branches, settings: PlateStaticSettings) -> list[Finding]:
    found: list[Finding] = []
    if made.first and made.first[0][2] > 3 * settings.ends_at_mm:
        i, p, s = made.first[0]
        return [
            stop(
                "divisions-for-mm",
                f"{s:g} mm under {p:g} kPa cannot be: dial divisions?",
                "Type the settlement in mm: divisions of a hundredth over 100.",
                f"stages.{i}.gauge_mm",
            )
        ]
    for branch in (made.first, made.second):
        for (_, p0, s0), (i, p1, s1) in pairwise(branch):
            if p1 > p0 and s1 < s0 - 0.005:
                found.append(
                    stop(
                        "settlement-falls",
                        f"From {p0:g} to {p1:g} kPa the gauge goes back, {s0:.2f} to {s1:.2f} mm.",
                        "Read the gauge again: a turn miscounted, a slipped foot, or the plate tilts.",
                        f"stages.{i}.gauge_mm",
                    )
                )
    return found


def curve_findings(
    made: Branches, first: Loading, second: Loading, settings: PlateStaticSettings, *, done: bool
) -> list[Finding]:
    """Return what is wrong with the curves: too few stages, an odd reading, schools that disagree."""
    found: list[Finding] = []
    if made.back and len(made.first) < settings.least_stages:
        found.append(
            warn(
                "few-stages",
                f"{len(made.first)} stages of first loading, at least {settings.least_stages}.",
                "Take smaller steps at the next place.",
                f"stages.{made.first[-1][0]}.gauge_mm",
            )
        )
    if done and not made.back:
        found.append(
            stop(
                "unloading-missing",
                "No unloading is read: the second loading has no start.",
                "Unload at 50, 25 and 2 % before loading again.",
            )
        )
    for loading, spots, name in ((first, made.first, "first"), (second, made.second, "second")):
        found += _odd(loading, spots, name)
        if loading.curve is not None and loading.quadratic is None:
            found.append(
                stop(
                    "curve-unusable",
                    f"The {name} loading does not settle more with load: no modulus can be had.",
                    "Look for a gauge that sticks; leave odd readings out with a reason.",
                    f"stages.{spots[-1][0]}.gauge_mm",
                )
            )
        if (
            done
            and loading.quadratic
            and loading.secant
            and abs(loading.secant / loading.quadratic - 1) > _SCHOOLS_APART
        ):
            found.append(
                warn(
                    "schools-apart",
                    f"{name.capitalize()} loading: {loading.quadratic:.1f} MPa by the curve, {loading.secant:.1f} MPa"
                    " by the secant.",
                    "Look at the curve: a reading off it, or a plate that bedded in. Leave it out with a reason, or"
                    " test again.",
                    f"stages.{spots[-1][0]}.gauge_mm",
                )
            )
    return found


def _odd(loading: Loading, spots: list[tuple[int, float, float]], name: str) -> list[Finding]:
    if loading.curve is None or len(spots) < 4:
        return []
    off = np.array([s - loading.at(p) for _, p, s in spots])
    span = max(s for _, _, s in spots) - min(s for _, _, s in spots)
    worst = int(np.argmax(np.abs(off)))
    if abs(off[worst]) <= max(0.03, _ODD_SHARE * span):
        return []
    i, p, s = spots[worst]
    return [
        warn(
            "reading-odd",
            f"{s:.2f} mm at {p:g} kPa lies {abs(off[worst]):.2f} mm off the {name} loading's curve.",
            "Read the gauge again; leave it out with a reason if it cannot be right.",
            f"stages.{i}.gauge_mm",
        )
    ]


def apply_words(pressure_kpa: float, readings: PlateStaticReadings, settings: PlateStaticSettings) -> str:
    """Return how a pressure is applied: force of the jack, and oil pressure where the piston is known."""
    force = jack_force_kn(pressure_kpa, plate_area_m2(settings.size_mm))
    pump = f", pump {pump_pressure_bar(force, readings.piston_cm2):.0f} bar" if readings.piston_cm2 else ""
    return f"jack {force:.1f} kN{pump}"


def next_action(
    readings: PlateStaticReadings, settings: PlateStaticSettings, made: Branches, result: Reduction, *, done: bool
) -> str:
    """Return the next thing to do at the plate."""
    worst = next((f for f in result.findings if f.severity == "stop"), None)
    if worst is not None:
        return f"{worst.message} {worst.action}"
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
    warned = next((f for f in result.findings if f.severity == "warn"), None)
    return (
        f"{warned.message} {warned.action}"
        if warned
        else "Done. Unload, then move the reaction. Let a second person check the sheet."
    )

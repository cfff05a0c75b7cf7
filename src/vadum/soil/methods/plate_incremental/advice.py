"""What can be wrong in the pit, and whether to hold or to load."""

from itertools import pairwise
from math import isnan

from vadum.soil.contract.finding import Doubt, Finding
from vadum.soil.methods.plate_incremental.capacity import LEAST_FOR_LINES, Capacity
from vadum.soil.methods.plate_incremental.findings import (
    DIVISIONS_FOR_MM,
    ENDED_EARLY,
    FAILED_WITHOUT_YIELD,
    FEW_INCREMENTS,
    GAUGE_BLANK,
    GAUGE_ODD,
    GAUGES_APART,
    INCREMENT_LARGE,
    KN_FOR_KPA,
    LOADED_AGAIN,
    LOADED_EARLY,
    NEVER_NEAR_YIELD,
    NOT_ZEROED,
    ONE_GAUGE,
    PIT_NARROW,
    PLATE_SMALL,
    REBOUND_MISSING,
    SEATING_HELD,
    SETTLEMENT_FALLS,
    SETTLES_RELIEVED,
    TIME_BACK,
    TIME_TWICE,
    TOO_FEW_FOR_LINES,
    WIDTH_OF_PIT,
)
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    Construction,
    Ended,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)
from vadum.soil.methods.plate_incremental.stages import Stage, increment_kpa, loaded_again, loading, next_pressure
from vadum.soil.physics.plate import jack_force_kn

_ODD_GAUGE_MM = 0.5
# Two steps of a gauge.
_SHIFT_MM = 0.02
# The last increments settle alike, and so many times as much as the first: then the ground fails.
_ALIKE, _SOFTER = 0.1, 3.0
_MOST_FIRST_MM = 20.0
# A plate does not rise under more load; gauges set to zero do not begin further apart.
_FALLS_MM, _ZERO_APART_MM = 0.03, 2.0
# Ground near failure creeps on while little of the load is taken off.
_CREEPS_MM = 0.1


def setup_findings(readings: PlateIncrementalReadings, settings: PlateIncrementalSettings) -> list[Finding]:
    """Return what is wrong with pit, plate and seating."""
    found: list[Finding] = []
    width = settings.width_mm / 1000
    pit, base = readings.pit_width_m, readings.footing_width_m
    if pit is not None and pit < 5 * width - 1e-9:
        found.append(PIT_NARROW.at("pit_width_m", pit=pit, metres=5 * width))
    if pit is not None and base is not None and abs(pit - base) < 1e-9 and abs(base - width) > 1e-9:
        found.append(WIDTH_OF_PIT.at("footing_width_m", base=base))
    grain = readings.largest_particle_mm
    if grain is not None and settings.width_mm < 4 * grain:
        found.append(PLATE_SMALL.at("largest_particle_mm", grain=grain))
    if readings.seating_released == "no":
        found.append(SEATING_HELD.at("seating_released"))
    return found


def stage_findings(
    readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage]
) -> list[Finding]:
    """Return what is wrong with stages and their readings."""
    found = _pressures(readings, settings, made) + _odd_gauges(made) + _blank_gauges(made)
    loaded = loading(made)
    if loaded and loaded[0].settlement_mm[0] > _MOST_FIRST_MM:
        row = loaded[0].rows[0]
        return [DIVISIONS_FOR_MM.at(f"rows.{row}.gauge_a_mm", settlement_mm=loaded[0].settlement_mm[0])]
    for stage in made:
        for (t0, _), (t1, row) in pairwise(zip(stage.minutes, stage.rows, strict=True)):
            if t1 <= t0:
                found.append(
                    (TIME_TWICE if t1 == t0 else TIME_BACK).at(
                        f"rows.{row}.elapsed_min", pressure_kpa=stage.pressure_kpa, t1=t1, t0=t0
                    )
                )
    for stage, after in pairwise(made):
        if not stage.unloading and not after.unloading and stage.rows and not _rests(stage, settings):
            found.append(
                LOADED_EARLY.at(
                    f"rows.{stage.rows[-1]}.elapsed_min",
                    pressure_kpa=stage.pressure_kpa,
                    said=_left(stage, settings),
                    rate=settings.rate,
                )
            )
    for stage, after in pairwise(loaded):
        if after.last_mm < stage.last_mm - _FALLS_MM:
            found.append(_between(SETTLEMENT_FALLS, stage, after))
    for stage, after in pairwise(stage for stage in made if stage.rows):
        if after.unloading and after.pressure_kpa < stage.pressure_kpa and after.last_mm > stage.last_mm + _CREEPS_MM:
            found.append(_between(SETTLES_RELIEVED, stage, after))
    if again := loaded_again(made):
        found.append(LOADED_AGAIN.at(f"rows.{again.first_row}.pressure_kpa", pressure_kpa=again.pressure_kpa))
    if loaded and loaded[0].spread_mm[0] > _ZERO_APART_MM:
        found.append(NOT_ZEROED.at(f"rows.{loaded[0].rows[0]}.gauge_a_mm", apart=loaded[0].spread_mm[0]))
    if loaded and all(sum(value is not None for value in read) == 1 for stage in loaded for read in stage.gauges):
        found.append(ONE_GAUGE.at(f"rows.{loaded[0].rows[0]}.gauge_a_mm"))
    for stage in made:
        if stage.rows:
            spread, mean = stage.spread_mm[-1], abs(stage.last_mm)
            if spread > settings.apart_mm and spread > 0.25 * mean:
                found.append(
                    GAUGES_APART.at(
                        f"rows.{stage.rows[-1]}.gauge_a_mm", pressure_kpa=stage.pressure_kpa, spread=spread, mean=mean
                    )
                )
    return found


def _between(doubt: Doubt, stage: Stage, after: Stage) -> Finding:
    """Return a doubt about how a plate went from one stage to the next."""
    cell = f"rows.{after.rows[-1]}.gauge_a_mm"
    return doubt.at(cell, p0=stage.pressure_kpa, p1=after.pressure_kpa, s0=stage.last_mm, s1=after.last_mm)


def _rests(stage: Stage, settings: PlateIncrementalSettings) -> bool:
    return stage.may_go_on(settings.rate, settings.least_hold_min)


def _left(stage: Stage, settings: PlateIncrementalSettings) -> str:
    """Return how a stage was left before it came to rest."""
    rate = stage.rate_mm_min(settings.rate)
    if rate is None:
        count = len(stage.rows)
        return "after a single reading" if count == 1 else f"after {count} readings, too few or too close to tell"
    if stage.minutes[-1] < settings.least_hold_min:
        return f"after {stage.minutes[-1]:g} of {settings.least_hold_min:g} min"
    return f"at {rate:.3f} mm/min"


def _pressures(
    readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage]
) -> list[Finding]:
    found: list[Finding] = []
    for before, stage in pairwise([None, *made]):
        if stage is None or readings.estimate_kpa is None:
            continue
        base = before.pressure_kpa if before else 0.0
        planned = increment_kpa(readings.estimate_kpa, settings, base)
        meant = base + planned
        if (
            stage.pressure_kpa < base + 0.3 * planned
            and abs(stage.pressure_kpa / (meant * settings.area_m2) - 1) < 0.12
        ):
            found.append(
                KN_FOR_KPA.at(
                    f"rows.{stage.first_row}.pressure_kpa",
                    pressure_kpa=stage.pressure_kpa,
                    meant=meant,
                    area=settings.area_m2,
                )
            )
        elif not stage.unloading and stage.pressure_kpa - base > 1.6 * planned:
            found.append(
                INCREMENT_LARGE.at(
                    f"rows.{stage.first_row}.pressure_kpa", base=base, pressure_kpa=stage.pressure_kpa, planned=planned
                )
            )
    return found


def _odd_gauges(made: list[Stage]) -> list[Finding]:
    """Return a gauge that moves unlike the others between two readings: misread, or its foot slipped."""
    every = [read for stage in made for read in zip(stage.gauges, stage.spread_mm, stage.rows, strict=True)]
    for (before, apart_before, _), (after, apart, row) in pairwise(every):
        if apart_before + apart <= _ODD_GAUGE_MM:
            continue  # then no two can have moved further apart than this
        moved = [
            (b - a, k) for k, (a, b) in enumerate(zip(before, after, strict=True)) if a is not None and b is not None
        ]
        if len(moved) < 3 or max(moved)[0] - min(moved)[0] <= _ODD_GAUGE_MM:
            continue
        middle = sorted(moved)[len(moved) // 2][0]
        step, k = max(moved, key=lambda change: abs(change[0] - middle))
        # A gauge that stands still while the plate moves does not touch it.
        if abs(step - middle) > max(_ODD_GAUGE_MM, abs(middle)) or step == 0:
            return [GAUGE_ODD.at(f"rows.{row}.{GAUGES[k]}", number="ABCD"[k], step=step, middle=middle)]
    return []


def _blank_gauges(made: list[Stage]) -> list[Finding]:
    """Return the first row in which a gauge is missing that was read before, where the mean of the others stands
    elsewhere: a plate never settles quite alike below all gauges."""
    every = [read for stage in made for read in zip(stage.moved_mm, stage.settlement_mm, stage.rows, strict=True)]
    for (before, mean_before, _), (after, mean, row) in pairwise(every):
        blank = [k for k, (a, b) in enumerate(zip(before, after, strict=True)) if isnan(b) and not isnan(a)]
        both = [b - a for a, b in zip(before, after, strict=True) if not isnan(a) and not isnan(b)]
        if not blank or not both:
            continue
        shift = mean - mean_before - sum(both) / len(both)
        if abs(shift) >= _SHIFT_MM:
            cells = [f"rows.{row}.{GAUGES[k]}" for k in blank]
            return [GAUGE_BLANK.at(*cells, number=" and ".join("ABCD"[k] for k in blank), shift=shift)]
    return []


def curve_findings(
    readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage], found_: Capacity
) -> list[Finding]:
    """Return what is wrong with the curve as a whole, once loading has ended."""
    loaded = loading(made)
    ended = readings.ended is not None or any(stage.unloading for stage in made)
    if not ended or not loaded:
        return []
    found: list[Finding] = []
    if len(loaded) < settings.least_stages:
        found.append(
            FEW_INCREMENTS.at(
                f"rows.{loaded[-1].rows[-1]}.pressure_kpa", count=len(loaded), least_stages=settings.least_stages
            )
        )
    if found_.ultimate(settings.construction) is None:
        cell, pressure = f"rows.{loaded[-1].rows[-1]}.pressure_kpa", loaded[-1].pressure_kpa
        by_lines = settings.construction != Construction.WIDTH_10
        if by_lines and len(loaded) < LEAST_FOR_LINES:
            found.append(TOO_FEW_FOR_LINES.at(cell, count=len(loaded)))
        elif by_lines and readings.ended == Ended.FAILURE:
            found.append(FAILED_WITHOUT_YIELD.at(cell, "ended", pressure_kpa=pressure))
        else:
            found.append(NEVER_NEAR_YIELD.at(cell, pressure_kpa=pressure))
    if (
        settings.design_kpa
        and loaded[-1].pressure_kpa < 2 * settings.design_kpa
        and readings.ended != Ended.FAILURE
        and loaded[-1].last_mm < 25
    ):
        found.append(ENDED_EARLY.at("ended", pressure_kpa=loaded[-1].pressure_kpa, design_kpa=settings.design_kpa))
    if not any(stage.unloading for stage in made):
        found.append(REBOUND_MISSING.at("ended"))
    return found


def hold_words(made: list[Stage], settings: PlateIncrementalSettings) -> str:
    """Return the decision for the stage in hand: hold, for how long, or go on."""
    stage = made[-1]
    spread = stage.spread_mm[-1] if stage.spread_mm else 0.0
    tilt = f"tilt {spread:.2f} mm{', fine' if spread <= settings.apart_mm else ': look at the jack'}"
    if _rests(stage, settings):
        rate = stage.rate_mm_min(settings.rate)
        said = f"{rate:.3f} mm/min" if rate is not None else "the time is over"
        return f"Next load: {said}, the rule is met; {tilt}." + _failing_words(made)
    ready = stage.ready_at_min(settings.rate, settings.least_hold_min)
    wait = max(1.0, ready - stage.minutes[-1]) if ready is not None and stage.minutes else None
    below = settings.rate if settings.rate != Rate.DAY else "24 hours"
    if wait is None:
        minutes = ", ".join(f"{m:g}" for m in settings.minutes)
        return f"Hold this load, read at {minutes} min" + (f"; {tilt}." if stage.rows else ".")
    words = f"{wait:.0f} min" if wait < 100 else f"{wait / 60:.0f} h"
    return f"Hold this load. {'Below ' if settings.rate != Rate.DAY else ''}{below} in about {words}; {tilt}."


def _failing_words(made: list[Stage]) -> str:
    """Say that the ground fails where load over settlement reached a least and steady value (ASTM D1194, when to end
    the test): the last two increments alike, far softer than the first."""
    ends = [(0.0, 0.0), *((stage.pressure_kpa, stage.last_mm) for stage in loading(made))]
    softness = [(s1 - s0) / (p1 - p0) for (p0, s0), (p1, s1) in pairwise(ends) if p1 > p0]
    if len(softness) < LEAST_FOR_LINES:
        return ""
    first, *_, before, last = softness
    if first <= 0 or last < _SOFTER * first or abs(last - before) > _ALIKE * last:
        return ""
    return (
        f" The last two loads settled alike, {last / first:.0f} times as much as the first: say failure under loading"
        " ended, or go on to 25 mm."
    )


def jack_words(pressure_kpa: float, settings: PlateIncrementalSettings) -> str:
    """Return the jack's force for a pressure."""
    return f"jack {jack_force_kn(pressure_kpa, settings.area_m2):.1f} kN"


def load_words(pressure_kpa: float, settings: PlateIncrementalSettings) -> str:
    """Return how the next pressure is applied."""
    return f"{pressure_kpa:g} kPa, {jack_words(pressure_kpa, settings)}"


def next_step(readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, made: list[Stage]) -> str:
    """Return the next thing to do in the pit."""
    if not made:
        if readings.seating_kpa is None:
            return "Bed the plate on level ground, seat with 7 kPa, release, zero all gauges."
        planned = next_pressure(readings, settings, made)
        return (
            f"Set {load_words(planned, settings)}; read all gauges at 1 min."
            if planned
            else "Estimate the safe pressure; the increments are planned by it."
        )
    stage = made[-1]
    if readings.ended is None and not stage.unloading:
        if stage.rows and stage.last_mm >= 25:
            return "25 mm are reached: say so under loading ended, then unload in steps and read the rebound."
        if not stage.rows or not _rests(stage, settings):
            return hold_words(made, settings)
        planned = next_pressure(readings, settings, made)
        return (
            f"{hold_words(made, settings)} Set {load_words(planned, settings)}."
            if planned
            else hold_words(made, settings)
        )
    if not any(s.unloading for s in made):
        return "Unload to half, a quarter and nothing; read the gauges each time."
    if readings.footing_width_m is None or readings.soil is None:
        return (
            "Type the footing's width (never the pit's) and say sand or clay: the plate is taken to the footing by"
            " both."
        )
    return ""

"""What can be wrong in a cylinder, and what to do about it now."""

from itertools import pairwise

import numpy as np

from vadum.soil.bench.particle import assumed_note
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.hydrometer.findings import (
    BEGINS_LATE,
    BELOW_CORRECTION,
    CORRECTION_EXTENDED,
    CORRECTION_HALF,
    CORRECTION_SIGN,
    CORRECTION_UNUSUAL,
    CORRECTIONS_APART,
    CORRECTIONS_MISSING,
    DRY_MASSES_DIFFER,
    FINER_ABOVE_ALL,
    FINER_RISES,
    FLOCCULATED,
    INSTRUMENT_SCALE,
    LOG_ENDS,
    MASS_UNUSUAL,
    OFF_TIME,
    OUTSIDE_CORRECTIONS,
    PASSING_ASSUMED,
    READING_MISSED,
    SOIL_ON_WALL,
    TEMPERATURE_DRIFT,
    TIME_FALLS,
)
from vadum.soil.methods.hydrometer.readings import HydrometerReadings, HydrometerSettings
from vadum.soil.methods.hydrometer.suspension import Suspension

# A 152H reads about so much less in warmer water, g/L per degree (thinner water and wider glass; ASTM D7928 annex).
_PER_DEGREE, _OFF_LINE = 0.24, 1.0
# What the dispersant solution can read: 152H in g/L, 151H as specific gravity.
_COMPOSITE = {"152H": (-1.0, 12.0), "151H": (0.998, 1.007)}
_SCALE = {"152H": (-5.0, 65.0), "151H": (0.99, 1.05)}
_CLAY_MM = 0.002
# Silt is coarse from here to 0.063 mm; ISO 14688-1 (2017), table 1.
_COARSE_SILT_MM = 0.02
_RISE_PERCENT = 1.0
# Two ways to the dry mass of one specimen agree to what a tin's water content is known.
_SAME_MASS = 0.01


def findings_of(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> list[Finding]:
    """Return everything doubtful about a cylinder."""
    begun = len(found) > 0 or any(r.hydrometer is not None for r in readings.sedimentation)
    if not begun:
        return []
    return [
        *_instrument(readings, settings, found),
        *_specimen(readings, settings, found),
        *_corrections(readings, settings, found),
        *_clock(readings, settings),
        *_percentages(found),
        *_cylinder(readings, settings, found),
        *_begins(found),
        *_ends(readings, found),
    ]


def _instrument(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> list[Finding]:
    low, high = _SCALE[settings.instrument]
    odd = np.flatnonzero((found.reading < low) | (found.reading > high))
    if not len(odd):
        return []
    cells = [f"sedimentation.{i}.hydrometer" for i in found.rows[odd] if i >= 0]
    value = float(found.reading[odd[0]])
    return [INSTRUMENT_SCALE.at(*cells[:1], read=value, instrument=settings.instrument, low=low, high=high)]


def _specimen(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> list[Finding]:
    findings = []
    dry, worked_out = readings.mass_dry_g, readings.worked_out_g
    if dry and worked_out and abs(worked_out / dry - 1) > _SAME_MASS:
        air, water = readings.mass_air_dry_g, readings.hygroscopic_percent
        findings.append(
            DRY_MASSES_DIFFER.at(
                "mass_dry_g",
                "mass_air_dry_g",
                "hygroscopic_percent",
                dry=dry,
                air=air,
                water=water,
                worked_out=worked_out,
            )
        )
    mass = readings.dry_mass_g
    if mass is not None and not 20 <= mass <= 150:
        findings.append(MASS_UNUSUAL.at("mass_dry_g", mass=mass))
    if found.passing is None:
        findings.append(PASSING_ASSUMED.at("passing_percent", specimen_mm=settings.specimen_mm))
    return findings + assumed_note(found.gs)


def _corrections(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> list[Finding]:
    known = [
        (i, c)
        for i, c in enumerate(readings.corrections)
        if c.used and c.hydrometer is not None and c.temperature_c is not None
    ]
    if not known:
        return [CORRECTIONS_MISSING.at("corrections.0.hydrometer")]
    low, high = _COMPOSITE[settings.instrument]
    findings = [
        CORRECTION_HALF.at(f"corrections.{i}.{'temperature_c' if c.temperature_c is None else 'hydrometer'}")
        for i, c in enumerate(readings.corrections)
        if c.used and (c.temperature_c is None) != (c.hydrometer is None)
    ]
    findings += [
        (CORRECTION_SIGN if (c.hydrometer or 0.0) < low else CORRECTION_UNUSUAL).at(
            f"corrections.{i}.hydrometer", hydrometer=c.hydrometer, low=low, high=high, instrument=settings.instrument
        )
        for i, c in known
        if not low <= (c.hydrometer or 0.0) <= high
    ]
    by_temperature = sorted(known, key=lambda one: one[1].temperature_c or 0.0)
    for (_, a), (i, b) in pairwise(by_temperature):
        rise, change = (
            (b.temperature_c or 0.0) - (a.temperature_c or 0.0),
            (b.hydrometer or 0.0) - (a.hydrometer or 0.0),
        )
        about = -_PER_DEGREE * rise
        if settings.instrument == "152H" and abs(change - about) > _OFF_LINE:
            findings.append(
                CORRECTIONS_APART.at(
                    f"corrections.{i}.hydrometer",
                    from_c=a.temperature_c,
                    to_c=b.temperature_c,
                    first=a.hydrometer,
                    last=b.hydrometer,
                    about=(a.hydrometer or 0.0) + about,
                )
            )
    outside = np.flatnonzero(~found.within)
    if len(outside):
        rows = sorted({int(found.rows[k]) for k in outside if found.rows[k] >= 0})
        span = found.temperature_c[outside]
        said = f"{span.min():g}" + (f" to {span.max():g}" if np.ptp(span) > 0.05 else "")
        temps = sorted(c.temperature_c for _, c in known if c.temperature_c is not None)
        measured = f"{temps[0]:g}" + (f" to {temps[-1]:g}" if len(temps) > 1 else "")
        cells = [f"sedimentation.{i}.temperature_c" for i in rows[:1]] if len(rows) == 1 else []
        if readings.outside_because:
            findings.append(
                CORRECTION_EXTENDED.at(
                    *cells,
                    counted=_counted(len(outside)),
                    said=said,
                    measured=measured,
                    outside_because=readings.outside_because,
                )
            )
        else:
            findings.append(
                OUTSIDE_CORRECTIONS.at(*cells, counted=_counted(len(outside)), said=said, measured=measured)
            )
    return findings


def _counted(n: int) -> str:
    return "One reading" if n == 1 else f"{n} readings"


def _clock(readings: HydrometerReadings, settings: HydrometerSettings) -> list[Finding]:
    findings: list[Finding] = []
    taken = [(i, r) for i, r in enumerate(readings.sedimentation) if r.used and r.hydrometer is not None]
    for i, row in taken:
        due, at = row.due_min, row.elapsed_min
        if due and at is not None and abs(at - due) > settings.late_percent / 100 * due:
            word = "late" if at > due else "early"
            findings.append(OFF_TIME.at(f"sedimentation.{i}.elapsed_min", due=due, at=at, word=word))
    times = [(i, row.minutes) for i, row in taken if row.minutes is not None]
    for (_, before), (i, after) in pairwise(times):
        if after <= before:
            findings.append(
                TIME_FALLS.at(
                    f"sedimentation.{i}."
                    + ("due_min" if readings.sedimentation[i].elapsed_min is None else "elapsed_min"),
                    after=after,
                    before=before,
                )
            )
    last = max((i for i, _ in taken), default=-1)
    missed = [
        r for i, r in enumerate(readings.sedimentation) if i < last and r.due_min and r.hydrometer is None and r.used
    ]
    if missed:
        names = ", ".join(f"{r.due_min:g}" for r in missed)
        findings.append(READING_MISSED.at(names=names))
    return findings


def _percentages(found: Suspension) -> list[Finding]:
    findings: list[Finding] = []
    finer, rows = found.finer_percent, found.rows
    share = found.passing.value if found.passing else 100.0
    over = np.flatnonzero(finer > share + 1.0)
    if len(over):
        cells = [f"sedimentation.{rows[k]}.hydrometer" for k in over[:1] if rows[k] >= 0]
        findings.append(FINER_ABOVE_ALL.at(*cells, largest=finer[over].max(), share=share))
    below = np.flatnonzero(finer < -0.5)
    if len(below):
        cells = [f"sedimentation.{rows[k]}.hydrometer" for k in below[:1] if rows[k] >= 0]
        findings.append(BELOW_CORRECTION.at(*cells, counted=_counted(len(below))))
    for part in (rows >= 0, rows < 0):
        findings += _rising(found, np.flatnonzero(part & np.isfinite(finer)))
    return findings


def _begins(found: Suspension) -> list[Finding]:
    """Return that the coarse silt had settled before the first reading, by hand or by a logger."""
    if not found.sound.any() or found.diameter_mm[found.sound].max() >= _COARSE_SILT_MM:
        return []
    first = np.flatnonzero(found.sound)[np.argmax(found.diameter_mm[found.sound])]
    row = found.rows[first]
    cell = f"sedimentation.{row}.hydrometer" if row >= 0 else "log"
    return [BEGINS_LATE.at(cell, minutes=found.minutes[first], coarsest=found.diameter_mm[first])]


def _ends(readings: HydrometerReadings, found: Suspension) -> list[Finding]:
    """Return that a logger was stopped before the clay was read, or that its clock counts in another unit."""
    logged = np.flatnonzero((found.rows < 0) & found.sound)
    if readings.log is None or not len(logged) or found.diameter_mm[found.sound].min() <= _CLAY_MM:
        return []
    return [LOG_ENDS.at("log", minutes=found.minutes[logged].max(), finest=found.diameter_mm[logged].min())]


def _rising(found: Suspension, which: "np.ndarray") -> list[Finding]:
    """Return findings where percent finer rises with time, among hand-kept or among logged readings."""
    if len(which) < 2:
        return []
    finer = found.finer_percent[which]
    # Against the lowest seen so far, so that a slow creep upward counts as well as a jump.
    rise = finer[1:] - np.minimum.accumulate(finer)[:-1]
    up = np.flatnonzero(rise > _RISE_PERCENT)
    if not len(up):
        return []
    at = which[up[0] + 1]
    hand = found.rows[at] >= 0
    many = f"{len(up)} readings" if len(up) > 1 else f"The reading at {found.minutes[at]:g} min"
    return [
        FINER_RISES.at(
            *[f"sedimentation.{found.rows[at]}.hydrometer"] if hand else [],
            many=many,
            lie="rise" if len(up) > 1 else "rises",
            largest=rise[up].max(),
        )
    ]


def _cylinder(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> list[Finding]:
    findings: list[Finding] = []
    if len(found) > 1 and np.ptp(found.temperature_c) > settings.drift_c:
        findings.append(
            TEMPERATURE_DRIFT.at(
                least=found.temperature_c.min(), largest=found.temperature_c.max(), drift_c=settings.drift_c
            )
        )
    if readings.clear_layer == "yes":
        findings.append(FLOCCULATED.at("clear_layer"))
    if readings.soil_on_wall == "yes":
        findings.append(SOIL_ON_WALL.at("soil_on_wall"))
    return findings


def next_step(readings: HydrometerReadings, settings: HydrometerSettings, found: Suspension) -> str:
    """Return what to do now, in one sentence."""
    if readings.dry_mass_g is None and not len(found):
        return "Weigh about 50 g of dry soil (100 g if sandy), add 125 mL of 40 g/L dispersant and soak for 16 h."
    if readings.dry_mass_g is None:
        return "Enter the dry mass of soil in the cylinder, or the air-dry mass with its water content."
    known = [c for c in readings.corrections if c.hydrometer is not None and c.temperature_c is not None]
    if len(known) < 2 and readings.log is None:
        which = "a second temperature" if known else "two temperatures, below and above the test's"
        return f"Read the hydrometer in the dispersant solution at {which}."
    if readings.log is not None:
        return ""
    last = max((r.minutes for r in readings.sedimentation if r.hydrometer is not None and r.minutes), default=0.0)
    planned = [r.due_min for r in readings.sedimentation if r.due_min and r.used] or list(settings.times)
    coming = next((due for due in planned if due > last), None)
    if coming is None:
        return ""
    if last == 0.0:
        return f"Mix, turn 60 times in a minute, set down, start the clock: first reading at {coming:g} min."
    return f"Next reading at {_span(coming)}: insert the hydrometer 20–30 s before, then take it out and spin it clean."


def _span(minutes: float) -> str:
    return f"{minutes:g} min" if minutes < 120 else f"{minutes / 60:g} h"


def afterwards(readings: HydrometerReadings) -> str:
    """Return what to do once all is read."""
    if readings.log is not None:
        return "Log read. Wash the soil out over 0.075 mm and sieve it."
    return "Readings done. Wash the soil out over 0.075 mm, dry and sieve it."

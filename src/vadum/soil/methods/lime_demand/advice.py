"""What can be wrong at the bottles, and what to do next."""

from collections import Counter
from itertools import pairwise

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.lime_demand.bottles import Bottle, holds_lime_only, wanted
from vadum.soil.methods.lime_demand.equations import LIME_SATURATED_PH, Decision, slope_percent
from vadum.soil.methods.lime_demand.findings import (
    ABOVE_LIME_ONLY,
    BUFFER_OFF,
    BUFFER_SPENT,
    CALIBRATED_ONCE,
    DRIED_CLAY,
    DRIED_HOT,
    EARLY,
    FEW_BOTTLES,
    FIRST_REACHES,
    LATE,
    LIME_MASS,
    LIME_ONLY_APART,
    LIME_ONLY_OFF,
    LIME_PERCENT_MISSING,
    NO_SLOPE,
    NO_THIRD,
    NOT_AT_25,
    NOT_BRACKETING,
    NOT_CALIBRATED,
    NOT_DECLARED,
    OFFSET,
    ONLY_WITH_SOIL,
    PERCENT_TWICE,
    PH_FALLS,
    SINGLE_BUFFER,
    SLOPE,
    SOIL_MASS,
)
from vadum.soil.methods.lime_demand.readings import (
    PLAN_PERCENT,
    CalibrationRow,
    DriedIn,
    LimeReadings,
    LimeSettings,
    LimeSoil,
    UpperBuffer,
)

# ASTM D6276: lime only reads 12.45 at 25 degrees; a meter off by more cannot tell 12.30 from 12.40.
_OFF_STOP, _OFF_WARN = 0.10, 0.05
_ABOVE, _ROOM_C, _FEWEST, _ENOUGH_PH = 0.03, (24.0, 26.0), 4, 12.40
_BUFFER_OFF, _BUFFERS, _OFFSET_MV, _STEEPEST = 0.03, 2, 30.0, 105.0
_SOIL_OFF, _LIME_OFF = 0.2, 0.02


def is_sound(read: list[Bottle]) -> bool:
    """Return whether lime only was read, and every bottle of it within 0.05 of 12.45."""
    alone = [b for b in read if b.percent is None]
    return bool(alone) and all(abs(b.ph25 - LIME_SATURATED_PH) <= _OFF_WARN + 1e-9 for b in alone)


def meter_findings(readings: LimeReadings, settings: LimeSettings, read: list[Bottle]) -> list[Finding]:
    """Return what is wrong with the meter: buffers, slope, lime only."""
    found: list[Finding] = []
    rows = [
        (i, row)
        for i, row in enumerate(readings.calibration)
        if row.used and row.buffer_ph is not None and row.shown_ph is not None
    ]
    buffers = [row.buffer_ph or 0.0 for _, row in rows]
    if read and not rows:
        found.append(NOT_CALIBRATED.at("calibration.0.buffer_ph"))
    if rows and settings.upper_buffer != UpperBuffer.SINGLE_12:
        upper = float(settings.upper_buffer)
        if min(buffers) > 10.1 or max(buffers) < upper - 0.05:
            found.append(
                NOT_BRACKETING.at(
                    f"calibration.{rows[-1][0]}.buffer_ph", least=min(buffers), largest=max(buffers), upper=upper
                )
            )
        else:
            found += _twice(rows, read)
    elif rows:
        found.append(SINGLE_BUFFER.at(f"calibration.{rows[0][0]}.buffer_ph"))
    for i, row in rows:
        off = (row.shown_ph or 0.0) - (row.buffer_ph or 0.0)
        if abs(off) > _BUFFER_OFF:
            found.append(BUFFER_OFF.at(f"calibration.{i}.shown_ph", shown_ph=row.shown_ph, buffer_ph=row.buffer_ph))
        if row.in_date == "no":
            found.append(BUFFER_SPENT.at(f"calibration.{i}.in_date", buffer_ph=row.buffer_ph))
    return found + _electrode(readings, settings) + _lime_only(read)


def _electrode(readings: LimeReadings, settings: LimeSettings) -> list[Finding]:
    """Return what slope and offset say of the electrode; a meter tells its slope in percent or in mV per pH."""
    found: list[Finding] = []
    by_mv = None if readings.slope_mv is None else slope_percent(readings.slope_mv)
    for cell, slope in (("slope_percent", readings.slope_percent), ("slope_mv", by_mv)):
        if slope is not None and not settings.least_slope_percent <= slope <= _STEEPEST:
            found.append(SLOPE.at(cell, slope_percent=slope))
    if readings.offset_mv is not None and abs(readings.offset_mv) > _OFFSET_MV:
        found.append(OFFSET.at("offset_mv", offset_mv=readings.offset_mv, most=_OFFSET_MV))
    if readings.bottles and readings.slope_percent is None and readings.slope_mv is None:
        found.append(NO_SLOPE.at("slope_percent", "slope_mv"))
    return found


def _twice(rows: list[tuple[int, CalibrationRow]], read: list[Bottle]) -> list[Finding]:
    """Return what a calibration lacks once the bottles are read: each buffer a second time, a third one as a check."""
    if not read:
        return []
    times = Counter(round(row.buffer_ph or 0.0, 1) for _, row in rows)
    cell = f"calibration.{rows[-1][0]}.buffer_ph"
    found = [CALIBRATED_ONCE.at(cell)] if sum(count > 1 for count in times.values()) < _BUFFERS else []
    return found + ([NO_THIRD.at(cell)] if len(times) <= _BUFFERS else [])


def _lime_only(read: list[Bottle]) -> list[Finding]:
    """Return what every bottle of lime alone says of the meter, and which soil reads above it."""
    alone = [b for b in read if b.percent is None]
    found: list[Finding] = []
    for bottle in alone:
        off, cell = abs(bottle.ph25 - LIME_SATURATED_PH), f"bottles.{bottle.row}.ph"
        if off > _OFF_STOP + 1e-9:
            found.append(LIME_ONLY_OFF.at(cell, ph25=bottle.ph25))
        elif off > _OFF_WARN + 1e-9:
            found.append(LIME_ONLY_APART.at(cell, ph25=bottle.ph25))
    if not alone:
        return found
    most = max(b.ph25 for b in alone)
    above = max((b for b in read if b.percent is not None), key=lambda b: b.ph25, default=None)
    if above is not None and above.ph25 > most + _ABOVE:
        values = {"percent": above.percent, "ph25": above.ph25, "alone": most}
        found.append(ABOVE_LIME_ONLY.at(f"bottles.{above.row}.ph", **values))
    return found


def series_findings(readings: LimeReadings, read: list[Bottle], *, done: bool) -> list[Finding]:
    """Return what is wrong with the series: read too warm or cold, too few bottles, the first one enough."""
    found: list[Finding] = []
    soils = sorted((b for b in read if b.percent is not None), key=lambda b: b.percent or 0.0)
    for bottle in read:
        c = readings.bottles[bottle.row].temperature_c
        if c is not None and not _ROOM_C[0] <= c <= _ROOM_C[1]:
            found.append(
                NOT_AT_25.at(
                    f"bottles.{bottle.row}.temperature_c",
                    bottle="Lime only" if bottle.percent is None else f"{bottle.percent:g} %",
                    c=c,
                )
            )
    if done and soils and len(soils) < _FEWEST:
        found.append(FEW_BOTTLES.at(f"bottles.{soils[-1].row}.ph", count=len(soils)))
    if soils and soils[0].ph25 >= _ENOUGH_PH:
        first = soils[0]
        found.append(FIRST_REACHES.at(f"bottles.{first.row}.ph", percent=first.percent, ph25=first.ph25))
    return found


def bottle_findings(readings: LimeReadings, settings: LimeSettings, read: list[Bottle]) -> list[Finding]:
    """Return what is wrong with masses, times and the order of the bottles."""
    found: list[Finding] = []
    if readings.dried == DriedIn.HOTTER:
        found.append(DRIED_HOT.at("dried"))
    if readings.dried == DriedIn.OVEN_60 and readings.soil == LimeSoil.FAT_CLAY:
        found.append(DRIED_CLAY.at("dried"))
    for i, row in enumerate(readings.bottles):
        if not row.used:
            continue
        if row.only == "yes" and (row.mass_soil_g or row.lime_percent is not None):
            found.append(ONLY_WITH_SOIL.at(f"bottles.{i}.only", bottle=i + 1))
        elif holds_lime_only(row) and row.only is None and row.ph is not None:
            found.append(NOT_DECLARED.at(f"bottles.{i}.only", bottle=i + 1))
        elif row.lime_percent is None and row.mass_soil_g:
            found.append(LIME_PERCENT_MISSING.at(f"bottles.{i}.lime_percent", bottle=i + 1))
        soil, lime = wanted(row, readings, settings)
        if soil is not None and row.mass_soil_g is not None and abs(row.mass_soil_g - soil) > _SOIL_OFF:
            found.append(
                SOIL_MASS.at(
                    f"bottles.{i}.mass_soil_g",
                    lime_percent=row.lime_percent,
                    mass_soil_g=row.mass_soil_g,
                    soil=soil,
                    dry_g=settings.dry_g,
                )
            )
        if lime is not None and row.mass_lime_g is not None and abs(row.mass_lime_g - lime) > _LIME_OFF:
            found.append(
                LIME_MASS.at(
                    f"bottles.{i}.mass_lime_g", lime_percent=row.lime_percent, mass_lime_g=row.mass_lime_g, lime=lime
                )
            )
    return found + _times(readings, settings) + _twice_of_one(read) + _falling(read)


def _times(readings: LimeReadings, settings: LimeSettings) -> list[Finding]:
    times = [
        (i, row.read_min)
        for i, row in enumerate(readings.bottles)
        if row.used and row.read_min is not None and row.ph is not None
    ]
    found: list[Finding] = []
    for i, at in times:
        if at < settings.read_from_min - 1:
            found.append(EARLY.at(f"bottles.{i}.read_min", at=at, read_from_min=settings.read_from_min))
    if times and max(at for _, at in times) > settings.read_from_min + settings.read_within_min + 1e-9:
        i, last = max(times, key=lambda read: read[1])
        found.append(
            LATE.at(f"bottles.{i}.read_min", last=last, minutes=settings.read_from_min + settings.read_within_min)
        )
    return found


def _twice_of_one(read: list[Bottle]) -> list[Finding]:
    """Return bottles that hold what another one holds: the demand is the least lime, so a wrong one decides it."""
    times = Counter(b.percent for b in read if b.percent is not None)
    last = {b.percent: b.row for b in read}
    return [
        PERCENT_TWICE.at(f"bottles.{last[percent]}.lime_percent", percent=percent)
        for percent, count in times.items()
        if count > 1
    ]


def _falling(read: list[Bottle]) -> list[Finding]:
    soils = sorted((b for b in read if b.percent is not None), key=lambda b: b.percent or 0.0)
    for before, after in pairwise(soils):
        if after.ph25 < before.ph25 - 0.04:
            return [
                PH_FALLS.at(
                    f"bottles.{after.row}.ph",
                    percent=after.percent,
                    ph25=after.ph25,
                    before_percent=before.percent,
                    before_ph25=before.ph25,
                )
            ]
    return []


def next_step(readings: LimeReadings, settings: LimeSettings, read: list[Bottle], decision: Decision) -> str:
    """Return the next thing to do."""
    if readings.water_content_percent is None:
        return "Goggles and gloves on. Take soil below 0.425 mm, air-dried; type its water content."
    if not readings.bottles:
        soil = settings.dry_g * (1 + readings.water_content_percent / 100)
        masses = ", ".join(f"{settings.dry_g * p / 100:.2f}" for p in PLAN_PERCENT)
        return f"2.0 g of lime only into the first bottle; {soil:.1f} g of soil into each other, {masses} g of lime."
    if not any(row.shown_ph is not None for row in readings.calibration):
        return (
            "100 mL of water without carbon dioxide, shake 30 s at once, then 30 s every 10 min for an hour. Calibrate"
            " the meter meanwhile."
        )
    unread = [(i, row) for i, row in enumerate(readings.bottles, 1) if row.used and row.ph is None and not row.empty]
    if unread:
        alone = any(holds_lime_only(row) for _, row in unread)
        number, first = unread[0]
        known = f"the bottle with {first.lime_percent:g} %" if first.lime_percent is not None else f"bottle {number}"
        bottle, then = ("the bottle with lime only", "then the others") if alone else (known, "on")
        return (
            f"Read {bottle} from {settings.read_from_min:g} min on, {then} from low to high without"
            f" rinsing, all within {settings.read_within_min:g} min."
        )
    if not any(b.percent is None for b in read):
        return "The bottle with lime only is missing: 2.0 g of lime in 100 mL, it must read 12.45."
    if decision.percent is None:
        return decision.words
    return ""

"""What can be wrong at the cylinders, and what to do next."""

import numpy as np

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.falling_head.cylinders import Place, cylinder_of, deficit_of
from vadum.soil.methods.falling_head.findings import (
    CLAY_IN_MINUTES,
    DIAL_MISREAD,
    FIT_POOR,
    FRONT_INSIDE,
    GAP,
    HEAD_RISING,
    KS_FOR_SOIL,
    LEAK_AT_RIM,
    MOISTURE_HIGH,
    MOISTURE_NOT_RISEN,
    MORE_THAN_PORES,
    NO_START,
    RIM_LEAKS,
    STANDS,
    START_LOW,
    STOPPED_EARLY,
    TIME_BACK,
    TIME_TWICE,
)
from vadum.soil.methods.falling_head.readings import FallingHeadReadings, FallingHeadSettings, Moisture
from vadum.soil.numbers.odd import off_neighbours, scatter_of
from vadum.soil.physics.phases import WATER

# From 10⁻⁶ m/s up for sand, 10⁻⁸ to 10⁻⁴ for silt, 10⁻⁵ at most for clay with its cracks (EN 1997-2, annex).
_KS_MM_H = {"sand": (3.6, 36000.0), "silt": (0.036, 360.0), "clay": (0.0036, 36.0)}
_DIAL_TOP = 10.0
_WETTEST_PERCENT = 70.0
_EMPTY_SHARE = 0.06
_CLAY_MM_H, _CLAY_MIN = 3.6, 60.0
_LEAK_TIMES, _LEAK_MM = 1.4, 5.0
_POOR_MM = 6.0
_GRAINS, _FULL_PERCENT = 2.70, 5.0
_TREMBLES, _STOOD = 6.0, 5
_GAP_TIMES, _GAP_FEWEST = 20.0, 20
# Who reads by hand reads each twentieth to tenth of the fall.
_GAP_FALL, _FALLS_FEWEST = 0.4, 6


def soil_findings(readings: FallingHeadReadings, ks_mm_h: float) -> list[Finding]:
    """Return a doubt where the ground named does not conduct water so."""
    if readings.soil is None:
        return []
    low, high = _KS_MM_H[readings.soil]
    if low <= ks_mm_h <= high:
        return []
    return [KS_FOR_SOIL.at("soil", ks=ks_mm_h, soil=readings.soil, low=low, high=high)]


def moisture_findings(readings: FallingHeadReadings, settings: FallingHeadSettings, porosity: float) -> list[Finding]:
    """Return what is wrong with the moistures and the set-up."""
    found: list[Finding] = []
    dial, by_mass = settings.moisture == Moisture.DIAL, settings.moisture == Moisture.MASS
    dry = readings.dry_density_g_cm3
    for i, row in enumerate(readings.cylinders):
        if not row.used:
            continue
        for name in ("moisture_before", "moisture_after"):
            value, cell = getattr(row, name), f"cylinders.{i}.{name}"
            if value is not None and dial and value > _DIAL_TOP:
                found.append(DIAL_MISREAD.at(cell, number=i + 1, dial=value, rather=value / 10))
            if value is not None and by_mass and dry is not None:
                held, pores = value * dry / WATER, 100 * (1 - dry / (_GRAINS * WATER))
                if held > pores + _FULL_PERCENT:
                    values = {"number": i + 1, "moisture": value, "held": held, "pores": pores}
                    found.append(MORE_THAN_PORES.at(cell, **values))
            elif value is not None and not dial and value > _WETTEST_PERCENT:
                found.append(MOISTURE_HIGH.at(cell, number=i + 1, moisture=value))
        deficit = deficit_of(row, readings, settings, porosity)
        if deficit is not None and deficit <= 0:
            found.append(
                MOISTURE_NOT_RISEN.at(
                    f"cylinders.{i}.moisture_after",
                    number=i + 1,
                    moisture_after=row.moisture_after,
                    moisture_before=row.moisture_before,
                )
            )
    if readings.sealed == "no":
        found.append(RIM_LEAKS.at("sealed"))
    return found


def record_findings(made: list[Place], settings: FallingHeadSettings, readings: FallingHeadReadings) -> list[Finding]:
    """Return what is wrong with the records of heads."""
    found: list[Finding] = []
    for place in made:
        found += _order(place, settings) + _start(place, settings) + _end(place, readings)
    return found


def _order(place: Place, settings: FallingHeadSettings) -> list[Finding]:
    back = np.flatnonzero(np.diff(place.minutes) <= 0)
    if len(back):
        k = int(back[0]) + 1
        return [
            (TIME_TWICE if place.minutes[k] == place.minutes[k - 1] else TIME_BACK).at(
                _cell(place, k, "elapsed_min"),
                number=place.number,
                minute=place.minutes[k],
                earlier=place.minutes[k - 1],
            )
        ]
    stood = _stands(place, settings)
    if stood is not None:
        values = {"number": place.number, "head": place.head_mm[-1], "minute": place.minutes[stood]}
        return [STANDS.at(_cell(place, stood, "head_mm"), **values)]
    gap = _gap(place, settings)
    if gap is not None:
        values = {"number": place.number, "from_min": place.minutes[gap - 1], "to_min": place.minutes[gap]}
        return [GAP.at(_cell(place, gap, "elapsed_min"), **values)]
    # A sensor's readings tremble about their curve; water that was added stays.
    tremble = scatter_of(off_neighbours(place.minutes, place.head_mm)) if place.rows[0] < 0 else 0.0
    least = max(1.5 * settings.resolution_mm, _TREMBLES * tremble)
    rises = np.flatnonzero(np.diff(place.head_mm) > least)
    if len(rises):
        k = int(rises[0]) + 1
        return [
            HEAD_RISING.at(
                _cell(place, k, "head_mm"),
                number=place.number,
                before=place.head_mm[k - 1],
                after=place.head_mm[k],
                minute=place.minutes[k],
            )
        ]
    return []


def _stands(place: Place, settings: FallingHeadSettings) -> int | None:
    """Return where a head begins to stand still with water left, after it had fallen; None where it does not."""
    last = float(place.head_mm[-1])
    moved = np.flatnonzero(np.abs(place.head_mm - last) > settings.resolution_mm)
    if not len(moved) or last <= max(10.0, _EMPTY_SHARE * float(place.head_mm[0])):
        return None
    first = int(moved[-1]) + 1
    speed = (float(place.head_mm[0]) - last) / float(place.minutes[first]) if place.minutes[first] > 0 else 0.0
    time = float(place.minutes[-1] - place.minutes[first])
    # At a tenth of the mean speed so far it would have moved by many steps of the scale.
    long = len(place.head_mm) - first >= _STOOD and 0.1 * speed * time > 5 * settings.resolution_mm
    return first if long else None


def _gap(place: Place, settings: FallingHeadSettings) -> int | None:
    """Return the reading after a hole in a record, None where there is none: in a logger's by its pace, in one kept by
    hand where much of the water went and nobody looked."""
    steps, falls = np.diff(place.minutes), -np.diff(place.head_mm)
    if place.rows[0] < 0 and len(steps) >= _GAP_FEWEST:
        k, hole = int(np.argmax(steps)), float(steps.max()) > _GAP_TIMES * float(np.median(steps))
    elif len(steps) >= _FALLS_FEWEST:
        k, hole = int(np.argmax(falls)), float(falls.max()) > _GAP_FALL * float(np.ptp(place.head_mm))
    else:
        return None
    return k + 1 if hole and k + 1 < len(steps) else None


def _start(place: Place, settings: FallingHeadSettings) -> list[Finding]:
    found: list[Finding] = []
    if place.minutes[0] > 1e-9:
        found.append(NO_START.at(_cell(place, 0, "elapsed_min"), number=place.number, minute=place.minutes[0]))
    elif place.head_mm[0] < settings.least_start_mm:
        found.append(
            START_LOW.at(
                _cell(place, 0, "head_mm"),
                number=place.number,
                head_mm=place.head_mm[0],
                least_start_mm=settings.least_start_mm,
            )
        )
    if place.fit is not None and place.cylinder is not None and len(place.minutes) > 1:
        first = int(np.argmax(place.minutes >= min(1.0, float(place.minutes[-1]))))
        # Water goes straight down at first, and fast: what even that does not explain went past the rim.
        reach = place.fit.ks_mm_min * place.minutes[first]
        path = place.cylinder.plug_path(place.fit.suction_mm)
        model = place.head_mm[0] - np.interp(reach, path, place.cylinder.heads)
        fell = float(place.head_mm[0] - place.head_mm[first])
        if fell > _LEAK_TIMES * float(model) + _LEAK_MM:
            found.append(
                LEAK_AT_RIM.at(
                    _cell(place, first, "head_mm"),
                    number=place.number,
                    fell=fell,
                    minute=place.minutes[first],
                    mm=float(model),
                )
            )
    return found


def _end(place: Place, readings: FallingHeadReadings) -> list[Finding]:
    found: list[Finding] = []
    last, minutes = float(place.head_mm[-1]), float(place.minutes[-1])
    cell = _cell(place, len(place.rows) - 1, "head_mm")
    if last > max(10.0, _EMPTY_SHARE * float(place.head_mm[0])):
        found.append(STOPPED_EARLY.at(cell, number=place.number, last=last))
    if place.fit is None:
        return found
    if not place.fit.used.any() or place.cylinder is None:
        return found
    slow = readings.soil == "clay" or 60 * place.fit.ks_mm_min < _CLAY_MM_H
    if slow and minutes < _CLAY_MIN:
        found.append(CLAY_IN_MINUTES.at(cell, number=place.number, minutes=minutes))
    if float(place.head_mm[place.fit.used][0]) > place.cylinder.clear_head_mm + 1e-9:
        found.append(FRONT_INSIDE.at(cell, number=place.number, clear_head_mm=place.cylinder.clear_head_mm))
    if place.fit.misfit_mm > _POOR_MM:
        found.append(FIT_POOR.at(number=place.number, misfit_mm=place.fit.misfit_mm))
    return found


def next_step(
    readings: FallingHeadReadings, settings: FallingHeadSettings, made: list[Place], *, complete: bool
) -> str:
    """Return the next thing to do."""
    if readings.radius_mm is None or readings.embedded_mm is None:
        return "Drive the cylinder in by 50 mm, tight all around; type its inner radius and how far it is in."
    if not any(row.moisture_before is not None for row in readings.cylinders):
        return "Measure the moisture at several places around the cylinder before any water; note the position."
    if not made:
        return f"Lay the scour plate, fill to {settings.least_start_mm:g} mm or more, read the head at 0 min at once."
    going = [p for p in made if p.head_mm[-1] > max(10.0, _EMPTY_SHARE * float(p.head_mm[0]))]
    if going:
        slow = going[0]
        now = f"Cylinder {slow.number}: {slow.head_mm[-1]:g} mm at {slow.minutes[-1]:g} min."
        return f"{now} Go on until it is empty" + ("; ended here the band is wider." if complete else ".")
    missing = [p.number for p in made if p.deficit is None]
    if missing and cylinder_of(missing[0], readings).moisture_before is None:
        return (
            f"Cylinder {missing[0]}: the moisture before the water is not written. Type it if it was noted; else"
            " measure it a metre aside, where no water went."
        )
    if missing:
        return f"Cylinder {missing[0]}: measure the moisture right below it now that the water is gone."
    if any(p.fit is None for p in made):
        return "At least four readings of the head before it is empty."
    return ""


def _cell(place: Place, k: int, name: str) -> str:
    row = int(place.rows[k])
    return f"heads.{row}.{name}" if row >= 0 else f"cylinders.{place.number - 1}.moisture_before"

"""What can be wrong at the cylinders, and what to do next."""

import numpy as np

from vadum.soil.contract.finding import Finding, note, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.falling_head.cylinders import Place, deficit_of
from vadum.soil.methods.falling_head.readings import FallingHeadReadings, FallingHeadSettings

_DIAL_TOP = 10.0
_WETTEST_PERCENT = 70.0
_EMPTY_SHARE = 0.06
_CLAY_MM_H, _CLAY_MIN = 3.6, 60.0
_LEAK_TIMES, _LEAK_MM = 1.4, 5.0
_POOR_MM = 6.0


def moisture_findings(readings: FallingHeadReadings, settings: FallingHeadSettings, porosity: float) -> list[Finding]:
    """Return what is wrong with the moistures and the set-up."""
    found: list[Finding] = []
    dial = settings.moisture == "dial 0 to 10"
    for i, row in enumerate(readings.cylinders):
        if not row.used:
            continue
        for name in ("moisture_before", "moisture_after"):
            value, cell = getattr(row, name), f"cylinders.{i}.{name}"
            if value is not None and dial and value > _DIAL_TOP:
                found.append(
                    stop(
                        "dial-misread",
                        f"Cylinder {i + 1}: {value:g} on a dial of 0 to 10.",
                        f"Read it again: {value / 10:g}? Or say under School that the moisture is percent by volume.",
                        cell,
                    )
                )
            if value is not None and not dial and value > _WETTEST_PERCENT:
                found.append(
                    stop(
                        "moisture-high",
                        f"Cylinder {i + 1}: {value:g} % by volume is more than the pores of a soil hold.",
                        "Is it percent of saturation? Then choose the dial, or multiply by the porosity.",
                        cell,
                    )
                )
        deficit = deficit_of(row, settings, porosity)
        if deficit is not None and deficit <= 0:
            found.append(
                stop(
                    "moisture-not-risen",
                    f"Cylinder {i + 1}: the ground is no wetter after ({row.moisture_after:g}) than before"
                    f" ({row.moisture_before:g}).",
                    "Look whether the two are exchanged; measure right below the cylinder.",
                    f"cylinders.{i}.moisture_after",
                )
            )
    if readings.sealed == "no":
        found.append(
            warn(
                "rim-leaks",
                "Water comes up beside the rim: it does not go through the ground below.",
                "Drive the cylinder deeper or move it, and begin again with a dry place.",
                "sealed",
            )
        )
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
            stop(
                "time-back",
                f"Cylinder {place.number}: {place.minutes[k]:g} min stands after {place.minutes[k - 1]:g} min.",
                "Put the readings in the order in which they were taken.",
                _cell(place, k, "elapsed_min"),
            )
        ]
    rises = np.flatnonzero(np.diff(place.head_mm) > 1.5 * settings.resolution_mm)
    if len(rises):
        k = int(rises[0]) + 1
        return [
            warn(
                "head-rising",
                f"Cylinder {place.number}: the head rises from {place.head_mm[k - 1]:g} to {place.head_mm[k]:g} mm at"
                f" {place.minutes[k]:g} min.",
                "Read again. Water added? Then the record ends there; leave out what follows with a reason.",
                _cell(place, k, "head_mm"),
            )
        ]
    return []


def _start(place: Place, settings: FallingHeadSettings) -> list[Finding]:
    found: list[Finding] = []
    if place.minutes[0] > 1e-9:
        found.append(
            stop(
                "no-start",
                f"Cylinder {place.number}: the record begins at {place.minutes[0]:g} min; the head at the start is not"
                " known.",
                "Type the head at 0 min.",
                _cell(place, 0, "elapsed_min"),
            )
        )
    elif place.head_mm[0] < settings.least_start_mm:
        found.append(
            warn(
                "start-low",
                f"Cylinder {place.number}: it starts at {place.head_mm[0]:g} mm, at least"
                f" {settings.least_start_mm:g} mm.",
                "Fill the next one higher.",
                _cell(place, 0, "head_mm"),
            )
        )
    if place.fit is not None and place.cylinder is not None and len(place.minutes) > 1:
        first = int(np.argmax(place.minutes >= min(1.0, float(place.minutes[-1]))))
        model = place.head_mm[0] - place.cylinder.head_at(
            place.minutes[first], place.fit.ks_mm_min, place.fit.suction_mm
        )
        fell = float(place.head_mm[0] - place.head_mm[first])
        if fell > _LEAK_TIMES * float(model) + _LEAK_MM:
            found.append(
                warn(
                    "leak-at-rim",
                    f"Cylinder {place.number}: {fell:.0f} mm are gone after {place.minutes[first]:g} min, the ground"
                    f" takes {float(model):.0f} mm: a leak at the rim.",
                    "Look for water beside the cylinder. Move it, drive it deeper, press the ground against it, begin"
                    " again.",
                    _cell(place, first, "head_mm"),
                )
            )
    return found


def _end(place: Place, readings: FallingHeadReadings) -> list[Finding]:
    found: list[Finding] = []
    last, minutes = float(place.head_mm[-1]), float(place.minutes[-1])
    cell = _cell(place, len(place.rows) - 1, "head_mm")
    if last > max(10.0, _EMPTY_SHARE * float(place.head_mm[0])):
        found.append(
            note(
                "stopped-early",
                f"Cylinder {place.number}: stopped with {last:g} mm left: the band is wider than it could be.",
                "Let the next one run empty, with a logger overnight where the ground is slow.",
                cell,
            )
        )
    if place.fit is None:
        return found
    if not place.fit.used.any() or place.cylinder is None:
        return found
    slow = readings.soil == "clay" or 60 * place.fit.ks_mm_min < _CLAY_MM_H
    if slow and minutes < _CLAY_MIN:
        found.append(
            warn(
                "clay-in-minutes",
                f"Cylinder {place.number}: {minutes:g} min are too short to judge clay.",
                "Let it run for hours; a clay takes a day.",
                cell,
            )
        )
    if float(place.head_mm[place.fit.used][0]) > place.cylinder.clear_head_mm + 1e-9:
        found.append(
            warn(
                "front-inside",
                f"Cylinder {place.number}: the wet front is still inside the cylinder: the readings say more of the"
                " seal than of the ground.",
                f"Go on below {place.cylinder.clear_head_mm:.0f} mm.",
                cell,
            )
        )
    if place.fit.misfit_mm > _POOR_MM:
        found.append(
            warn(
                "fit-poor",
                f"Cylinder {place.number}: the readings scatter by {place.fit.misfit_mm:.0f} mm about the model.",
                "Look at the figure for the reading that is off; leave it out with a reason.",
            )
        )
    return found


def next_action(
    readings: FallingHeadReadings, settings: FallingHeadSettings, made: list[Place], result: Reduction
) -> str:
    """Return the next thing to do."""
    worst = next((f for f in result.findings if f.severity == "stop"), None)
    if worst is not None:
        return f"{worst.message} {worst.action}"
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
        return f"{now} Go on until it is empty" + ("; ended here the band is wider." if result.complete else ".")
    missing = [p.number for p in made if p.deficit is None]
    if missing:
        return f"Cylinder {missing[0]}: measure the moisture right below it now that the water is gone."
    if any(p.fit is None for p in made):
        return "At least four readings of the head before it is empty."
    warned = next((f for f in result.findings if f.severity == "warn"), None)
    if warned:
        return f"{warned.message} {warned.action}"
    return (
        "Done. Let a second person check the sheet."
        if len(made) > 2
        else "Run three cylinders for a site, or let a second person check the sheet."
    )


def _cell(place: Place, k: int, name: str) -> str:
    row = int(place.rows[k])
    return f"heads.{row}.{name}" if row >= 0 else f"cylinders.{place.number - 1}.moisture_before"

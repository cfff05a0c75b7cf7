"""From drops to dynamic moduli."""

from statistics import stdev

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.limit import basis_of
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.rows import called
from vadum.soil.methods.drop_plate.drops import Dropped, dropped
from vadum.soil.methods.drop_plate.figure import places_figure
from vadum.soil.methods.drop_plate.findings import (
    DIVISIONS,
    DROPS_APART,
    EVD_APART,
    GIVES_STILL,
    NOT_LEVEL,
    ON_CRUST,
    OUT_OF_RANGE,
    PLATE_SMALL,
    STILL_SEATING,
)
from vadum.soil.methods.drop_plate.readings import MEASURED, SEATING, DropPlateReadings, DropPlateSettings, Place
from vadum.soil.methods.drop_plate.results import EVD, EVD_LEAST, EVD_PLACE, JUDGEMENT, RATIO, SPREAD_PERCENT
from vadum.soil.physics.drop_plate import dynamic_modulus_mpa

_CANNOT_MM = 15.0
_RANGE_MM = (0.1, 2.0)
_SEATED = 1.4


def reduce_drop_plate(readings: DropPlateReadings, settings: DropPlateSettings, *, guards: bool = False) -> Reduction:
    """Return all that the places say so far."""
    result = Reduction(
        school=f"{settings.diameter_mm:g} mm plate, {settings.pressure_kpa:g} kPa a drop",
        follows=("TP BF-StB part B 8.3",),
    )
    result.findings = _setup(readings, settings)
    found: list[Dropped] = []
    begun = [(i, row) for i, row in enumerate(readings.places) if row.used and not row.empty]
    for i, row in begun:
        drops = [value for key in MEASURED if (value := getattr(row, key)) is not None]
        name = called(i, row.place)
        if any(s > _CANNOT_MM for s in drops):
            cell = f"places.{i}.{next(k for k in MEASURED if (getattr(row, k) or 0) > _CANNOT_MM)}"
            result.findings.append(DIVISIONS.at(cell, place=name.capitalize(), s=max(drops)))
            continue
        if len(drops) < len(MEASURED) or min(drops) <= 0:
            continue
        one = dropped(i, name, row, drops, settings)
        found.append(one)
        result.computed[f"places.{i}.evd_mpa"] = one.evd_mpa
        result.findings += _drops(one, row, drops, settings)
        result.derivation.append(
            Step.of(
                dynamic_modulus_mpa,
                put_in=f"1.5 × {settings.diameter_mm / 2:g} × {settings.pressure_kpa / 1000:g} / {one.s_mm:.3f}",
                result=f"{one.evd_mpa:.2f}",
                unit="MPa",
                about=name,
            )
        )
    _parameters(result, found, settings, guards=guards)
    result.complete = bool(found) and len(found) == len(begun) and readings.finished == "yes"
    result.figures = [places_figure(found, settings)]
    result.next_step = _next_step(begun, found, readings)
    return result


def _setup(readings: DropPlateReadings, settings: DropPlateSettings) -> list[Finding]:
    found: list[Finding] = []
    grain = readings.largest_particle_mm
    if grain is not None and grain > settings.diameter_mm / 4:
        found.append(PLATE_SMALL.at("largest_particle_mm", grain=grain, size=settings.diameter_mm))
    if readings.level == "no":
        found.append(NOT_LEVEL.at("level"))
    if readings.excavated == "no":
        found.append(ON_CRUST.at("excavated"))
    return found


def _drops(one: Dropped, row: Place, drops: list[float], settings: DropPlateSettings) -> list[Finding]:
    """Return what the drops of one place say against it."""
    found: list[Finding] = []
    cell, name = f"places.{one.row}.s_3_mm", one.name.capitalize()
    percent = 100 * (max(drops) - min(drops)) / one.s_mm
    seat = getattr(row, SEATING[-1])
    if percent > settings.scatter_percent and max(drops) - min(drops) > 0.021:
        found.append(DROPS_APART.at(cell, place=name, percent=percent, least=min(drops), most=max(drops)))
    elif seat is not None and seat > _SEATED * drops[0]:
        found.append(STILL_SEATING.at(f"places.{one.row}.seating_3_mm", place=name, seat=seat, first=drops[0]))
    if not _RANGE_MM[0] <= one.s_mm <= _RANGE_MM[1]:
        found.append(OUT_OF_RANGE.at(cell, place=name, s=one.s_mm))
    if one.ratio_ms is not None and one.ratio_ms > settings.most_ratio_ms:
        found.append(
            GIVES_STILL.at(f"places.{one.row}.v_3_mm_s", place=name, ratio=one.ratio_ms, most=settings.most_ratio_ms)
        )
    return found


def _parameters(result: Reduction, found: list[Dropped], settings: DropPlateSettings, *, guards: bool) -> None:
    if not found:
        return
    values = [one.evd_mpa for one in found]
    mean = sum(values) / len(values)
    result.parameters.append(EVD.of(mean, of="one place" if len(found) == 1 else f"mean of {len(found)} places"))
    if len(found) > 1:
        least = min(found, key=lambda one: one.evd_mpa)
        result.parameters += [
            EVD_LEAST.of(least.evd_mpa, place=least.name),
            SPREAD_PERCENT.of(100 * stdev(values) / mean),
        ]
        if least.evd_mpa < mean / 2:
            cell = f"places.{least.row}.s_3_mm"
            result.findings.append(EVD_APART.at(cell, place=least.name.capitalize(), evd=least.evd_mpa, mean=mean))
    asked = settings.required_evd_mpa
    if asked is not None:
        below = [one.name for one in found if one.evd_mpa < asked]
        text = f"below {asked:g} MPa at {', '.join(below)}" if below else f"at least {asked:g} MPa everywhere"
        result.parameters.append(JUDGEMENT.word(text, basis=f"each place for itself, {basis_of(guards)}"))
    for number, one in enumerate(found, 1):
        if len(found) > 1:
            result.parameters.append(EVD_PLACE.of(one.evd_mpa, number=number, place=one.name))
        if one.ratio_ms is not None:
            result.parameters.append(RATIO.of(one.ratio_ms, number=number, place=one.name))


def _next_step(begun: list[tuple[int, Place]], found: list[Dropped], readings: DropPlateReadings) -> str:
    if not begun:
        return "Take off the loose top, lay the plate on all its face, drop three times to seat it."
    measured = {one.row for one in found}
    waiting = next(((i, row) for i, row in begun if i not in measured), None)
    if waiting is not None:
        i, row = waiting
        name = called(i, row.place).capitalize()
        number = next((n for n, key in enumerate(MEASURED, 1) if not getattr(row, key)), 1)
        if i == begun[-1][0]:
            return f"{name}, drop {number} of 3 that count: catch the weight after its rebound, read the settlement."
        return f"{name}: drop {number} of 3 has no settlement. Type it if it was noted; else leave the row out."
    if readings.finished != "yes":
        return "Move on to the next place, or say that all places are tested."
    return ""

"""From the gauge's display to dry densities."""

from dataclasses import dataclass

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.rows import called
from vadum.soil.methods.density_gauge.figure import spots_figure
from vadum.soil.methods.density_gauge.findings import (
    ABOVE_ZERO_AIR,
    GAUGE_UNFIT,
    NO_COMPARISON,
    NOT_PERMITTED,
    PLACES_APART,
)
from vadum.soil.methods.density_gauge.readings import DensityGaugeReadings, DensityGaugeSettings, Gauge
from vadum.soil.methods.density_gauge.results import DRY_DENSITY, DRY_SPOT, SPREAD_PERCENT, WATER_CONTENT, WATER_SPOT
from vadum.soil.physics.phases import dry_density, saturated_dry_density

# A line that lies above by less is the gauge's own doubt.
_OVER = 1.01
_STANDARD = {Gauge.NUCLEAR: "ASTM D6938", Gauge.ELECTRICAL: "ASTM D7830"}


@dataclass(frozen=True)
class Measured:
    """A place: water in percent and dry density in g/cm3, with the offsets."""

    row: int
    name: str
    water: float
    bulk: float
    dry: float


def reduce_density_gauge(readings: DensityGaugeReadings, settings: DensityGaugeSettings) -> Reduction:
    """Return all that the places say so far."""
    result = Reduction(school=_school(readings, settings), follows=(_STANDARD[settings.gauge],))
    begun = [(i, row) for i, row in enumerate(readings.spots) if row.used and not row.empty]
    found = []
    for i, row in begun:
        if row.bulk_density_g_cm3 is None or row.water_percent is None:
            continue
        bulk = row.bulk_density_g_cm3 + (readings.density_offset_g_cm3 or 0.0)
        water = max(0.0, row.water_percent + (readings.water_offset_percent or 0.0))
        found.append(Measured(i, called(i, row.place), water, bulk, dry_density(bulk, water)))
    result.findings = _fit(readings, settings, found)
    for one in found:
        result.computed[f"spots.{one.row}.dry_g_cm3"] = one.dry
        full = saturated_dry_density(one.water, settings.assumed_particle_density)
        if one.dry > _OVER * full:
            cells = (f"spots.{one.row}.bulk_density_g_cm3", f"spots.{one.row}.water_percent")
            values = {"rho": one.dry, "w": one.water, "full": full}
            result.findings.append(ABOVE_ZERO_AIR.at(*cells, place=one.name.capitalize(), **values))
        result.derivation.append(
            Step.of(
                dry_density,
                put_in=f"{one.bulk:.3f} / (1 + {one.water:.1f} / 100)",
                result=f"{one.dry:.3f}",
                unit="g/cm³",
                about=one.name,
            )
        )
    _parameters(result, found, settings)
    result.complete = bool(found) and len(found) == len(begun) and readings.finished == "yes"
    result.figures = [spots_figure([(one.name, one.row, one.water, one.dry) for one in found], settings)]
    measured = {one.row for one in found}
    waiting = next((called(i, row.place) for i, row in begun if i not in measured), "")
    result.next_step = _next_step(waiting, readings, begun=bool(begun))
    return result


def _school(readings: DensityGaugeReadings, settings: DensityGaugeSettings) -> str:
    offset = readings.density_offset_g_cm3
    return f"gauge by {settings.gauge}, " + ("no comparison" if offset is None else f"offset {offset:+.3f} g/cm³")


def _fit(readings: DensityGaugeReadings, settings: DensityGaugeSettings, found: list[Measured]) -> list[Finding]:
    doubts: list[Finding] = []
    if readings.standard_count == "no":
        doubts.append(GAUGE_UNFIT.at("standard_count"))
    if readings.permitted == "no" and settings.gauge == Gauge.NUCLEAR:
        doubts.append(NOT_PERMITTED.at("permitted"))
    if found and readings.density_offset_g_cm3 is None:
        doubts.append(NO_COMPARISON.at("density_offset_g_cm3"))
    return doubts


def _parameters(result: Reduction, found: list[Measured], settings: DensityGaugeSettings) -> None:
    if not found:
        return
    mean = sum(one.dry for one in found) / len(found)
    of = "one place" if len(found) == 1 else f"mean of {len(found)} places"
    result.parameters = [
        DRY_DENSITY.of(mean, of=of),
        WATER_CONTENT.of(sum(one.water for one in found) / len(found), of=of),
    ]
    if len(found) > 1:
        far = max(found, key=lambda one: abs(one.dry - mean))
        percent = 100 * abs(far.dry - mean) / mean
        result.parameters.append(SPREAD_PERCENT.of(percent))
        if percent > settings.apart_percent:
            cell = f"spots.{far.row}.bulk_density_g_cm3"
            result.findings.append(
                PLACES_APART.at(cell, place=far.name.capitalize(), rho=far.dry, percent=percent, mean=mean)
            )
    for number, one in enumerate(found, 1):
        result.parameters += [
            DRY_SPOT.of(one.dry, number=number, place=one.name),
            WATER_SPOT.of(one.water, number=number, place=one.name),
        ]


def _next_step(waiting: str, readings: DensityGaugeReadings, *, begun: bool) -> str:
    if readings.standard_count is None:
        return "Take the day's standard count on its block, away from vehicles and walls."
    if not begun:
        return "Smooth the place, fill hollows with fines, drive the hole, lower the rod, read for a minute."
    if waiting:
        return f"{waiting.capitalize()}: read bulk density and water."
    if readings.finished != "yes":
        return "Move on to the next place, or say that all places are read."
    return ""

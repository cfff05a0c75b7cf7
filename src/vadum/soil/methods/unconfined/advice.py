"""What can be wrong with an unconfined test, and what to do at the press."""

from vadum.soil.bench.cylinder.failure import Failure
from vadum.soil.bench.cylinder.specimen import Specimen
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.unconfined.findings import (
    ANGLE_MISSING,
    ANGLE_ODD,
    DRIED,
    FAILED_SLOWLY,
    FISSURED,
    GRAINS_LARGE,
    NOT_SATURATED,
    PATCHED,
    RATE_OFF,
)
from vadum.soil.methods.unconfined.readings import UnconfinedReadings, UnconfinedSettings
from vadum.soil.physics import compression as cp

_SATURATED = 95.0
# From start to failure at most. ASTM D2166 (2016), clause 7.
_LONGEST_MIN = 15.0
# A plane stands at 45 + phi / 2 degrees: phi 0 to 50.
_PLANE_DEG = (45.0, 70.0)
# Largest grain as a part of the diameter: a tenth, a sixth from 72 mm on. ASTM D2166 (2016), clause 6.
_GRAIN_SHARE, _GRAIN_SHARE_LARGE, _LARGE_MM = 10.0, 6.0, 72.0


def run_findings(
    readings: UnconfinedReadings, settings: UnconfinedSettings, made: Specimen, gs: float
) -> list[Finding]:
    """Return what is wrong with rate, drying, saturation and what was seen."""
    found: list[Finding] = []
    rate, length = readings.rate_mm_min, made.length_mm
    if rate is not None and length:
        percent = 100 * rate / length
        if not settings.slowest_percent_min * 0.98 <= percent <= settings.fastest_percent_min * 1.02:
            low, high = (p / 100 * length for p in (settings.slowest_percent_min, settings.fastest_percent_min))
            found.append(RATE_OFF.at("rate_mm_min", rate=rate, percent=percent, low=low, high=high))
    if readings.minutes_since_cut is not None and readings.minutes_since_cut > settings.dry_min:
        found.append(DRIED.at("minutes_since_cut", minutes_since_cut=readings.minutes_since_cut))
    saturation = made.saturation(gs)
    if saturation is not None and saturation < _SATURATED:
        found.append(NOT_SATURATED.at("tins.0.mass_tin_dry_g", saturation=saturation))
    if readings.fissured == "yes":
        found.append(FISSURED.at("fissured"))
    if readings.patched == "yes":
        found.append(PATCHED.at("patched"))
    if readings.failure == Failure.ONE_PLANE and readings.plane_angle is None:
        found.append(ANGLE_MISSING.at("plane_angle"))
    if readings.failure == Failure.ONE_PLANE and readings.plane_angle is not None:
        low, high = _PLANE_DEG
        if not low <= readings.plane_angle <= high:
            found.append(ANGLE_ODD.at("plane_angle", angle=readings.plane_angle, low=low, high=high))
    grain, across = readings.largest_particle_mm, made.diameter_mm
    if grain is not None and across is not None:
        most = across / (_GRAIN_SHARE if across < _LARGE_MM else _GRAIN_SHARE_LARGE)
        if grain > most:
            found.append(GRAINS_LARGE.at("largest_particle_mm", grain=grain, across=across, most=most))
    return found


def failure_findings(minutes: float | None) -> list[Finding]:
    """Return that the specimen took too long to fail."""
    if minutes is None or minutes <= _LONGEST_MIN:
        return []
    return [FAILED_SLOWLY.at("rate_mm_min", minutes=minutes, most=_LONGEST_MIN)]


def next_step(
    readings: UnconfinedReadings, settings: UnconfinedSettings, made: Specimen, curve: cp.Curve | None
) -> str:
    """Return the next thing to do at the press."""
    if made.diameter_mm is None or made.length_mm is None or made.mass_g is None:
        return "Trim the specimen, weigh it, measure diameter at top, middle and bottom and the length, each twice."
    if curve is None:
        low, high = (p / 100 * made.length_mm for p in (settings.slowest_percent_min, settings.fastest_percent_min))
        minutes = settings.limit_percent / (100 * ((low * high) ** 0.5) / made.length_mm)
        return (
            f"Load at once, at {low:.2g} to {high:.2g} mm/min; {settings.limit_percent:g} % takes about {minutes:.0f}"
            f" min, failure should come within {_LONGEST_MIN:g}."
        )
    if readings.failure is None:
        return "Draw or photograph how it failed, tap the shape; take trimmings from the failure zone."
    if made.water_content is None:
        return "Dry and weigh the trimmings."
    return ""

"""What can be wrong with an unconfined test, and what to do at the press."""

from vadum.soil.bench.cylinder.failure import Failure
from vadum.soil.bench.cylinder.specimen import Specimen
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.unconfined.findings import ANGLE_MISSING, DRIED, FISSURED, NOT_SATURATED, PATCHED, RATE_OFF
from vadum.soil.methods.unconfined.readings import UnconfinedReadings, UnconfinedSettings
from vadum.soil.physics import compression as cp

_SATURATED = 95.0
_LONGEST_MIN = 15.0


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
    return found


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

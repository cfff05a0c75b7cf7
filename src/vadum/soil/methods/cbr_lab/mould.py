"""The specimen in its mould: density, water, swell, and what is wrong with them."""

from dataclasses import dataclass
from math import pi

from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.cbr_lab.findings import (
    ABOVE_ZERO_AIR,
    COLLAR_ON,
    DENSITY_HIGH,
    EFFORT_OTHER,
    MOULD_HEAVIER,
    MOULD_VOLUME,
    TOO_COARSE,
    WATER_OFF,
)
from vadum.soil.methods.cbr_lab.readings import CbrLabContext, CbrLabReadings, CbrLabSettings, Scheme
from vadum.soil.physics.phases import dry_density, saturated_dry_density

DIAMETER_MM, HEIGHT_MM = 152.0, 127.0
VOLUME_CM3 = pi / 4 * (DIAMETER_MM / 10) ** 2 * HEIGHT_MM / 10
MOST_REMOVED_PERCENT = 25.0
_BULK = (1.0, 2.7)


@dataclass(frozen=True)
class Specimen:
    """What is known of the specimen; None while a reading is missing."""

    water_content: float | None
    bulk_density: float | None
    dry_density: float | None
    wanted_water: Leant | None
    swell_percent: float | None


def specimen(readings: CbrLabReadings, context: CbrLabContext) -> Specimen:
    """Return the specimen as far as it is weighed."""
    found = [w for tin in readings.tins if tin.used and (w := tin.water_content(context.tins)) is not None]
    water = sum(found) / len(found) if found else None
    bulk = None
    if (
        readings.mass_mould_g is not None
        and readings.mass_mould_soil_g is not None
        and readings.mass_mould_soil_g > readings.mass_mould_g
    ):
        bulk = (readings.mass_mould_soil_g - readings.mass_mould_g) / (readings.volume_mould_cm3 or VOLUME_CM3)
    typed = readings.water_content_target_percent
    wanted = Leant(value=typed, source="typed on this sheet") if typed is not None else context.optimum_water_content
    dials = [row.dial_mm for row in readings.swell if row.used and row.dial_mm is not None]
    swell = 100 * (dials[-1] - dials[0]) / (readings.height_specimen_mm or HEIGHT_MM) if len(dials) > 1 else None
    dry = dry_density(bulk, water) if bulk is not None and water is not None else None
    return Specimen(water, bulk, dry, wanted, swell)


def mould_findings(
    readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext, made: Specimen, gs: Leant
) -> list[Finding]:
    """Return what is wrong with the mould, its soil and its water."""
    found: list[Finding] = []
    removed = readings.removed_percent
    if removed is not None and removed > MOST_REMOVED_PERCENT:
        found.append(TOO_COARSE.at("removed_percent", removed=removed, most=MOST_REMOVED_PERCENT))
    if readings.mass_mould_g is not None and readings.mass_mould_soil_g is not None and made.bulk_density is None:
        found.append(MOULD_HEAVIER.at("mass_mould_soil_g"))
    volume = readings.volume_mould_cm3
    if volume is not None and abs(volume / VOLUME_CM3 - 1) > 0.03:
        found.append(
            MOULD_VOLUME.at(
                "volume_mould_cm3", volume=volume, percent=100 * (volume / VOLUME_CM3 - 1), usual=VOLUME_CM3
            )
        )
    if settings.scheme == Scheme.ANOTHER:
        found.append(EFFORT_OTHER.at())
    return found + _density_findings(readings, settings, context, made, gs)


def _density_findings(
    readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext, made: Specimen, gs: Leant
) -> list[Finding]:
    found: list[Finding] = []
    bulk, rho, w = made.bulk_density, made.dry_density, made.water_content
    if bulk is not None and not _BULK[0] <= bulk <= _BULK[1]:
        found.append(COLLAR_ON.at("mass_mould_soil_g", bulk=bulk))
        return found
    if rho is not None and w is not None:
        full = saturated_dry_density(w, gs.value)
        if rho > full * 1.003:
            found.append(ABOVE_ZERO_AIR.at("mass_mould_soil_g", rho=rho, w=w, full=full))
        best = context.maximum_dry_density
        if best is not None and rho <= full * 1.003 and rho > 1.06 * best.value:
            found.append(
                DENSITY_HIGH.at("mass_mould_soil_g", rho=rho, percent=100 * rho / best.value, source=best.source)
            )
    if w is not None and made.wanted_water is not None and abs(w - made.wanted_water.value) > settings.water_percent:
        off = w - made.wanted_water.value
        found.append(
            WATER_OFF.at(
                "tins.0.mass_tin_dry_g",
                w=w,
                percent=abs(off),
                which="wetter" if off > 0 else "drier",
                wanted=made.wanted_water.value,
                source=made.wanted_water.source,
            )
        )
    return found

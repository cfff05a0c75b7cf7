"""The specimen in its mould: density, water, swell, and what is wrong with them."""

from dataclasses import dataclass, replace
from itertools import pairwise
from math import pi

from vadum.soil.bench.weighing import TinRow
from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.cbr_lab.findings import (
    ABOVE_ZERO_AIR,
    COLLAR_ON,
    DENSITY_HIGH,
    EFFORT_OTHER,
    MORE_AIR,
    MOULD_HEAVIER,
    MOULD_VOLUME,
    PORES_NOT_FULL,
    PORES_OVERFULL,
    SOAKED_LIGHTER,
    SOAKED_SHORT,
    SOAKED_TINS,
    SWELL_BEGUN_LATE,
    SWELL_HASTENS,
    SWELL_MISSING,
    SWELL_NEGATIVE,
    TINS_OVERFULL,
    TOO_COARSE,
    WATER_OFF,
)
from vadum.soil.methods.cbr_lab.readings import CbrLabContext, CbrLabReadings, CbrLabSettings, Scheme, Soaking
from vadum.soil.physics.bearing import School
from vadum.soil.physics.phases import dry_density, saturated_dry_density, saturation_percent, void_ratio

# Diameter of the mould and height of the soil in mm: EN 13286-47 (2305 cm3), ASTM D1883 with its spacer (2124 cm3).
SIZE_MM: dict[str, tuple[float, float]] = {School.KN: (152.0, 127.0), School.MPA: (152.4, 116.43)}
MOST_REMOVED_PERCENT = 25.0
SOAKED_H, _NEARLY_H = 96.0, 1.0
_SHRUNK_PERCENT = 0.05
_BULK = (1.0, 2.7)
# Four days under water leave little air in a soil that does not drain at once.
_LEAST_FULL_PERCENT = 65.0
# Water on its surface, and a particle density that is a hundredth off, make pores a little more than full.
_MOST_FULL_PERCENT = 112.0
# The soil right below the plunger is the first to swell; it takes half as much again as the mould does.
_TOP_FULL_PERCENT = 160.0
# Compacted at the water of a curve's top the pores are mostly three quarters full or more; a clean sand's half.
_LEAST_FULL_COMPACTED_PERCENT = 50.0
# Swell that has slowed to a third of its fastest does not grow to three times that again by more than a hair.
_FEWEST_DIALS, _FASTER, _SWELL_MM = 4, 3.0, 0.2
_AT_ONCE_H = 0.25


@dataclass(frozen=True)
class Specimen:
    """What is known of the specimen; None while a reading is missing."""

    water_content: float | None
    bulk_density: float | None
    dry_density: float | None
    wanted_water: Leant | None
    swell_percent: float | None
    soaked_hours: float | None = None
    """By the last dial that was read."""
    water_soaked: float | None = None
    bulk_soaked: float | None = None
    dry_soaked: float | None = None


def specimen(readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext) -> Specimen:
    """Return the specimen as far as it is weighed."""
    water = _mean_water(readings.tins, context)
    volume = mould_volume_cm3(readings, settings)
    bulk = None
    if (
        readings.mass_mould_g is not None
        and readings.mass_mould_soil_g is not None
        and readings.mass_mould_soil_g > readings.mass_mould_g
    ):
        bulk = (readings.mass_mould_soil_g - readings.mass_mould_g) / volume
    typed = readings.water_content_target_percent
    wanted = Leant(value=typed, source="typed on this sheet") if typed is not None else context.optimum_water_content
    dials = [row.dial_mm for row in readings.swell if row.used and row.dial_mm is not None]
    high = readings.height_specimen_mm or SIZE_MM[settings.school][1]
    swell = 100 * (dials[-1] - dials[0]) / high if len(dials) > 1 else None
    dry = dry_density(bulk, water) if bulk is not None and water is not None else None
    plain = Specimen(water, bulk, dry, wanted, swell)
    return _soaked(plain, readings, context, volume) if settings.soaking == Soaking.SOAKED else plain


def _soaked(made: Specimen, readings: CbrLabReadings, context: CbrLabContext, volume: float) -> Specimen:
    """Return the specimen with what is known of it after soaking: the same dry soil in a volume that has grown."""
    grown = 1 + (made.swell_percent or 0.0) / 100
    mass, mould = readings.mass_soaked_g, readings.mass_mould_g
    hours = [r.elapsed_h for r in readings.swell if r.used and r.dial_mm is not None and r.elapsed_h is not None]
    return replace(
        made,
        soaked_hours=max(hours, default=None),
        water_soaked=_mean_water(readings.tins_soaked, context),
        bulk_soaked=None if mass is None or mould is None or mass <= mould else (mass - mould) / (volume * grown),
        dry_soaked=None if made.dry_density is None or made.swell_percent is None else made.dry_density / grown,
    )


def standard_volume_cm3(school: str) -> float:
    """Return the volume of the soil in a school's standard mould.

    >>> [round(standard_volume_cm3(school)) for school in School]
    [2305, 2124]
    """
    across, high = SIZE_MM[school]
    return pi / 4 * (across / 10) ** 2 * high / 10


def mould_volume_cm3(readings: CbrLabReadings, settings: CbrLabSettings) -> float:
    """Return the volume of the soil: as calibrated, by the mould's diameter and the soil's height, else standard."""
    if readings.volume_mould_cm3 is not None:
        return readings.volume_mould_cm3
    across, high = SIZE_MM[settings.school]
    across, high = readings.diameter_mould_mm or across, readings.height_specimen_mm or high
    return pi / 4 * (across / 10) ** 2 * high / 10


def _mean_water(rows: list[TinRow], context: CbrLabContext) -> float | None:
    found = [w for tin in rows if tin.used and (w := tin.water_content(context.tins)) is not None]
    return sum(found) / len(found) if found else None


def soaking_findings(
    readings: CbrLabReadings, settings: CbrLabSettings, made: Specimen, particle_density: float
) -> list[Finding]:
    """Return what is wrong with the soaking; what is missing, once the plunger has been down."""
    if settings.soaking != Soaking.SOAKED:
        return []
    found = _begun_late(readings) + _hastens(readings)
    if not any(row.read is not None for row in readings.top):
        return found
    if made.swell_percent is None:
        found.append(SWELL_MISSING.at("swell.0.dial_mm"))
    elif made.swell_percent < -_SHRUNK_PERCENT:
        found.append(SWELL_NEGATIVE.at("swell.0.dial_mm", percent=-made.swell_percent))
    if made.soaked_hours is not None and made.soaked_hours < SOAKED_H - _NEARLY_H:
        last = max(i for i, row in enumerate(readings.swell) if row.used and row.dial_mm is not None)
        found.append(SOAKED_SHORT.at(f"swell.{last}.elapsed_h", hours=made.soaked_hours, wanted=SOAKED_H))
    soaked, before = readings.mass_soaked_g, readings.mass_mould_soil_g
    if soaked is not None and before is not None and soaked < before:
        found.append(SOAKED_LIGHTER.at("mass_soaked_g", "mass_mould_soil_g", soaked=soaked, before=before))
    full = _pores_full_percent(made, particle_density)
    if full is not None and full < _LEAST_FULL_PERCENT:
        cells = ("mass_mould_g", "mass_mould_soil_g", "mass_soaked_g")
        found.append(PORES_NOT_FULL.at(*cells, hours=made.soaked_hours or SOAKED_H, saturation=full))
    elif full is not None and full > _MOST_FULL_PERCENT:
        by_mass = made.dry_soaked is not None and made.bulk_soaked is not None
        found.append(PORES_OVERFULL.at("mass_soaked_g" if by_mass else "tins_soaked.0.mass_tin_wet_g", saturation=full))
    below = _full_percent(made.dry_soaked, made.water_soaked, particle_density)
    if below is not None and made.water_soaked is not None and below > _TOP_FULL_PERCENT:
        most = 100 * made.water_soaked / below
        found.append(TINS_OVERFULL.at("tins_soaked.0.mass_tin_wet_g", w=made.water_soaked, most=most))
    return found


def _pores_full_percent(made: Specimen, particle_density: float) -> float | None:
    """Return the saturation after soaking: by the mass of the whole mould, else by the water below the plunger."""
    dry, water = made.dry_soaked, made.water_soaked
    if dry is not None and made.bulk_soaked is not None:
        water = 100 * (made.bulk_soaked / dry - 1)
    return _full_percent(dry, water, particle_density)


def _full_percent(dry: float | None, water: float | None, particle_density: float) -> float | None:
    if dry is None or water is None or (voids := void_ratio(dry, particle_density)) <= 0:
        return None
    return saturation_percent(water, particle_density, voids)


def _begun_late(readings: CbrLabReadings) -> list[Finding]:
    """Return that the dial was not read before the water came: it is the first reading that swell counts from."""
    read = ((i, row) for i, row in enumerate(readings.swell) if row.used and row.dial_mm is not None)
    i, first = next(read, (0, None))
    if first is None or first.elapsed_h is None or first.elapsed_h <= _AT_ONCE_H:
        return []
    return [SWELL_BEGUN_LATE.at(f"swell.{i}.elapsed_h", f"swell.{i}.dial_mm", hours=first.elapsed_h)]


def _hastens(readings: CbrLabReadings) -> list[Finding]:
    """Return that the last dial has swelled faster again: soil takes up water ever more slowly once it has slowed."""
    read = [
        (row.elapsed_h, row.dial_mm, i)
        for i, row in enumerate(readings.swell)
        if row.used and row.elapsed_h is not None and row.dial_mm is not None
    ]
    if len(read) < _FEWEST_DIALS or any(b[0] <= a[0] for a, b in pairwise(read)):
        return []
    rates = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairwise(read)]
    (_, first, _), (before, middle, _), (hours, last, row) = read[-3:]
    slowed = rates[-2] < max(rates[:-1]) / _FASTER
    if not slowed or last - middle <= _SWELL_MM or rates[-1] <= _FASTER * max(rates[-2], 0.0):
        return []
    cell = f"swell.{row}.dial_mm"
    return [SWELL_HASTENS.at(cell, before=before, hours=hours, last=last - middle, slowed=middle - first)]


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
    usual = standard_volume_cm3(settings.school)
    if volume is not None and abs(volume / usual - 1) > 0.03:
        percent = 100 * (volume / usual - 1)
        found.append(MOULD_VOLUME.at("volume_mould_cm3", volume=volume, percent=percent, usual=usual))
    if settings.scheme == Scheme.ANOTHER and None in (readings.blows, readings.layers, readings.rammer_kg):
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
    if w is None or made.wanted_water is None:
        return found
    if abs(w - made.wanted_water.value) > settings.water_percent:
        off = w - made.wanted_water.value
        unsaid = settings.soaking == Soaking.SOAKED and made.water_soaked is None
        if off > 0 and unsaid and any(row.read is not None for row in readings.top):
            cells = "tins.0.mass_tin_dry_g"
            found.append(SOAKED_TINS.at(cells, w=w, percent=off, wanted=made.wanted_water.value))
            return found
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
    # Where its curve is named, or something of it is weighed after soaking, these say more of its mass.
    elif context.maximum_dry_density is None and made.bulk_soaked is None and made.water_soaked is None:
        full_percent = _full_percent(rho, w, gs.value)
        if full_percent is not None and full_percent < _LEAST_FULL_COMPACTED_PERCENT:
            found.append(MORE_AIR.at("mass_mould_g", "mass_mould_soil_g", saturation=full_percent))
    return found

"""The specimen in its mould: density, water, swell, and what is wrong with them."""

from dataclasses import dataclass
from math import pi

from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding, note, stop, warn
from vadum.soil.methods.cbr_lab.readings import CbrLabContext, CbrLabReadings, CbrLabSettings
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
        found.append(
            stop(
                "too-coarse",
                f"{removed:g} % is above 20 mm: the mould cannot judge this soil, at most {MOST_REMOVED_PERCENT:g} %.",
                "Do not run it. Test in the ground with a plate instead.",
                "removed_percent",
            )
        )
    if readings.mass_mould_g is not None and readings.mass_mould_soil_g is not None and made.bulk_density is None:
        found.append(
            stop(
                "mould-heavier",
                "The mould with soil is not heavier than the empty mould.",
                "Weigh again, both with base and without collar.",
                "mass_mould_soil_g",
            )
        )
    volume = readings.volume_mould_cm3
    if volume is not None and abs(volume / VOLUME_CM3 - 1) > 0.03:
        found.append(
            warn(
                "mould-volume",
                f"{volume:g} cm³ is {100 * (volume / VOLUME_CM3 - 1):+.0f} % off a 152 × 127 mm mould, {VOLUME_CM3:.0f}"
                " cm³.",
                "Measure the mould again; look whether the spacer was in.",
                "volume_mould_cm3",
            )
        )
    if settings.scheme == "another":
        found.append(
            note(
                "effort-other",
                "The effort is none of the usual schemes.",
                "Write blows, layers and rammer into the remarks of the report.",
            )
        )
    return found + _density_findings(readings, settings, context, made, gs)


def _density_findings(
    readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext, made: Specimen, gs: Leant
) -> list[Finding]:
    found: list[Finding] = []
    bulk, rho, w = made.bulk_density, made.dry_density, made.water_content
    if bulk is not None and not _BULK[0] <= bulk <= _BULK[1]:
        found.append(
            stop(
                "collar-on",
                f"A bulk density of {bulk:.2f} g/cm³ cannot be: was the collar on the balance?",
                "Weigh again without collar; check M1 and M2.",
                "mass_mould_soil_g",
            )
        )
        return found
    if rho is not None and w is not None:
        full = saturated_dry_density(w, gs.value)
        if rho > full * 1.003:
            found.append(
                stop(
                    "above-zero-air",
                    f"{rho:.3f} g/cm³ at {w:.1f} % lies above the zero-air line, at most {full:.3f}.",
                    "Check the collar, the mould's volume, the tins, then the Gs.",
                    "mass_mould_soil_g",
                )
            )
        best = context.maximum_dry_density
        if best is not None and rho <= full * 1.003 and rho > 1.06 * best.value:
            found.append(
                warn(
                    "density-high",
                    f"{rho:.2f} g/cm³ is {100 * rho / best.value:.0f} % of the curve's maximum ({best.source}).",
                    "Look at the collar and at the blows per layer.",
                    "mass_mould_soil_g",
                )
            )
    if w is not None and made.wanted_water is not None and abs(w - made.wanted_water.value) > settings.water_percent:
        off = w - made.wanted_water.value
        found.append(
            warn(
                "water-off",
                f"w {w:.1f} % is {abs(off):.1f} % {'wetter' if off > 0 else 'drier'} than wanted,"
                f" {made.wanted_water.value:.1f} % ({made.wanted_water.source}).",
                "Make the mould again with the water the calculator under Mix gives, or report it at this water"
                " content.",
                "tins.0.mass_tin_dry_g",
            )
        )
    return found

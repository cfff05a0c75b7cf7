"""The volume of a waxed lump by its weight under water."""

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.ring_density.findings import LUMP_SWIMS, WAX_LIGHTER, WAX_THICK
from vadum.soil.methods.ring_density.readings import RingDensityReadings, RingDensitySettings
from vadum.soil.physics.immersion import waxed_volume_cm3
from vadum.soil.physics.water import REFERENCE_C, water_density

# More wax than this and its density, not the soil, says how large the lump is.
_THICK_PERCENT = 25.0


def lump_volume(
    readings: RingDensityReadings, settings: RingDensitySettings, bare: float | None
) -> tuple[float | None, list[Step]]:
    """Return the volume in cm3 and its derivation; None while a mass is missing or cannot be."""
    waxed, under = readings.mass_waxed_g, readings.mass_in_water_g
    if waxed is None or under is None or bare is None or waxed <= bare:
        return None, []
    at = REFERENCE_C if readings.temperature_c is None else readings.temperature_c
    water, wax = float(water_density(at)), settings.wax_density_g_cm3
    volume = waxed_volume_cm3(waxed, under, bare, water, wax)
    if volume <= 0:
        return None, []
    put_in = f"({waxed:.1f} − {under:.1f}) / {water:.4f} − ({waxed:.1f} − {bare:.1f}) / {wax:g}"
    return volume, [Step.of(waxed_volume_cm3, symbol="V", put_in=put_in, result=f"{volume:.2f}", unit="cm³")]


def lump_findings(readings: RingDensityReadings, settings: RingDensitySettings, bare: float | None) -> list[Finding]:
    """Return what is wrong with the masses of a waxed lump."""
    waxed, under = readings.mass_waxed_g, readings.mass_in_water_g
    if waxed is None or bare is None:
        return []
    if waxed <= bare:
        return [WAX_LIGHTER.at("mass_waxed_g", "mass_bag_wet_g", waxed=waxed, bare=bare)]
    if under is None:
        return []
    volume, _ = lump_volume(readings, settings, bare)
    if volume is None:
        return [LUMP_SWIMS.at("mass_in_water_g", under=under)]
    share = 100 * (waxed - bare) / settings.wax_density_g_cm3 / volume
    return [WAX_THICK.at("mass_waxed_g", percent=share)] if share > _THICK_PERCENT else []

"""Volumes by weighing under water."""

from vadum.soil.physics.published import published


@published(
    "volume by immersion",
    "V = (waxed − in water) / ρw − (waxed − bare) / ρ wax",
    "ASTM D7263 method A; BS 1377-2 clause 7.3",
)
def waxed_volume_cm3(waxed_g: float, in_water_g: float, bare_g: float, water_g_cm3: float, wax_g_cm3: float) -> float:
    """Return the volume of a lump without its wax, cm3.

    Arguments
    ---------
    waxed_g, in_water_g, bare_g : masses in g: waxed in air, waxed under water, before waxing
    water_g_cm3, wax_g_cm3 : densities, g/cm3

    Source: ASTM D7263 (2021), method A; D4943 (2018), clause 10, for a dry pat.

    >>> round(waxed_volume_cm3(445.0, 215.0, 427.0, 1.0, 0.9), 6)  # 230 of soil and wax, 20 of wax
    210.0
    """
    return (waxed_g - in_water_g) / water_g_cm3 - (waxed_g - bare_g) / wax_g_cm3

"""Water and volume of a pat that dries."""

from vadum.soil.physics.published import published


@published("shrinkage limit", "SL = w − 100 (V − Vd) ρw / Ms", "ASTM D4943 clause 11")
def shrinkage_limit_percent(
    water_content: float, volume_wet_cm3: float, volume_dry_cm3: float, mass_dry_g: float, water_g_cm3: float = 1.0
) -> float:
    """Return the water content below which the soil no longer shrinks, percent.

    Arguments
    ---------
    water_content : of the pat when its mould was filled, percent
    volume_wet_cm3, volume_dry_cm3 : of the mould, and of the dry pat
    mass_dry_g : of the dry pat
    water_g_cm3 : density of water

    Source: ASTM D4943 (2018), clause 11: the water that leaves while the volume falls is the volume that is lost.

    >>> round(shrinkage_limit_percent(50.0, 20.0, 13.0, 20.0), 6)
    15.0
    """
    return water_content - 100.0 * (volume_wet_cm3 - volume_dry_cm3) * water_g_cm3 / mass_dry_g


@published("shrinkage ratio", "R = Ms / (Vd ρw)", "ASTM D4943 clause 11")
def shrinkage_ratio(mass_dry_g: float, volume_dry_cm3: float, water_g_cm3: float = 1.0) -> float:
    """Return R, plain number: change of volume in percent of the dry volume for one percent of water.

    Source: ASTM D4943 (2018), clause 11.

    >>> round(shrinkage_ratio(26.0, 13.0), 6)
    2.0
    """
    return mass_dry_g / (volume_dry_cm3 * water_g_cm3)


@published("volumetric shrinkage", "VS = R (w − SL)", "ASTM D4943 clause 11")
def volumetric_shrinkage_percent(ratio: float, water_content: float, limit: float) -> float:
    """Return the loss of volume on drying from a water content, percent of the dry volume; 0 below the limit.

    Source: ASTM D4943 (2018), clause 11.

    >>> round(volumetric_shrinkage_percent(1.5, 50.0, 15.0), 6)
    52.5
    """
    return max(0.0, ratio * (water_content - limit))


@published("shrinkage limit, a guide", "SL = 46.4 (LL + 43.5) / (PI + 46.4) − 43.5", "Holtz and Kovacs (1981)")
def shrinkage_limit_estimate(liquid_limit: float, plasticity_index: float) -> float:
    """Return the shrinkage limit that the plasticity chart suggests, percent: a guide, good to some percents.

    It is the liquid limit at which the line through the soil's point and the meeting point of A-line and U-line
    (-43.5, -46.4) crosses a plasticity index of nothing. Source: Casagrande, after Holtz and Kovacs (1981).

    >>> round(shrinkage_limit_estimate(50.0, 21.9), 1)  # on the A-line: about twenty
    20.0
    """
    return 46.4 * (liquid_limit + 43.5) / (plasticity_index + 46.4) - 43.5

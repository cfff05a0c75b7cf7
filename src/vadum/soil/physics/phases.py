"""Solids, water and air: the relations between densities, water content and voids."""

from vadum.soil.physics.published import published
from vadum.soil.physics.water import REFERENCE_C, water_density

WATER = float(water_density(REFERENCE_C))


@published("dry density", "ρd = ρ / (1 + w)", "ASTM D7263 clause 10")
def dry_density(bulk_density: float, water_content_percent: float) -> float:
    """Return rho_d = rho / (1 + w), in the unit of rho; w in percent. Source: ASTM D7263 (2021), clause 10.

    >>> round(dry_density(1.95, 20.0), 3)
    1.625
    """
    return bulk_density / (1.0 + water_content_percent / 100.0)


@published("void ratio", "e = Gs ρw / ρd − 1", "ASTM D7263 clause 10")
def void_ratio(dry_density_g_cm3: float, particle_density: float) -> float:
    """Return e = Gs rho_w / rho_d - 1, plain number. Source: ASTM D7263 (2021), clause 10.

    >>> round(void_ratio(1.625, 2.70), 3)
    0.659
    """
    return particle_density * WATER / dry_density_g_cm3 - 1.0


@published("saturation", "S = w Gs / e", "ASTM D7263 clause 10")
def saturation_percent(water_content_percent: float, particle_density: float, void_ratio_: float) -> float:
    """Return S = w Gs / e, percent; w in percent. Source: ASTM D7263 (2021), clause 10.

    >>> round(saturation_percent(20.0, 2.70, 0.659), 1)
    81.9
    """
    return water_content_percent * particle_density / void_ratio_


@published("air lines", "ρd = ρw (1 − A) / (1/Gs + w)", "ASTM D698 clause 11 at A = 0")
def saturated_dry_density(water_content_percent: float, particle_density: float, air_percent: float = 0.0) -> float:
    """Return the dry density at a water content with this share of air in the whole volume.

    Arguments
    ---------
    water_content_percent : percent of dry mass
    particle_density : Gs, plain number
    air_percent : share of the volume that is air, percent; 0 gives the zero-air line

    Returns
    -------
    g/cm3. Source: ASTM D698 (2021), clause 11 (S = 100 %); the air lines from the same balance of volumes.

    >>> round(saturated_dry_density(15.0, 2.70), 2)  # 1 / (1/2.70 + 0.15)
    1.92
    """
    return WATER * (1.0 - air_percent / 100.0) / (1.0 / particle_density + water_content_percent / 100.0)

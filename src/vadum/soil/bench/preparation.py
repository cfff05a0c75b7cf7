"""Preparing moist soil: water to add, soil to take, drier soil to mix in. Used by every method that builds a
specimen."""

from pydantic import BaseModel, Field

from vadum.soil.physics.moisture import moist_mass_g, water_to_add_g


class Preparation(BaseModel):
    """What to weigh out. ``words`` says it as one would at the bench."""

    mass_dry_g: float
    mass_moist_g: float = Field(description="soil to take at its present water content")
    water_to_add_g: float = Field(description="negative when the soil is too wet")
    drier_soil_g: float | None = Field(
        default=None, description="moist mass of drier soil that brings it to the target"
    )
    words: str


def drier_soil_g(mass_dry_g: float, w_target_percent: float, w_now_percent: float, w_drier_percent: float) -> float:
    """Return the moist mass of drier soil that brings soil which is too wet to the target, g.

    Raises
    ------
    ValueError
        If the drier soil is not drier than the target.
    """
    if w_drier_percent >= w_target_percent:
        raise ValueError(
            f"soil at {w_drier_percent:g} % cannot dry a mix to {w_target_percent:g} %; it must be drier than that"
        )
    dry = mass_dry_g * (w_now_percent - w_target_percent) / (w_target_percent - w_drier_percent)
    return moist_mass_g(dry, w_drier_percent)


def prepare(
    *,
    w_target_percent: float,
    w_now_percent: float,
    mass_dry_g: float | None = None,
    moulds: int = 1,
    volume_cm3: float | None = None,
    dry_density_g_cm3: float | None = None,
    spare_percent: float = 10.0,
    w_drier_percent: float | None = None,
) -> Preparation:
    """Return what to weigh out for a dry mass, or for moulds of a volume at a dry density with some to spare.

    Raises
    ------
    ValueError
        If neither a dry mass nor a volume with its density is given, or the drier soil is not drier.
    """
    if mass_dry_g is None:
        if volume_cm3 is None or dry_density_g_cm3 is None:
            raise ValueError("give the dry mass, or the volume of a mould and the dry density wanted")
        mass_dry_g = moulds * volume_cm3 * dry_density_g_cm3 * (1 + spare_percent / 100.0)
    moist = moist_mass_g(mass_dry_g, w_now_percent)
    water = water_to_add_g(mass_dry_g, w_target_percent, w_now_percent)
    drier = None
    if water < 0 and w_drier_percent is not None:
        drier = drier_soil_g(mass_dry_g, w_target_percent, w_now_percent, w_drier_percent)
    take = f"Take {moist:.0f} g at {w_now_percent:g} %"
    if abs(water) < 0.05:
        words = f"{take}: it is at {w_target_percent:g} % already."
    elif water > 0:
        words = f"{take} and add {water:.0f} g of water for {w_target_percent:g} %."
    elif drier is not None:
        words = f"{take} and mix in {drier:.0f} g of soil at {w_drier_percent:g} % for {w_target_percent:g} %."
    else:
        words = (
            f"{take}: too wet. Dry it until it weighs {moist + water:.0f} g, or give the water content of drier soil."
        )
    return Preparation(mass_dry_g=mass_dry_g, mass_moist_g=moist, water_to_add_g=water, drier_soil_g=drier, words=words)

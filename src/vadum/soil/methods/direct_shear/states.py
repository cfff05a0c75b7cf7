"""The state of each specimen as it was sheared: water content, densities, void ratio, relative density."""

from dataclasses import dataclass

from vadum.soil.methods.direct_shear.readings import DirectShearReadings
from vadum.soil.physics.phases import void_ratio
from vadum.soil.physics.published import published


@dataclass(frozen=True)
class State:
    """What is known of one specimen; None where a reading is missing."""

    density: float
    water_content: float | None
    dry_density: float | None
    void_ratio: float | None
    relative_density: float | None

    def cells(self, row: int) -> dict[str, float | str]:
        """Return its worked-out cells by path."""
        cells: dict[str, float | str] = {f"specimens.{row}.density": self.density}
        after = {key: value for key, value in vars(self).items() if key != "density" and value is not None}
        return cells | {f"after.{row}.{key}": value for key, value in after.items()}


def state_of(number: int, readings: DirectShearReadings, area_mm2: float, gs: float) -> State | None:
    """Return the state of a specimen: mass used over its volume, and of its dry mass where that was weighed."""
    row = readings.specimens[number - 1]
    if row.mass_before_g is None or row.mass_after_g is None or not row.height_mm:
        return None
    moist, volume = row.mass_before_g - row.mass_after_g, area_mm2 * row.height_mm / 1000
    after = readings.after[number - 1] if number <= len(readings.after) else None
    if after is None or not after.used or not after.mass_dry_g:
        return State(moist / volume, None, None, None, None)
    dry = after.mass_dry_g / volume
    relative = None
    if readings.loosest_g_cm3 and readings.densest_g_cm3 and readings.densest_g_cm3 > readings.loosest_g_cm3:
        relative = relative_density_percent(dry, readings.loosest_g_cm3, readings.densest_g_cm3)
    return State(moist / volume, 100 * (moist / after.mass_dry_g - 1), dry, void_ratio(dry, gs), relative)


@published("relative density", "Dr = ρd,max (ρd − ρd,min) / [ρd (ρd,max − ρd,min)], percent", "ASTM D4254 clause 12")
def relative_density_percent(dry: float, loosest: float, densest: float) -> float:
    """Return how far a sand is from its loosest to its densest state, by void ratios, percent.

    Arguments
    ---------
    dry, loosest, densest : dry densities in g/cm3, loosest below densest

    >>> round(relative_density_percent(1.6, 1.4, 1.8), 2)  # e 0.656 between 0.893 and 0.472 at Gs 2.65
    56.25
    """
    return 100 * densest * (dry - loosest) / (dry * (densest - loosest))

"""A fine soil whose limits are known, and the balance that weighs it."""

from dataclasses import dataclass

import numpy as np

BALANCE_RESOLUTION_G = 0.01
STANDARD_CONE_MM = 20.0
"""What the 80 g cone of 30 degrees sinks at the liquid limit."""


@dataclass(frozen=True)
class PlasticSoil:
    """The truth: limits, flow index (percent per log cycle of blows) and natural water content, all in percent."""

    liquid_limit: float
    plastic_limit: float
    flow_index: float
    natural_water_content: float
    scatter: float = 0.0
    """Standard deviation of water content from one portion of the mix to the next, percent."""

    def portion(self, water_content: float, rng: np.random.Generator) -> float:
        """Return the water content of one portion taken from a mix at ``water_content``."""
        return water_content + float(rng.normal(0, self.scatter)) if self.scatter else water_content

    def water_content_at(self, blows: float) -> float:
        """Return the water content in percent at which the groove closes after this many blows."""
        return self.liquid_limit - self.flow_index * np.log10(blows / 25.0)

    def water_content_at_penetration(self, penetration_mm: float) -> float:
        """Return the water content in percent at which the 80 g cone sinks this far (straight line through 20 mm)."""
        return self.liquid_limit + 0.035 * self.liquid_limit * (penetration_mm - STANDARD_CONE_MM)


def a_plastic_soil(rng: np.random.Generator) -> PlasticSoil:
    """Return a believable clay or plastic silt: PI on a band below the U-line, flow index in step with LL."""
    liquid_limit = float(rng.uniform(26, 95))
    plasticity_index = float(np.clip(0.73 * (liquid_limit - 20) * rng.uniform(0.6, 1.1), 4, 0.85 * (liquid_limit - 8)))
    plastic_limit = liquid_limit - plasticity_index
    return PlasticSoil(
        liquid_limit=liquid_limit,
        plastic_limit=plastic_limit,
        flow_index=float(0.26 * liquid_limit * rng.uniform(0.85, 1.15)),
        natural_water_content=plastic_limit + float(rng.uniform(-0.1, 0.9)) * plasticity_index,
    )


def weigh(mass_g: float, resolution_g: float = BALANCE_RESOLUTION_G) -> float:
    """Return what a balance of this resolution shows."""
    return round(round(mass_g / resolution_g) * resolution_g, 6)


def tin_of_soil(
    rng: np.random.Generator, name: str, water_content: float, dry_soil_g: float, tare_g: float | None = None
) -> dict[str, float | str]:
    """Return the three weighings of a tin that holds ``dry_soil_g`` of soil at ``water_content`` percent."""
    tare = weigh(float(rng.uniform(16.5, 18.5)) if tare_g is None else tare_g)
    return {
        "tin": name,
        "mass_tin_g": tare,
        "mass_tin_wet_g": weigh(tare + dry_soil_g * (1 + water_content / 100)),
        "mass_tin_dry_g": weigh(tare + dry_soil_g),
    }


def tin_names(rng: np.random.Generator, count: int) -> list[str]:
    """Return different tin numbers as painted on tins."""
    return [f"T-{n:02d}" for n in rng.choice(np.arange(1, 60), size=count, replace=False)]

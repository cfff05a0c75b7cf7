"""What one operator's tests of one soil differ by, as standards publish it.

Single-operator standard deviations. Quoted from memory of the editions named: before one is quoted to somebody else it
is to be compared with the copy at hand. A laboratory with eight duplicates of its own uses those instead.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Repeatability:
    """One standard deviation of a result between tests: an amount in its unit, or a share of it; and who says so."""

    source: str
    amount: float = 0.0
    share: float = 0.0

    def of(self, value: float) -> float:
        return self.amount or self.share * abs(value)

    @property
    def words(self) -> str:
        return f"{self.amount:g}" if self.amount else f"{100 * self.share:g} % of the value"


_LIMITS = "ASTM D4318, triplicate tests of one operator"
_GRAINS = "ASTM D854, triplicate tests of one operator"
_COMPACTION = "ASTM D698, triplicate tests of one operator"

# By method and result.
PUBLISHED: dict[tuple[str, str], Repeatability] = {
    ("water-content", "water_content"): Repeatability("ASTM D2216, single operator", share=0.027),
    ("liquid-limit", "liquid_limit"): Repeatability(_LIMITS, share=0.012),
    ("liquid-limit", "liquid_limit_oven_dried"): Repeatability(_LIMITS, share=0.012),
    ("plastic-limit", "plastic_limit"): Repeatability(_LIMITS, amount=0.5),
    ("plastic-limit", "plasticity_index"): Repeatability(_LIMITS, amount=0.8),
    ("particle-density", "particle_density"): Repeatability(_GRAINS, amount=0.009),
    ("particle-density", "grain_density_g_cm3"): Repeatability(_GRAINS, amount=0.009),
    # 0.5 lbf/ft3.
    ("compaction", "maximum_dry_density"): Repeatability(_COMPACTION, amount=0.008),
    ("compaction", "optimum_water_content"): Repeatability(_COMPACTION, amount=0.5),
    ("cbr-lab", "cbr"): Repeatability("ASTM D1883, single operator", share=0.08),
}


def published_for(key: str) -> Repeatability | None:
    """Return what is published of a result by whatever method gives it first; None where nothing is."""
    return next((one for (_, own), one in PUBLISHED.items() if own == key), None)

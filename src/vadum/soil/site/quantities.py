"""The quantities a designer asks a laboratory for, and which parameters of which methods give them."""

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Quantity:
    """A quantity that tests of one or several methods give.

    ``sources`` are method and parameter. ``side`` is the side on which a cautious value lies, "" where there is none:
    an index says what a soil is, not what it bears. ``log`` is true for what scatters by factors, such as conductivity.
    """

    key: str
    symbol: str
    name: str
    unit: str
    family: str
    sources: tuple[tuple[str, str], ...]
    side: Literal["", "low", "high"] = ""
    log: bool = False

    @property
    def heading(self) -> str:
        return f"{self.symbol}, {self.unit}" if self.unit else self.symbol


_STATE, _GRAINS, _STRENGTH, _BEARING, _WATER = "state and plasticity", "grains", "strength", "bearing", "water and lime"

QUANTITIES: tuple[Quantity, ...] = (
    Quantity("w", "w", "water content", "%", _STATE, (("water-content", "water_content"),)),
    Quantity("ll", "LL", "liquid limit", "%", _STATE, (("liquid-limit", "liquid_limit"),)),
    Quantity("pl", "PL", "plastic limit", "%", _STATE, (("plastic-limit", "plastic_limit"),)),
    Quantity("pi", "PI", "plasticity index", "%", _STATE, (("plastic-limit", "plasticity_index"),)),
    Quantity("li", "LI", "liquidity index", "", _STATE, (("plastic-limit", "liquidity_index"),)),
    Quantity("gs", "Gs", "particle density", "", _STATE, (("particle-density", "particle_density"),)),
    Quantity(
        "dry",
        "ρd",
        "dry density in place",
        "g/cm³",
        _STATE,
        (("ring-density", "dry_density"), ("excavation-density", "dry_density")),
        "low",
    ),
    Quantity(
        "gravel", "gravel", "gravel", "%", _GRAINS, (("hydrometer", "gravel_percent"), ("sieve", "gravel_percent"))
    ),
    Quantity("sand", "sand", "sand", "%", _GRAINS, (("hydrometer", "sand_percent"), ("sieve", "sand_percent"))),
    Quantity("fines", "fines", "fines", "%", _GRAINS, (("hydrometer", "fines_percent"), ("sieve", "fines_percent"))),
    Quantity("clay", "clay", "clay size", "%", _GRAINS, (("hydrometer", "clay_percent"),)),
    Quantity(
        "d10", "D10", "diameter at 10 % finer", "mm", _GRAINS, (("hydrometer", "d10_mm"), ("sieve", "d10_mm")), "", True
    ),
    Quantity(
        "friction",
        "φ′",
        "angle of friction",
        "°",
        _STRENGTH,
        (("triaxial", "friction_effective"), ("direct-shear", "friction_peak")),
        "low",
    ),
    Quantity(
        "cohesion",
        "c′",
        "cohesion",
        "kPa",
        _STRENGTH,
        (("triaxial", "cohesion_effective"), ("direct-shear", "cohesion_peak")),
        "low",
    ),
    Quantity("cu", "cu", "undrained strength, triaxial", "kPa", _STRENGTH, (("triaxial", "cu"),), "low"),
    Quantity("su", "su", "undrained strength, unconfined", "kPa", _STRENGTH, (("unconfined", "su"),), "low"),
    Quantity(
        "vane", "su vane", "undrained strength, vane, not corrected", "kPa", _STRENGTH, (("vane", "su_mean"),), "low"
    ),
    Quantity("optimum", "w opt", "optimum water content", "%", _BEARING, (("compaction", "optimum_water_content"),)),
    Quantity("proctor", "ρd max", "maximum dry density", "g/cm³", _BEARING, (("compaction", "maximum_dry_density"),)),
    Quantity("cbr", "CBR", "bearing ratio in the mould", "%", _BEARING, (("cbr-lab", "cbr"),), "low"),
    Quantity("cbr_site", "CBR site", "bearing ratio in the ground", "%", _BEARING, (("cbr-in-situ", "cbr"),), "low"),
    Quantity("ev2", "Ev2", "modulus of the second loading", "MPa", _BEARING, (("plate-static", "ev2"),), "low"),
    Quantity(
        "plate", "q safe", "safe pressure under the plate", "kPa", _BEARING, (("plate-incremental", "safe_kpa"),), "low"
    ),
    Quantity(
        "ks",
        "Ks",
        "conductivity at saturation",
        "mm/h",
        _WATER,
        (("falling-head", "ks_site"), ("well-permeameter", "kfs")),
        "low",
        True,
    ),
    Quantity("fc", "FC", "field capacity", "%", _WATER, (("retention", "field_capacity"),)),
    Quantity("available", "AW", "available water", "%", _WATER, (("retention", "available"),)),
    Quantity("lime", "lime", "lime demand", "%", _WATER, (("lime-demand", "lime_percent"),)),
)
FAMILIES: tuple[str, ...] = tuple(dict.fromkeys(q.family for q in QUANTITIES))

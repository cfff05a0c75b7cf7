"""The quantities a designer asks a laboratory for. Which results give them stands with the results."""

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Quantity:
    """A quantity that tests of one or several methods give.

    A result that gives it names its key. ``side`` is the side on which a cautious value lies, "" where there is none:
    an index says what a soil is, not what it bears. ``log`` is true for what scatters by factors, such as conductivity.
    """

    key: str
    symbol: str
    name: str
    unit: str
    family: str
    side: Literal["", "low", "high"] = ""
    log: bool = False

    @property
    def heading(self) -> str:
        return f"{self.symbol}, {self.unit}" if self.unit else self.symbol


_STATE, GRAINS, _STRENGTH, _BEARING, _WATER = "state and plasticity", "grains", "strength", "bearing", "water and lime"

QUANTITIES: tuple[Quantity, ...] = (
    Quantity("water_content", "w", "water content", "%", _STATE),
    Quantity("liquid_limit", "LL", "liquid limit", "%", _STATE),
    Quantity("plastic_limit", "PL", "plastic limit", "%", _STATE),
    Quantity("plasticity_index", "PI", "plasticity index", "%", _STATE),
    Quantity("liquidity_index", "LI", "liquidity index", "", _STATE),
    Quantity("particle_density", "Gs", "particle density", "", _STATE),
    Quantity("dry_density", "ρd", "dry density in place", "g/cm³", _STATE, side="low"),
    Quantity("gravel_percent", "gravel", "gravel", "%", GRAINS),
    Quantity("sand_percent", "sand", "sand", "%", GRAINS),
    Quantity("fines_percent", "fines", "fines", "%", GRAINS),
    Quantity("clay_percent", "clay", "clay size", "%", GRAINS),
    Quantity("d10_mm", "D10", "diameter at 10 % finer", "mm", GRAINS, log=True),
    Quantity("friction", "φ′", "angle of friction", "°", _STRENGTH, side="low"),
    Quantity("cohesion", "c′", "cohesion", "kPa", _STRENGTH, side="low"),
    Quantity("su_triaxial", "cu", "undrained strength, triaxial", "kPa", _STRENGTH, side="low"),
    Quantity("su_unconfined", "su", "undrained strength, unconfined", "kPa", _STRENGTH, side="low"),
    Quantity("su_vane", "su vane", "undrained strength, vane, not corrected", "kPa", _STRENGTH, side="low"),
    Quantity("optimum_water_content", "w opt", "optimum water content", "%", _BEARING),
    Quantity("maximum_dry_density", "ρd max", "maximum dry density", "g/cm³", _BEARING),
    Quantity("cbr", "CBR", "bearing ratio in the mould", "%", _BEARING, side="low"),
    Quantity("cbr_in_place", "CBR site", "bearing ratio in the ground", "%", _BEARING, side="low"),
    Quantity("cbr_cone", "CBR cone", "bearing ratio of the softest layer, by the cone", "%", _BEARING, side="low"),
    Quantity("evd", "Evd", "dynamic modulus by the drop plate", "MPa", _BEARING, side="low"),
    Quantity("ev2", "Ev2", "modulus of the second loading", "MPa", _BEARING, side="low"),
    Quantity("safe_kpa", "safe", "safe pressure under the plate", "kPa", _BEARING, side="low"),
    Quantity("conductivity", "Ks", "conductivity at saturation", "mm/h", _WATER, side="low", log=True),
    Quantity("infiltration", "i", "infiltration rate", "mm/h", _WATER, side="low", log=True),
    Quantity("permeability", "k", "permeability in the laboratory", "m/s", _WATER, side="low", log=True),
    Quantity("field_capacity", "θ fc", "field capacity", "%", _WATER),
    Quantity("available", "available", "available water", "%", _WATER),
    Quantity("lime_percent", "lime", "lime demand", "%", _WATER),
)
FAMILIES: tuple[str, ...] = tuple(dict.fromkeys(q.family for q in QUANTITIES))
BY_KEY = {q.key: q for q in QUANTITIES}

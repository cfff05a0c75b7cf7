"""The symbols of all methods, gathered from what the methods declare."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from vadum.soil.registry import METHODS

# Signs of figures and sheets that no parameter carries.
_FURTHER = (
    ("μ", "factor of the vane's strength for rate and anisotropy, by the plasticity index", "", "vane"),
    ("R*", "characteristic length of the cylinder and the wet soil below it", "mm", "falling-head"),
    ("s, t", "half the sum and half the difference of the principal stresses", "kPa", "triaxial"),
    ("NP", "non-plastic: a limit cannot be determined", "", "plastic-limit"),
    ("N", "blows of the cup", "", "liquid-limit"),
    ("±", "standard uncertainty from the steps of the readings and the calibrations", "", ""),
)
# What is worked out beside a row, by the name of its column: one letter stands for several things.
_COLUMNS = {
    "area_mm2": "cross-section of the specimen as shearing begins",
    "b": "Skempton's pore-pressure coefficient at saturation",
    "deficit_percent": "water content that the wetting front fills",
    "density": "bulk density of the specimen",
    "depth_cm": "effective depth of the hydrometer",
    "diameter_mm": "diameter that has fallen below the reading's depth",
    "dry_density": "dry density of the specimen",
    "force_kn": "force on the plunger",
    "gradient": "hydraulic gradient",
    "head_m": "head above or below the water at rest",
    "length_mm": "length of the specimen as shearing begins",
    "normal_kpa": "normal stress",
    "relative_density": "relative density of the specimen",
    "residual_mm": "distance of the reading from the fit",
    "saturation_percent": "degree of saturation of the specimen",
    "settlement_mm": "settlement of the stage",
    "shear_kpa": "shear stress",
    "strain_percent": "strain",
    "stress_kpa": "axial stress",
    "theta": "water content by volume",
    "void_ratio": "void ratio of the specimen",
    "water_content": "water content of the specimen",
    "water_content_percent": "water content of the row",
    "water_percent": "water content of the specimen",
}


@dataclass(frozen=True)
class Entry:
    """A symbol with one of its meanings, its unit, and the methods that use it so."""

    symbol: str
    meaning: str
    unit: str
    methods: tuple[str, ...]


@cache
def glossary() -> tuple[Entry, ...]:
    """Return every symbol that a method can give, letters before signs."""
    found: dict[tuple[str, str, str], list[str]] = {}
    for symbol, meaning, unit, code in (*_given(), *_FURTHER):
        codes = found.setdefault((symbol, meaning, unit), [])
        if code and code not in codes:
            codes.append(code)
    entries = [Entry(symbol, meaning, unit, tuple(codes)) for (symbol, meaning, unit), codes in found.items()]
    return tuple(sorted(entries, key=lambda e: (e.symbol.casefold(), e.symbol, e.meaning)))


def _given() -> Iterator[tuple[str, str, str, str]]:
    """Yield symbol, meaning, unit and method of the results declared and of the columns worked out."""
    for method in METHODS.values():
        # A judgement in words names itself.
        entries = [result.entry for result in method.results if result.numeric]
        for symbol, meaning, unit in entries:
            yield symbol, meaning, unit, method.code
        symbols = {symbol for symbol, _, _ in entries}
        for column in method.computed:
            if len(column.label) <= 3 and column.label not in symbols:
                yield column.label, _COLUMNS[column.key], column.unit, method.code

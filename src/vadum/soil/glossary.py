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
# Columns that a row's own number is worked out in.
_COLUMNS = {
    "w": "water content of the row",
    "F": "force on the plunger",
    "s": "settlement of the stage",
    "S": "degree of saturation of the point",
    "B": "Skempton's pore-pressure coefficient at saturation",
    "D": "diameter that has fallen below the reading's depth",
    "L": "effective depth of the hydrometer",
    "Δθ": "water content that the wetting front fills",
    "ε": "strain",
    "θ": "water content by volume",
    "σ": "normal stress",
    "τ": "shear stress",
    "q": "deviator stress",
    "ρ": "bulk density of the specimen",
    "off": "distance of the reading from the fit",
    "Gs": "particle density of the flask",
    "ρd": "dry density of the point",
    "St": "sensitivity of the depth",
    "su": "strength of the depth",
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
                yield column.label, _COLUMNS.get(column.label, "worked out for each row"), column.unit, method.code

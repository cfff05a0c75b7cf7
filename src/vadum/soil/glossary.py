"""The symbols of all methods, gathered from what the methods themselves give."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import numpy as np

from vadum.soil.registry import METHODS
from vadum.soil.site import QUANTITIES

# A number that counts specimens, cylinders or ends belongs to the test in hand, not to the symbol.
_COUNTED = re.compile(r"(?<=[\w′.]) \d$")
_OF_ONE = re.compile(r",? ?\b(specimen|cylinder|position|head|flask) \d+\b")
_COUNT_IN_NAME = re.compile(r"\b(mean of|mean over) \d+ ")
_ASSUMED = re.compile(r", Gs .*$")
_SOILS = 3

# Signs of figures and sheets that no parameter carries.
_FURTHER = (
    ("μ", "factor of the vane's strength for rate and anisotropy, by the plasticity index", "", "vane"),
    ("R*", "characteristic length of the cylinder and the wet soil below it", "mm", "falling-head"),
    ("s, t", "half the sum and half the difference of the principal stresses", "kPa", "triaxial"),
    ("NP", "non-plastic: a limit cannot be determined", "", "plastic-limit"),
    ("IC", "consistency index", "", "plastic-limit"),
    ("A", "activity: plasticity index by clay share", "", "plastic-limit"),
    ("Cu", "coefficient of uniformity", "", "sieve"),
    ("Cc", "coefficient of curvature", "", "sieve"),
    ("ρd / max", "share of the maximum dry density", "%", "cbr-lab"),
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
    leaning = ((q.symbol, q.name, q.unit, code) for q in QUANTITIES for code, _ in q.sources)
    given = list(_given())
    known = {(symbol, code) for symbol, _, _, code in given}
    # What a test gives only with others beside it.
    for symbol, meaning, unit, code in (*given, *(e for e in (*leaning, *_FURTHER) if (e[0], e[3]) not in known)):
        codes = found.setdefault((symbol, meaning, unit), [])
        if code and code not in codes:
            codes.append(code)
    entries = [Entry(symbol, meaning, unit, tuple(codes)) for (symbol, meaning, unit), codes in found.items()]
    return tuple(sorted(entries, key=lambda e: (e.symbol.casefold(), e.symbol, e.meaning)))


def _given() -> Iterator[tuple[str, str, str, str]]:
    """Yield symbol, meaning, unit and method of what reducing a few virtual tests gives, and of the columns worked
    out."""
    rng = np.random.default_rng(7)
    for method in METHODS.values():
        settings, context = method.Settings(), method.Context()
        symbols: set[str] = set()
        for _ in range(_SOILS):
            reduction = method.reduce(method.virtual(method.a_soil(rng), settings, rng), settings, context)
            for p in reduction.parameters:
                # A judgement in words names itself.
                if p.value is not None:
                    symbols.add(bare_symbol(p.symbol))
                    yield bare_symbol(p.symbol), _bare(p.name), p.unit, method.code
        for column in method.computed:
            if len(column.label) <= 3 and column.label not in symbols:
                yield column.label, _COLUMNS.get(column.label, "worked out for each row"), column.unit, method.code


def bare_symbol(symbol: str) -> str:
    """Return a symbol without the number of the specimen it is of."""
    symbol = re.sub(r"^(Position \d|Top|Bottom) ", "CBR ", symbol).replace("CBR origin", "x0")
    return symbol if symbol.startswith("CBR ") else _COUNTED.sub("", symbol)


def _bare(name: str) -> str:
    name = _ASSUMED.sub("", _COUNT_IN_NAME.sub(r"\1 several ", _OF_ONE.sub("", name)))
    name = re.sub(r"^(top|bottom)?,? ?origin moved", "how far the origin is moved", name)
    return re.sub(r"^(top|bottom|by)?,? ?(at [\d.]+ mm)$", r"bearing ratio of one place \2", name).strip(" ,")

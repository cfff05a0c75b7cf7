"""Numbers as they are written in a sentence: with their unit, in the set of units that a reader wants.

Inside the core every number is in the unit of the laboratory. A sentence names that unit beside the slot, and does not
write it itself: ``{volume:g cm³}`` is filled as ``944 cm³``, ``{low:g [cm³]} to {high:g cm³}`` as ``900 to 1100 cm³``.
In another set of units the same slots are converted.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from functools import cache
from math import floor, log10
from string import Formatter
from typing import Any

from vadum.soil.numbers.units import convert

# A step that is a tenth of another to the last bit is a tenth.
_JUST = 1e-9
_NUMBER = re.compile(r"\d+(?:\.\d+)?(?:e[+-]?\d+)?")
# Numbers that nobody counts the zeros of.
_READABLE = (1e-3, 1e4)
_POINT = re.compile(r"(?<=\d)\.(?=\d)")


@dataclass(frozen=True)
class Units:
    """A set of units for readers: its name, what is shown in the place of units of the laboratory, the decimal mark."""

    name: str
    shown: Mapping[str, str] = field(default_factory=dict)
    mark: str = "."
    unsaid: frozenset[str] = frozenset({"°C"})
    """Units that stay in words: temperatures in the names of results are those that a standard refers to."""

    @property
    def plain(self) -> bool:
        """Whether everything is shown as the laboratory keeps it."""
        return not self.shown and self.mark == "."

    def unit(self, unit: str) -> str:
        """Return the unit shown in the place of one of the laboratory."""
        return self.shown.get(unit, unit)

    def value(self, value: float, unit: str) -> float:
        """Return a value in the unit shown."""
        return convert(value, unit, self.unit(unit))

    def step(self, value: float, unit: str) -> float:
        """Return a length on the scale in the unit shown: not a place on it, degrees have another zero."""
        return self.value(value, unit) - self.value(0.0, unit)

    def without(self, units: Iterable[str]) -> "Units":
        """Return the set with these units of the laboratory left as they are."""
        return replace(self, shown={unit: shown for unit, shown in self.shown.items() if unit not in set(units)})

    def marked(self, text: str) -> str:
        """Return a text of numbers with the decimal mark of the set."""
        return text if self.mark == "." else _POINT.sub(self.mark, text)

    def words(self, text: str) -> str:
        """Return a line of words with every number that one of the set's units follows in the unit shown:
        ``2: 100 kPa``, ``0.30 to 0.60 m``."""
        said = tuple(unit for unit in self.shown if unit not in self.unsaid)
        return self.marked(_followed_by(said).sub(self._said, text) if said else text)

    def _said(self, match: re.Match[str]) -> str:
        unit = match["unit"]
        numbers = _NUMBER.sub(lambda one: self.text(float(one[0]), unit, one[0]), match["numbers"])
        return f"{numbers} {self.unit(unit)}"

    def text(self, value: float, unit: str, text: str) -> str:
        """Return a value as shown, with a point: no coarser than its text in the unit of the laboratory and hardly
        finer."""
        if self.unit(unit) == unit:
            return text
        mantissa, power, _ = text.lower().partition("e")
        if power:
            return _with_power(self.value(value, unit), figures_of(mantissa))
        step = 10.0 ** -len(text.partition(".")[2])
        shown = abs(self.step(step, unit))
        return f"{self.value(value, unit):.{max(0, -floor(log10(shown) + _JUST))}f}"


SI = Units("SI")


def fill(sentence: str, values: Mapping[str, Any], units: Units = SI) -> str:
    """Return a sentence with its slots filled, numbers with a unit in the set asked for."""
    return _Filling(units).vformat(sentence, (), values)


def in_words(sentence: str) -> str:
    """Return a sentence for the page that lists it: each slot by its name, with its unit."""
    words = []
    for text, slot, spec, _ in Formatter().parse(sentence):
        _, unit, printed = _parts(spec or "")
        words += [text, f"‹{slot}›" if slot else "", f" {unit}" if unit and printed else ""]
    return "".join(words)


def unit_slots(sentence: str) -> dict[str, str]:
    """Return the unit of each slot that has one."""
    found = {}
    for _, slot, spec, _ in Formatter().parse(sentence):
        unit = _parts(spec or "")[1]
        if slot and unit:
            found[slot] = unit
    return found


def figures_of(text: str) -> int:
    """Return the significant figures of a number written without a power of ten: 3 for ``184`` and for ``0.0250``."""
    digits = text.lstrip("+-−").replace(".", "").lstrip("0")
    return max(1, len(digits))


def with_figures(value: float, figures: int) -> str:
    """Return a number with so many significant figures, without an exponent where it can be read without one."""
    if value == 0:
        return "0"
    rounded = Decimal(f"{value:.{figures - 1}e}")
    return f"{rounded:.{figures - 1}e}" if rounded.adjusted() < -5 or rounded.adjusted() > 8 else f"{rounded:f}"


def _with_power(value: float, figures: int) -> str:
    """Return a number as it was written before: with a power of ten, unless it can be read without."""
    if not value or _READABLE[0] <= abs(value) < _READABLE[1]:
        return with_figures(value, figures)
    mantissa, power = f"{value:.{figures - 1}e}".split("e")
    return f"{mantissa}e{int(power)}"


@cache
def _followed_by(units: tuple[str, ...]) -> re.Pattern[str]:
    """Return what finds one number, or two with a word between, before one of these units."""
    longest_first = "|".join(re.escape(unit) for unit in sorted(units, key=len, reverse=True))
    number = rf"(?<![\w.]){_NUMBER.pattern}"
    return re.compile(rf"(?P<numbers>{number}(?:(?: to | and | ± |–|/){number})?) (?P<unit>{longest_first})(?![\w/²³])")


class _Filling(Formatter):
    def __init__(self, units: Units) -> None:
        self.units = units

    def format_field(self, value: Any, format_spec: str) -> Any:
        spec, unit, printed = _parts(format_spec)
        if not unit:
            text = format(value, spec)
            return self.units.marked(text) if isinstance(value, float) else text
        text = self.units.marked(self.units.text(value, unit, format(value, spec)))
        return f"{text} {self.units.unit(unit)}" if printed else text


def _parts(format_spec: str) -> tuple[str, str, bool]:
    """Return how the number is written, its unit, and whether the unit is written behind it."""
    spec, _, unit = format_spec.partition(" ")
    if unit.startswith("["):
        return spec, unit.strip("[]"), False
    return spec, unit, True

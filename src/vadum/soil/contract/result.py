"""Results: declared once by a method, and given as soil parameters with their raw and their reported value."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from string import Formatter
from types import ModuleType
from typing import Any

from vadum.soil.numbers.rounding import Rounding, Significant
from vadum.soil.numbers.scatter import Scatter

# A smaller number is written with a power of ten.
_SMALL = Decimal("0.0001")


@dataclass(slots=True, kw_only=True)
class Parameter:
    """A reduced value. ``value`` is unrounded; ``reported`` and ``text`` follow the rounding rule; ``doubt`` is one
    standard error by the scatter of its readings, and ``freedom`` how many degrees of freedom that has.

    A parameter that is a judgement rather than a number (non-plastic, fit) has ``text`` only. A plain class: a
    reduction makes dozens at every key.
    """

    key: str
    symbol: str
    name: str
    unit: str = ""
    value: float | None = None
    reported: float | None = None
    text: str
    rounding: str = ""
    doubt: float | None = None
    freedom: int | None = None
    basis: str = ""


Bounds = tuple[float | None, float | None]


@dataclass(frozen=True)
class Result:
    """A result that a method can give, declared once: screen, sheet, card, column, summary and glossary read it here.

    ``key``, ``symbol`` and ``name`` may have slots (``ks_{number}``) that :meth:`of` fills. Without a ``rounding`` a
    number needs its own, and words have none. ``impossible`` and ``unusual`` are the bounds outside which a value
    cannot be, or hardly is; ``takes`` says what it would take. ``quantity`` is what a designer asks for and this gives,
    ``card`` its place on the sample's card, 0 when it has none. An ``agreement`` says how well readings agree: it is a
    measure of doubt and has none itself. An ``opinion`` is drawn from results by a rule that is not the test's: a value
    for design, a verdict, a class, a guide; on a sheet it stands apart from what was measured.
    """

    key: str
    symbol: str
    name: str
    unit: str = ""
    rounding: Rounding | Significant | None = None
    basis: str = ""
    impossible: Bounds | None = None
    unusual: Bounds | None = None
    takes: str = ""
    quantity: str = ""
    card: int = 0
    agreement: bool = False
    opinion: bool = False
    meaning: str = ""
    sign: str = ""

    def of(
        self,
        value: float,
        /,
        *,
        rounding: Rounding | Significant | None = None,
        basis: str | None = None,
        doubt: Scatter | None = None,
        **slots: Any,
    ) -> "Parameter":
        """Return a number as a parameter, reported by its rounding; ``doubt`` is what its readings scatter by, in
        the same unit."""
        rule = rounding or self.rounding
        if rule is None:
            raise TypeError(f"{self.key} has no rounding: it is a word, or needs one")
        reported, (key, symbol, name) = rule.round(value), self._named(slots)
        return Parameter(
            key=key,
            symbol=symbol,
            name=name,
            basis=self.basis if basis is None else basis,
            unit=self.unit,
            value=float(value),
            reported=float(reported),
            text=plain(reported),
            rounding=rule.words,
            doubt=doubt.standard if doubt else None,
            freedom=doubt.freedom if doubt else None,
        )

    def word(self, text: str, /, *, basis: str | None = None, **slots: Any) -> "Parameter":
        """Return a parameter that is a word: ``NP``, ``fit``, ``replace``."""
        key, symbol, name = self._named(slots)
        return Parameter(key=key, symbol=symbol, name=name, basis=self.basis if basis is None else basis, text=text)

    def _named(self, slots: dict[str, Any]) -> tuple[str, str, str]:
        """Return key, symbol and name, their slots filled."""
        if not slots:
            return self.key, self.symbol, self.name
        return self.key.format(**slots), self.symbol.format(**slots), self.name.format(**slots)

    @property
    def numeric(self) -> bool:
        """Whether it is a number at all, not a word."""
        return self.rounding is not None or bool(self.unit)

    @property
    def entry(self) -> tuple[str, str, str]:
        """What a glossary says of it: symbol, meaning, unit."""
        symbol = self.sign or "".join(text for text, _, _, _ in Formatter().parse(self.symbol)).strip()
        return symbol, self.meaning or self.name, self.unit

    @property
    def slotted(self) -> bool:
        """Whether its key has slots: a result of each specimen, not of the test."""
        return "{" in self.key

    def gives(self, key: str) -> bool:
        """Return whether a parameter's key is of this result."""
        if not self.slotted:  # most of them, and every reduction asks hundreds of times
            return key == self.key
        return _pattern(self.key).fullmatch(key) is not None


def results_in(*places: ModuleType | Iterable[Result]) -> tuple[Result, ...]:
    """Return the results declared in modules, or given, each once, in their order."""
    found: dict[Result, None] = {}
    for place in places:
        within: Iterable[Any] = vars(place).values() if isinstance(place, ModuleType) else place
        found |= dict.fromkeys(one for one in within if isinstance(one, Result))
    return tuple(found)


@cache
def _pattern(key: str) -> re.Pattern[str]:
    """Return what a key with slots matches."""
    return re.compile("".join(".+" if slot is not None else re.escape(text) for text, slot in _parts(key)))


def _parts(key: str) -> Iterator[tuple[str, str | None]]:
    for text, slot, _, _ in Formatter().parse(key):
        yield text, None
        if slot is not None:
            yield "", slot


def plain(reported: Decimal) -> str:
    """Return a reported number as written: zeros without end before the first figure become a power of ten
    (``8.9e-6``)."""
    if reported and abs(reported) < _SMALL:
        mantissa, _, power = format(reported, "e").partition("e")
        return f"{mantissa}e{int(power)}"
    return format(reported, "f")

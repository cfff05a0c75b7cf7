"""Results: one soil parameter with its raw and its reported value."""

from decimal import Decimal

from pydantic import BaseModel

from vadum.soil.numbers.rounding import Rounding, Significant

# A smaller number is written with a power of ten.
_SMALL = Decimal("0.0001")


class Parameter(BaseModel):
    """A reduced value. ``value`` is unrounded; ``reported`` and ``text`` follow the rounding rule.

    A parameter that is a judgement rather than a number (non-plastic, fit) has ``text`` only.
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
    basis: str = ""


def number(
    key: str,
    symbol: str,
    name: str,
    unit: str,
    value: float,
    rounding: Rounding | Significant,
    *,
    basis: str = "",
    doubt: float | None = None,
) -> Parameter:
    """Return a numeric parameter, reported by ``rounding``; ``doubt`` is one standard error in the same unit."""
    reported = rounding.round(value)
    return Parameter(
        key=key,
        symbol=symbol,
        name=name,
        unit=unit,
        value=value,
        reported=float(reported),
        text=plain(reported),
        rounding=rounding.words,
        doubt=doubt,
        basis=basis,
    )


def plain(reported: Decimal) -> str:
    """Return a reported number as written: zeros without end before the first figure become a power of ten
    (``8.9e-6``)."""
    if reported and abs(reported) < _SMALL:
        mantissa, _, power = format(reported, "e").partition("e")
        return f"{mantissa}e{int(power)}"
    return format(reported, "f")


def verdict(key: str, symbol: str, name: str, text: str, *, basis: str = "") -> Parameter:
    """Return a parameter that is a word: ``NP``, ``fit``, ``replace``."""
    return Parameter(key=key, symbol=symbol, name=name, text=text, basis=basis)

"""Units of the laboratory. Inside the core every number is in the unit its field names; conversion happens on entry."""

import re
from functools import cache, lru_cache
from typing import Any

# Plain column units and the names pint knows them by, where the two differ.
PINT_NAMES = {"%": "percent", "°C": "degC", "°F": "degF", "blows": "count", "drops/s": "1/s"}

# Words as the trade writes them, in any capitals, and the names pint knows them by. What pint would take for something
# else stands here too: gr is a gram on every balance, mil a thousandth of an inch on every dial.
TRADE = {
    **{
        word.casefold(): word for word in ("kPa", "MPa", "Pa", "kN", "N", "bar", "mm", "cm", "kg", "g", "m", "t", "day")
    },
    **{word: word for word in ("psi", "psf", "ksf", "tsf", "ksi", "pcf", "lbf", "kip", "kgf", "tf", "lb", "oz", "yd")},
    **dict.fromkeys(("in", "inch", "inches"), "inch"),
    **dict.fromkeys(("ft", "feet"), "foot"),
    **dict.fromkeys(("mil", "mils"), "thou"),
    **dict.fromkeys(("gr", "gm", "gms"), "g"),
    **dict.fromkeys(("s", "sec", "secs"), "s"),
    **dict.fromkeys(("min", "mins"), "min"),
    **dict.fromkeys(("h", "hr", "hrs"), "h"),
    **dict.fromkeys(("div", "divs", "division", "divisions"), "div"),
    **dict.fromkeys(("ml", "cc"), "ml"),
    "lbs": "lb",
    "kips": "kip",
    "kp": "kgf",
    "days": "day",
    "l": "l",
}
# Capitals tell these apart.
_EXACT = frozenset({"mN", "MN", "mg", "Mg", "mPa"})
# A mass for a force, as the trade writes pressures and ring factors: kg/cm2, t/m2, lb/div.
_WEIGHED = {"kg": "kgf", "t": "tf", "lb": "lbf", "lbs": "lbf"}
_TEMPERATURES = {
    **dict.fromkeys(("c", "°c", "deg c", "celsius", "centigrade"), "degC"),
    **dict.fromkeys(("f", "°f", "deg f", "fahrenheit"), "degF"),
}
_PRIMES = {'"': "inch", "″": "inch", "''": "inch", "'": "foot", "′": "foot"}

# How a quantity is called when an entry is in the wrong one, by a unit of it.
QUANTITY_NAMES = {
    "g": "a mass",
    "mm": "a length",
    "min": "a time",
    "K": "a temperature",
    "N": "a force",
    "kPa": "a pressure",
    "mm2": "an area",
    "mm3": "a volume",
    "g/cm3": "a density",
    "kN/m3": "a unit weight",
    "mm/min": "a speed",
    "N*m": "a torque",
    "N/div": "a force by division",
    "mm/div": "a length by division",
    "div": "divisions of a dial",
    "mm3/min": "a flow",
    "g/min": "a mass by time",
    "g/cm2": "a mass by area",
    "g/div": "a mass by division",
    "N/mm": "a force by length",
    "kPa/mm": "a pressure by length",
    "C": "an electric charge",
    "F": "an electric capacity",
    "V": "a voltage",
    "1/min": "a number by time",
    "%": "a plain number",
}


class UnitError(ValueError):
    """A unit that is unknown, or that measures something else than the column does."""


@cache
def registry() -> Any:
    """Return the one pint registry, made on first use: importing pint is slow and most entries carry no unit."""
    import pint

    made: Any = pint.UnitRegistry(cache_folder=None)
    for trade in (
        "div = [division]",
        "psf = lbf / foot ** 2",
        "ksf = 1000 * psf",
        "tsf = 2000 * psf",
        "pcf = lb / foot ** 3",
        "tf = 1000 * kgf",
    ):
        made.define(trade)
    return made


# What may stand behind a number: unit words with powers of one digit, multiplied and divided. Whatever else is typed
# never reaches the parser of units, which works out powers of any size.
_WORD = r"(?:[^\W\d_]{1,12}|%|°[CFK]?)"
_POWER = r"(?:(?:\^|\*\*)?[-+]?\d|[⁻]?[¹²³])?"
_FACTOR = re.compile(rf"({_WORD})(?:(?:\^|\*\*)?([-+]?\d)|([⁻]?[¹²³]))?")
_UPRIGHT = str.maketrans("⁻¹²³", "-123")
_UNIT = re.compile(rf"(?:1\s?/\s?)?{_WORD}{_POWER}(?:\s?[/·*]\s?{_WORD}{_POWER}|\s{_WORD}{_POWER})*")
_LONGEST = 20


@lru_cache(maxsize=512)
def _unit(text: str) -> Any:
    """Return pint's unit for a text.

    Raises
    ------
    UnitError
        If it is none.
    """
    known = PINT_NAMES.get(text)
    if known is None:
        if len(text) > _LONGEST or not _UNIT.fullmatch(text):
            raise UnitError("not a unit")
        known = _FACTOR.sub(_factor, text).replace("·", "*")
    try:
        return registry().Unit(known)
    except Exception as error:  # pint raises several kinds for text it cannot read as a unit
        raise UnitError("not a unit") from error


def _factor(match: re.Match[str]) -> str:
    power = match[2] or (match[3] or "").translate(_UPRIGHT)
    word = match[1] if match[1] in _EXACT else TRADE.get(match[1].casefold(), match[1])
    return f"{word}**{power}" if power else word


def _read(unit: str, target: Any) -> Any:
    """Return a typed unit as a column of this kind means it: F and C are degrees in one of temperatures, kg/cm2 is a
    pressure in one of pressures."""
    if target.dimensionality == _unit("K").dimensionality:
        return _unit(_TEMPERATURES.get(unit.casefold().replace("° ", "°"), unit))
    given = _unit(_PRIMES.get(unit, unit))
    if given.dimensionality == target.dimensionality:
        return given
    head, slash, rest = unit.replace("pcf", "lb/ft3").partition("/")
    weight = _WEIGHED.get(head.strip().casefold())
    if slash and weight:
        weighed = _unit(f"{weight}/{rest.strip()}")
        return weighed if weighed.dimensionality == target.dimensionality else given
    return given


def is_unit(text: str) -> bool:
    """Return whether a short text, such as a cell below a heading, is the name of a unit and nothing else."""
    if not 0 < len(text) <= 10 or text[0].isdigit():
        return False
    try:
        _unit(text)
    except UnitError:
        return False
    return True


def convert(value: float, unit: str, column_unit: str) -> float:
    """Convert ``value`` in ``unit`` (as typed) to the unit of the column.

    Raises
    ------
    UnitError
        If the unit is unknown or of another kind than the column's; the message says which.
    """
    if unit == column_unit:
        return value
    try:
        target = _unit(column_unit)
        given = _read(unit, target)
    except UnitError as error:
        shown = unit if len(unit) <= _LONGEST else unit[:_LONGEST] + "…"
        raise UnitError(f"“{shown}” is not a known unit; this column is in {column_unit}") from error
    if given.dimensionality != target.dimensionality:
        raise UnitError(f"{unit} is {_kind(given)}; this column is {_kind(target)} in {column_unit}")
    try:
        return float(registry().Quantity(value, given).to(target).magnitude)
    except Exception as error:  # a temperature that is multiplied has no zero to count from
        raise UnitError(f"{unit} cannot be worked out in {column_unit}") from error


@cache
def _kinds() -> list[tuple[Any, str]]:
    return [(_unit(unit).dimensionality, name) for unit, name in QUANTITY_NAMES.items()]


def _kind(unit: Any) -> str:
    """Return what a unit measures, in words."""
    return next((name for dimension, name in _kinds() if dimension == unit.dimensionality), "of another kind")

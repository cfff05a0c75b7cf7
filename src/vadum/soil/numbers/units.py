"""Units of the laboratory. Inside the core every number is in the unit its field names; conversion happens on entry."""

import re
from functools import cache, lru_cache
from typing import Any

# Plain column units and the names pint knows them by, where the two differ.
PINT_NAMES = {"%": "percent", "°C": "degC", "blows": "count", "drops/s": "1/s"}

# How a dimension is called when an entry is in the wrong one.
QUANTITY_NAMES = {
    "[mass]": "a mass",
    "[length]": "a length",
    "[time]": "a time",
    "[temperature]": "a temperature",
    "[length] * [mass] / [time] ** 2": "a force",
    "[mass] / [length] / [time] ** 2": "a pressure",
    "[length] ** 2": "an area",
    "[length] ** 3": "a volume",
    "[mass] / [length] ** 3": "a density",
    "[length] / [time]": "a speed",
    "dimensionless": "a plain number",
}


class UnitError(ValueError):
    """A unit that is unknown, or that measures something else than the column does."""


@cache
def registry() -> Any:
    """Return the one pint registry, made on first use: importing pint is slow and most entries carry no unit."""
    import pint

    made: Any = pint.UnitRegistry(cache_folder=None)
    made.define("div = [division]")
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
    return f"{match[1]}**{power}" if power else match[1]


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
        target, given = _unit(column_unit), _unit(unit)
    except UnitError as error:
        shown = unit if len(unit) <= _LONGEST else unit[:_LONGEST] + "…"
        raise UnitError(f"“{shown}” is not a known unit; this column is in {column_unit}") from error
    if given.dimensionality != target.dimensionality:
        raise UnitError(f"{unit} is {_kind(given)}; this column is {_kind(target)} in {column_unit}")
    try:
        return float(registry().Quantity(value, given).to(target).magnitude)
    except Exception as error:  # a temperature that is multiplied has no zero to count from
        raise UnitError(f"{unit} cannot be worked out in {column_unit}") from error


def _kind(unit: Any) -> str:
    dimension = str(unit.dimensionality)
    return QUANTITY_NAMES.get(dimension, f"of dimension {dimension}")

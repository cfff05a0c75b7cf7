"""Units of the laboratory. Inside the core every number is in the unit its field names; conversion happens on entry."""

from functools import cache
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

    return pint.UnitRegistry(cache_folder=None)


def is_unit(text: str) -> bool:
    """Return whether a short text, such as a cell below a heading, is the name of a unit and nothing else."""
    if not 0 < len(text) <= 10 or text[0].isdigit():
        return False
    try:
        registry().Unit(PINT_NAMES.get(text, text))
    except Exception:  # pint raises several kinds for text it cannot read as a unit
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
    ureg = registry()
    target = ureg.Unit(PINT_NAMES.get(column_unit, column_unit))
    try:
        given = ureg.Unit(PINT_NAMES.get(unit, unit))
    except Exception as error:  # pint raises several kinds for text it cannot read as a unit
        raise UnitError(f"“{unit}” is not a known unit; this column is in {column_unit}") from error
    if given.dimensionality != target.dimensionality:
        raise UnitError(f"{unit} is {_kind(given)}; this column is {_kind(target)} in {column_unit}")
    return float(ureg.Quantity(value, given).to(target).magnitude)


def _kind(unit: Any) -> str:
    dimension = str(unit.dimensionality)
    return QUANTITY_NAMES.get(dimension, f"of dimension {dimension}")

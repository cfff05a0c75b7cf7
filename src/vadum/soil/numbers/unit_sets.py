"""The sets of units that a project may be shown and printed in: one table, and no conversion anywhere else.

Masses stay in grams in every set, as every balance reads them; what a set's table does not name stays as
it is.
"""

from dataclasses import replace

from vadum.soil.numbers.written import SI, Units

_KILONEWTONS = {"kPa": "MPa", "N": "kN"}
_CUSTOMARY = {
    "kPa": "ksf",
    "MPa": "ksi",
    "MN/m³": "lbf/in³",
    "kPa/m": "ksf/ft",
    "N": "lbf",
    "kN": "lbf",
    "kN/m³": "lbf/ft³",
    "g/cm³": "lb/ft³",
    "mm": "in",
    "m": "ft",
    "mm²": "in²",
    "cm²": "in²",
    "m²": "ft²",
    "cm³": "in³",
    "mm/h": "in/h",
    "mm/min": "in/min",
    "min/cm": "min/in",
    "m/s": "cm/s",
    "µm/s": "ft/d",
    "cm²/min": "in²/min",
    "m²/a": "ft²/a",
    "°C": "°F",
}
_KILOGRAMS = {
    "kPa": "kgf/cm²",
    "MPa": "kgf/cm²",
    "MN/m³": "kgf/cm³",
    "kPa/m": "kgf/cm²/m",
    "N": "kgf",
    "kN": "kgf",
    "kN/m³": "tf/m³",
    "m/s": "cm/s",
}

SETS = {
    one.name: one
    for one in (SI, Units("kN and MPa", _KILONEWTONS), Units("US customary", _CUSTOMARY), Units("kgf/cm²", _KILOGRAMS))
}
"""By the name that a project chooses."""

MARKS = (".", ",")


def units_named(name: str, mark: str = ".") -> Units:
    """Return a set of units with a decimal mark; SI for a name that is none of them."""
    return replace(SETS.get(name, SI), mark=mark if mark in MARKS else ".")

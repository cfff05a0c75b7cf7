"""What equipment a test was made with: by what its readings say of themselves, and by what its method declares."""

from collections.abc import Iterator
from typing import Any

from vadum.soil.contract.field import shown_under
from vadum.soil.contract.layout import Heading, layout
from vadum.soil.contract.method import Method

READ_BY = {
    "balance": "balance",
    "dial gauge": "gauge",
    "hydrometer eye": "hydrometer",
    "load cell": "load ring",
    "load ring": "load ring",
    "pH meter": "pH meter",
}
"""Kinds of equipment by the instrument that readings name."""
_BY_UNIT = {"°C": "thermometer", "bar": "pressure gauge"}

TRACED = {
    "balance": "mass",
    "load ring": "force",
    "gauge": "displacement",
    "pressure gauge": "pressure",
    "thermometer": "temperature",
    "hydrometer": "density",
    "pH meter": "pH",
    "vane": "torque",
}
"""What a kind of equipment measures, of those that a calibration must cover."""


def needed(method: Method[Any, Any, Any], readings: dict[str, Any], settings: Any) -> list[str]:
    """Return the kinds of equipment that a test was made with, as far as its readings go.

    Arguments
    ---------
    readings : as kept; a kind is needed once a reading is there that it gives
    settings : as chosen: a method may need a kind in one school only
    """
    by_reading = {_kind(heading): None for heading in _filled(method, readings)}
    declared = [kind for kind, under in method.made_with.items() if shown_under(under, settings)] if readings else []
    return [kind for kind in dict.fromkeys([*by_reading, *declared]) if kind]


def _kind(heading: Heading) -> str:
    return READ_BY.get(str(heading.extra.get("instrument") or ""), "") or _BY_UNIT.get(heading.unit, "")


def _filled(method: Method[Any, Any, Any], readings: dict[str, Any]) -> Iterator[Heading]:
    laid = layout(method)
    for single in laid.singles:
        if readings.get(single.key) is not None:
            yield single
    for table in laid.tables:
        rows = readings.get(table.name) or []
        yield from (column for column in table.columns if any(row.get(column.key) is not None for row in rows))
    for file in laid.logs:
        if readings.get(file.name):
            yield from file.columns

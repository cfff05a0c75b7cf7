"""A force typed where a column is of pressures: turned into one by the area it acts on."""

from collections.abc import Mapping
from typing import Any

from vadum.soil.contract.cells import UnknownCell, field_at
from vadum.soil.contract.field import unit_of
from vadum.soil.contract.method import Method
from vadum.soil.numbers.entry import EntryError, parse_entry, unit_typed

_PRESSURE = "kPa"


def as_pressures(method: Method[Any, Any, Any], settings: Any, typed: Mapping[str, str]) -> dict[str, str]:
    """Return typed cells with every force in a column of pressures as the pressure on the loaded area.

    What is no force stays as it was typed: the column says what is wrong with it.
    """
    area = method.loaded_area_m2(settings)
    return {path: _pressure(method, area, path, text) if area else text for path, text in typed.items()}


def _pressure(method: Method[Any, Any, Any], area_m2: float, path: str, text: str) -> str:
    if not unit_typed(text):
        return text
    try:
        if unit_of(*field_at(method.Readings, path)) != _PRESSURE:
            return text
        return f"{parse_entry(text, 'kN') / area_m2:.6g} {_PRESSURE}"
    except (EntryError, UnknownCell):
        return text

"""Rows as plain data and back, every value of its column's kind."""

import json
import re
from datetime import date, datetime
from functools import cache
from typing import Any

from pydantic import BaseModel, ConfigDict, create_model
from sqlmodel import SQLModel

FORMAT = "vadum-project/1"
# Keys of this database, and what goes into a file of its own or is written another way.
_LEFT_OUT = {
    "id",
    "project_id",
    "location_id",
    "sample_id",
    "test_id",
    "equipment_id",
    "data",
    "small",
    "kept",
    "changed",
}


def plain_of(row: SQLModel) -> dict[str, Any]:
    """Return a row without the keys of this database and without its bytes."""
    found = {}
    for name in type(row).model_fields:
        value = getattr(row, name)
        if name not in _LEFT_OUT and not isinstance(value, bytes):
            found[name] = value.isoformat() if isinstance(value, datetime | date) else value
    return found


def row_of(table: type[Any], plain: dict[str, Any], **more: Any) -> Any:
    """Return a row of a table from plain data.

    Raises
    ------
    pydantic.ValidationError
        If a value is not of its column's kind, or a name is unknown.
    """
    taken = _model(table).model_validate(plain)  # type: ignore[arg-type]
    return table(**{name: getattr(taken, name) for name in taken.model_fields_set}, **more)


def renumbered(plain: dict[str, Any], numbers: dict[int, int]) -> dict[str, Any]:
    """Return what was checked with the tests it leans on under other numbers."""

    def told(found: dict[str, Any]) -> dict[str, Any]:
        source = found.get("source")
        number = int(source[5:]) if isinstance(source, str) and re.fullmatch(r"test \d{1,12}", source) else 0
        if number in numbers:
            found["source"] = f"test {numbers[number]}"
            if "test" in found:
                found["test"] = numbers[number]
        return found

    changed: dict[str, Any] = json.loads(json.dumps(plain), object_hook=told)
    return changed


@cache
def _model(table: type[SQLModel]) -> type[BaseModel]:
    """Return a model that judges what the table itself takes as it comes."""
    fields: dict[str, Any] = {
        name: (info.annotation, ... if info.is_required() else info.get_default(call_default_factory=True))
        for name, info in table.model_fields.items()
        if name not in _LEFT_OUT
    }
    return create_model(
        table.__name__, __config__=ConfigDict(extra="forbid", allow_inf_nan=False, protected_namespaces=()), **fields
    )

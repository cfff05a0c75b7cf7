"""Validation errors in plain words, each with the place it happened."""

from collections.abc import Iterable, Mapping
from typing import Any

from pydantic import BaseModel, ValidationError


class Complaint(BaseModel):
    """Something in a file or a cell that cannot be taken, and where it stands (``readings.trials.1.blows``)."""

    place: str
    message: str


_WORDS = {
    "extra_forbidden": "is not a field here; check the spelling",
    "finite_number": "must be a finite number, not NaN or infinity",
    "int_from_float": "must be a whole number",
    "int_parsing": "must be a whole number",
    "int_type": "must be a whole number",
    "float_parsing": "is not a number",
    "float_type": "must be a number",
    "string_type": "must be text",
    "list_type": "must be a list of rows",
    "model_type": "must be a group of named fields",
    "model_attributes_type": "must be a group of named fields",
    "missing": "is missing",
    "bool_type": "must be true or false",
    "bool_parsing": "must be true or false",
    "dict_type": "must be a group of named fields",
    "json_invalid": "is no JSON",
    "date_from_datetime_parsing": "must be a day such as 2026-05-04",
    "date_parsing": "must be a day such as 2026-05-04",
    "date_type": "must be a day such as 2026-05-04",
    "datetime_from_date_parsing": "must be a time such as 2026-05-04T08:30:00Z",
    "datetime_parsing": "must be a time such as 2026-05-04T08:30:00Z",
    "datetime_type": "must be a time such as 2026-05-04T08:30:00Z",
    "timezone_aware": "must be a time with its zone, such as 2026-05-04T08:30:00Z",
}


def complaints(error: ValidationError, root: str = "") -> list[Complaint]:
    """Return one complaint per fault, placed by path below ``root``."""
    return of_faults(error.errors(include_url=False), root)


def of_faults(faults: Iterable[Mapping[str, Any]], root: str = "") -> list[Complaint]:
    """Return one complaint per fault as Pydantic tells them, placed by path below ``root``."""
    found = []
    for fault in faults:
        place = ".".join(str(part) for part in (root, *fault["loc"]) if part != "")
        found.append(Complaint(place=place or "file", message=_words(fault)))
    return found


def _words(fault: Mapping[str, Any]) -> str:
    kind, context, given = fault["type"], fault.get("ctx") or {}, fault.get("input")
    if kind == "value_error":
        return str(context.get("error", "cannot be read"))
    if kind == "greater_than_equal":
        return f"{given} is below the least possible, {context['ge']:g}"
    if kind == "less_than_equal":
        return f"{given} is above the most possible, {context['le']:g}"
    if kind in ("literal_error", "enum"):
        return f"must be one of {context.get('expected')}"
    if kind in ("too_long", "string_too_long"):
        return f"is longer than {context.get('max_length')}"
    if kind in ("too_short", "string_too_short"):
        return f"is shorter than {context.get('min_length')}"
    return _WORDS.get(kind, str(fault["msg"]))

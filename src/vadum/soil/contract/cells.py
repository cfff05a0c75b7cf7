"""Readings as cells: one typed text at a place, taken as a reading or kept as typed with what is wrong with it."""

from contextlib import suppress
from copy import copy
from dataclasses import dataclass, field
from functools import cache, lru_cache
from types import UnionType
from typing import Any, Union, get_args, get_origin

from annotated_types import MaxLen
from pydantic import BaseModel, ValidationError

from vadum.soil.choice import Choice, labels_of
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import Log, Readings, Row, resolution_of


class UnknownCell(ValueError):
    """A path that names no reading of the method."""

    def __init__(self, path: str) -> None:
        super().__init__(f"“{path[:80]}” is not a reading of this method")


@dataclass
class Sheet:
    """Readings as plain data beside texts that cannot be taken as readings, by path."""

    readings: dict[str, Any] = field(default_factory=dict)
    unread: dict[str, str] = field(default_factory=dict)


def tables(model: type[BaseModel]) -> dict[str, type[Row]]:
    """Return the row model of each table of readings by name, in order."""
    return _tables(model)


@cache
def _tables(model: type[BaseModel]) -> dict[str, type[Row]]:
    found = {}
    for name, info in model.model_fields.items():
        if get_origin(info.annotation) is list:
            found[name] = get_args(info.annotation)[0]
    return found


def logs(model: type[Readings]) -> dict[str, type[Log]]:
    """Return the model of each logger file a test can hold, by name."""
    return _logs(model)


@cache
def _logs(model: type[Readings]) -> dict[str, type[Log]]:
    found = {}
    for name, info in model.model_fields.items():
        for part in get_args(info.annotation) or (info.annotation,):
            if isinstance(part, type) and issubclass(part, Log):
                found[name] = part
    return found


def singles(model: type[Readings]) -> list[str]:
    """Return the readings taken once per test, in order; what every test has stands last."""
    return _singles(model)


@cache
def _singles(model: type[Readings]) -> list[str]:
    own = [name for name in model.model_fields if name not in tables(model) and name not in logs(model)]
    return sorted(own, key=Readings.model_fields.__contains__)


def first_blank(readings: Readings, path: str) -> str:
    """Return the cell of a column that is read next: at ``table.row.name``, or in the first begun row below it.

    A path that is blank itself, or below which every row is filled, is returned as it is.
    """
    table, _, rest = path.partition(".")
    row, _, name = rest.partition(".")
    rows = getattr(readings, table, None)
    if not name or not isinstance(rows, list):
        return path
    for i, held in enumerate(rows[int(row) :], int(row)):
        if held.used and not held.empty and getattr(held, name) is None:
            return f"{table}.{i}.{name}"
    return path


def most_rows(model: type[Readings], table: str) -> int:
    limits = [m.max_length for m in model.model_fields[table].metadata if isinstance(m, MaxLen)]
    return limits[0] if limits else 1000


def choices(model: type[BaseModel], name: str) -> dict[str, str]:
    """Return what a field chooses from, the label of each code; empty when it is not a choice."""
    if words := _words_of(model, name):
        return labels_of(words)
    annotation = model.model_fields[name].annotation
    parts = get_args(annotation) if get_origin(annotation) in (Union, UnionType) else (annotation,)
    return {str(word): str(word) for part in parts for word in get_args(part)}


def coded(model: type[BaseModel], plain: dict[str, Any]) -> dict[str, Any]:
    """Return plain readings or settings with every choice as its code, whatever word an earlier release kept.

    What is no choice, or no word of it, stays as it is.
    """
    rows = tables(model)
    found = dict(plain)
    for name, value in plain.items():
        if name in rows and isinstance(value, list):
            found[name] = [coded(rows[name], row) for row in value]
        elif isinstance(value, str) and (words := _words_of(model, name)):
            with suppress(ValueError):
                found[name] = words(value).value
    return found


def _words_of(model: type[BaseModel], name: str) -> type[Choice] | None:
    info = model.model_fields.get(name)
    parts = (info.annotation, *get_args(info.annotation)) if info else ()
    return next((part for part in parts if isinstance(part, type) and issubclass(part, Choice)), None)


def labelled(model: type[BaseModel], path: str, value: Any) -> str:
    """Return what a cell or a setting holds as people read it: the label of a choice, a number with the decimals of its
    instrument, anything else as it is."""
    table, *rest = path.split(".")
    owner = tables(model).get(table, model) if rest else model
    name = rest[-1] if rest else table
    if name not in owner.model_fields:
        return str(value)
    return choices(owner, name).get(str(value)) or cell_text(value, resolution_of(owner, name))


def enter(model: type[Readings], sheet: Sheet, typed: dict[str, str]) -> Sheet:
    """Return the sheet with texts entered at their paths.

    A text that is a reading replaces the value; one that is not is kept in ``unread`` and the value is cleared; an
    empty text clears the cell. Rows are added as needed; empty rows at the end of a table are dropped.

    Raises
    ------
    UnknownCell
        If a path names no reading of the method; nothing is entered then.
    """
    # Rows are copied, logs are not: they may be long and no cell changes them.
    held = {
        key: [dict(row) for row in part] if isinstance(part, list) else part for key, part in sheet.readings.items()
    }
    entered = Sheet(held, dict(sheet.unread))
    for path, text in typed.items():
        owner, holder, name = _locate(model, entered.readings, path)
        entered.unread.pop(path, None)
        try:
            value = read_cell(owner, name, text)
        except ValidationError:
            entered.unread[path] = text
            value = None
        if value is None:
            holder.pop(name, None)
        else:
            holder[name] = value
    _drop_empty_tail(model, entered)
    return entered


def field_at(model: type[Readings], path: str) -> tuple[type[BaseModel], str]:
    """Return the model that declares the cell at a path, and the cell's name in it.

    Raises
    ------
    UnknownCell
        If a path names no reading of the method.
    """
    owner, _, name = _locate(model, {}, path)
    return owner, name


def column_of(path: str) -> str:
    """Return the column a cell stands in (``trials.blows``); a reading taken once is a column of its own."""
    table, *rest = path.split(".")
    return f"{table}.{rest[1]}" if rest else table


def read_cell(owner: type[BaseModel], name: str, text: str) -> Any:
    """Return one typed text as plain data.

    Raises
    ------
    pydantic.ValidationError
        If the field cannot take it.
    """
    stripped = text.strip()
    if not stripped:
        return None
    holder = copy(_blank(owner))
    owner.__pydantic_validator__.validate_assignment(holder, name, stripped)
    return holder.model_dump(mode="json", include={name})[name]


@cache
def _blank(owner: type[BaseModel]) -> BaseModel:
    """Return a model with nothing in it, made once: every keystroke reads one cell into a copy."""
    return owner.model_construct()


def cell_complaint(model: type[Readings], path: str, text: str) -> str:
    """Return what is wrong with a text that was kept as typed."""
    owner, _, name = _locate(model, {}, path)
    try:
        read_cell(owner, name, text)
    except ValidationError as error:
        return complaints(error)[0].message
    return ""


def cell_text(value: Any, resolution: float | None) -> str:
    """Return a stored value as written at the bench: at least the instrument's decimals, never fewer than typed."""
    if value is None:
        return ""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    return _number_text(value, resolution)


@lru_cache(16384)
def _number_text(value: float, resolution: float | None) -> str:
    """Write a number; remembered, since a sheet is written anew at every key and one number of it has changed."""
    plain = repr(float(value)) if abs(value) < 1e15 else f"{value:g}"
    typed = len(plain.split(".")[1].rstrip("0")) if "." in plain and "e" not in plain else 0
    wanted = len(f"{resolution:g}".split(".")[1]) if resolution and "." in f"{resolution:g}" else 0
    return f"{value:z.{max(typed, wanted)}f}" if "e" not in plain else plain


def _locate(model: type[Readings], readings: dict[str, Any], path: str) -> tuple[type[BaseModel], dict[str, Any], str]:
    """Return the model that owns a cell, the plain data that holds it, and its name; rows are made as needed."""
    parts = path.split(".")
    if len(parts) == 1 and parts[0] in singles(model):
        return model, readings, parts[0]
    if len(parts) != 3:
        raise UnknownCell(path)
    table, number, name = parts
    row_model = tables(model).get(table)
    if row_model is None or name not in row_model.model_fields or not number.isdecimal() or len(number) > 4:
        raise UnknownCell(path)
    if int(number) >= most_rows(model, table):
        raise UnknownCell(path)
    rows = readings.setdefault(table, [])
    while len(rows) <= int(number):
        rows.append({})
    return row_model, rows[int(number)], name


def _drop_empty_tail(model: type[Readings], sheet: Sheet) -> None:
    for table in tables(model):
        rows = sheet.readings.get(table, [])
        while rows and not rows[-1] and not any(p.startswith(f"{table}.{len(rows) - 1}.") for p in sheet.unread):
            rows.pop()
        if not rows:
            sheet.readings.pop(table, None)

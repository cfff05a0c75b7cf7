"""What the equipment of a test brings to it: a ring's calibration, constants that fill blanks, what is out of date."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlmodel import Session

from vadum.records.calibrations import calibrations_by_piece, day_of, in_force, why_not
from vadum.records.footing import Footing, Lean, mark_of
from vadum.records.tables import Test
from vadum.soil.contract.field import Readings
from vadum.soil.contract.method import Method
from vadum.soil.contract.places import columns


@dataclass(frozen=True)
class _Brought:
    """What a piece brings to a test, calibration or constants, and since when it stands."""

    by: str
    since: str
    what: Any


def brought(session: Session, test: Test, method: Method[Any, Any, Any], found: Footing) -> None:
    """Add ring and constants as they were in force on the test's day, and what was out of date then."""
    by_piece = calibrations_by_piece(session, test.uses)
    on = day_of(session, test) if by_piece else date.min
    out_of_date = []
    rings: list[_Brought] = []
    constants: list[_Brought] = []
    for piece in test.uses:
        every = by_piece.get(piece.id or 0, [])
        valid = in_force(every, on)
        if every and (why := why_not(every, on)):
            out_of_date.append({"name": piece.name, "why": why})
        since = f"of {valid.on.isoformat()}" if valid else "of the register"
        table = valid.table if valid and valid.table else piece.calibration
        if "ring" in method.Context.model_fields and piece.kind == "load ring" and table:
            rings.append(_Brought(piece.name, since, table))
        known = valid.constants if valid and valid.constants else piece.constants
        if known.keys() & method.Readings.model_fields.keys():
            constants.append(_Brought(piece.name, since, known))
    if rings:
        _ring(rings, found)
    if constants:
        _constants(constants, test, method.Readings, found)
    if out_of_date:
        words = "; ".join(f"{one['name']}: {one['why']}" for one in out_of_date)
        found.of_register("out_of_date", out_of_date, "equipment out of date:", words)


def _ring(rings: list[_Brought], found: Footing) -> None:
    """Add the load ring; a second one that is calibrated otherwise contradicts it."""
    first, *others = rings
    points = "; ".join(f"{div:g} div {force:g} N" for div, force in first.what)
    ring = {"name": first.by, "table": first.what}
    found.of_register("ring", ring, "calibration", f"({points}) {first.since}", first.by)
    for other in others:
        if other.what != first.what:
            _differ(found, first.by, other.by, "calibration")


def _constants(brought: list[_Brought], test: Test, model: type[Readings], found: Footing) -> None:
    """Add the constants of all pieces; two that would fill a blank otherwise contradict each other.

    A further piece is leant on only where it fills a blank: what is typed is nobody's to fill.
    """
    first, *others = brought
    found.of_register("supplied", _supplied(first), "constants", _words(model, first, first.what), first.by)
    titles = {one.name: one.label for one in columns(model) if not one.table and test.kept.get(one.name) is None}
    filled = dict.fromkeys(first.what, first)
    for number, other in enumerate(others, 2):
        for one in dict.fromkeys(filled[name].by for name in other.what if name in filled):
            apart = [
                titles[name]
                for name, own in other.what.items()
                if name in titles and name in filled and filled[name].by == one and filled[name].what[name] != own
            ]
            if apart:
                _differ(found, one, other.by, ", ".join(apart))
        new = {name: own for name, own in other.what.items() if name in titles and name not in filled}
        filled |= dict.fromkeys(new, other)
        if new:
            words = _words(model, other, new)
            found.leans.append(Lean(f"supplied.{number}", "constants", words, other.by, mark_of(new)))
    if others:
        found.context["also_supplied"] = [_supplied(one) for one in others]


def _supplied(one: _Brought) -> dict[str, Any]:
    return {"by": one.by, "values": one.what}


def constants_in(context: Mapping[str, Any]) -> dict[str, float]:
    """Return the constants that what a test leans on brings for its blanks, by the names of the readings."""
    pieces = [*([context["supplied"]] if context.get("supplied") else []), *context.get("also_supplied", [])]
    return {name: own for piece in reversed(pieces) for name, own in piece["values"].items()}


def _words(model: type[Readings], one: _Brought, constants: dict[str, float]) -> str:
    """Return constants of a piece in words: a sheet on which they do not stand cannot be worked out again."""
    known = [
        (column, constants[column.name]) for column in columns(model) if not column.table and column.name in constants
    ]
    said = ", ".join(f"{column.label} {value:g} {column.unit}".rstrip() for column, value in known)
    return f"({said}) {one.since}"


def _differ(found: Footing, one: str, other: str, what: str) -> None:
    found.context.setdefault("in_two", []).append({"one": one, "other": other, "what": what})

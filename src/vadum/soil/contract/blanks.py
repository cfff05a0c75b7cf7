"""Blanks that matter: what is asked for before a test is complete, and what was assumed in the place of a reading."""

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from vadum.soil.contract.field import HARMLESS, REQUIRED, Context
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.places import Column, Taken, declaring, path, rows_in_words

MISSING = stop(
    "missing-reading",
    "{label} is missing{where}.",
    "Read it now, or type it from the notes; leave a row out with the reason if it cannot be had.",
)
NOT_WRITTEN = warn(
    "not-written",
    "{label} is not written{where}: {follows}.",
    "Type it if it can still be read or found; else the sheet says so.",
)


def blanks(taken: Taken, settings: BaseModel, context: Context) -> Iterator[Finding]:
    """Yield what is blank and matters, each column once."""
    for column in declaring(type(taken.readings), "absent"):
        absent, name = column.extra["absent"], column.name
        if absent == HARMLESS or not column.shown_in(settings):
            continue
        blank = [
            i
            for i, holder in taken.cells(column)
            if holder.__dict__[name] is None and _wanted(column, holder) and not _supplied(column, holder, context)
        ]
        if blank:
            where = f" in {column.title}, {rows_in_words(blank)}" if column.table else ""
            doubt = MISSING if absent == REQUIRED else NOT_WRITTEN
            yield doubt.at(
                *(path(column, i) for i in blank),
                label=column.label[:1].upper() + column.label[1:],
                where=where,
                follows=absent,
            )


def _wanted(column: Column, holder: Any) -> bool:
    """Return whether a blank matters where it stands."""
    held, beside, instead = holder.__dict__, column.extra.get("beside"), column.extra.get("instead")
    if (beside and held.get(beside) is None) or (instead and held.get(instead) is not None):
        return False
    return not column.table or not holder.empty


def _supplied(column: Column, holder: BaseModel, context: Any) -> bool:
    """Return whether a register or another test stands in for a blank."""
    if column.name == "mass_tin_g":
        return getattr(holder, "tin", None) in getattr(context, "tins", {})
    flask = getattr(context, "flasks", {}).get(getattr(holder, "pycnometer", None), {})
    if column.name in flask or column.extra.get("instead") in flask:
        return True
    if getattr(context, column.name, None) is not None:
        return True
    return any(column.name in piece.values for piece in context.brought)

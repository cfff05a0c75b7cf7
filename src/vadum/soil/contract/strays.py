"""Rows that are told of a part which the test does not have: a slip in their number took them out of every result."""

from collections.abc import Iterator, Sequence
from typing import Any

from vadum.soil.contract.field import Log, Readings, Row
from vadum.soil.contract.finding import Finding, stop
from vadum.soil.contract.places import rows_in_words
from vadum.soil.contract.rows import Parts, numbered

NO_SUCH_PART = stop(
    "no-such-part",
    "{title}{rows}: told of {part} {number}, and the table of {parts} ends at {count}.",
    "Put the number right, or write {part} {number} into the table of {parts}.",
)


def strays(readings: Readings, parts: Parts | None) -> Iterator[Finding]:
    """Yield a stop for the rows of each table, and of each logger file, that name a part beyond the last one."""
    told: list[Row] = getattr(readings, parts.table) if parts else []
    if parts is None or not told:
        return
    fields = type(readings).model_fields
    words = {"part": parts.column, "parts": fields[parts.table].title or parts.table, "count": len(told)}
    for name, held in readings.__dict__.items():
        title = fields[name].title or name
        in_order = name in parts.in_order
        beyond = _later(held, len(told)) if in_order else _beyond(held, parts.column, len(told))
        for number, rows in beyond.items():
            # It is said below the first of its rows, where the number stands.
            first = name if not rows else f"{name}.{rows[0]}" if in_order else f"{name}.{rows[0]}.{parts.column}"
            where = f", {rows_in_words(rows)}" if rows else ""
            yield NO_SUCH_PART.at(first, title=title[:1].upper() + title[1:], rows=where, number=number, **words)


def _later(held: Sequence[Row], count: int) -> dict[int, list[int]]:
    """Return the rows beyond the last part of a table that follows their order."""
    return {i + 1: [i] for i, row in enumerate(held) if i >= count and row.used and not row.empty}


def _beyond(held: Any, column: str, count: int) -> dict[int, list[int]]:
    """Return the rows in use of each number beyond the last part; of a logger file no rows, they have no cells."""
    found: dict[int, list[int]] = {}
    if isinstance(held, Log) and column in type(held).model_fields:
        return {int(number): [] for number in sorted(set(getattr(held, column))) if number > count}
    if not isinstance(held, list) or not held or column not in type(held[0]).model_fields:
        return found
    # Hardly ever is there one: a long table is gone through once.
    if max(row.__dict__[column] or 0 for row in held) > count:
        for i, number, row in numbered(held, column):
            if number > count and row.used:
                found.setdefault(number, []).append(i)
    return found

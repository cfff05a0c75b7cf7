"""What a file brings beside what a table holds already: added below it, or in its place."""

from typing import Any

from vadum.exchange.headings import Target
from vadum.exchange.readings_import import Fault, Proposal
from vadum.soil.contract.cells import most_rows
from vadum.soil.contract.field import MOST_LOGGED, Readings

NUMBERS = ("specimen", "cylinder")
"""Columns that tell apart what a table carries; a frame writes one file for each."""


def held(target: Target, readings: dict[str, Any]) -> int:
    """Return how many rows a table or logger file holds."""
    kept = readings.get(target.name) or ()
    if target.log:
        return max((len(kept[name]) for name in target.columns if name in kept), default=0) if kept else 0
    return len(kept)


def next_number(target: Target, readings: dict[str, Any], *, append: bool) -> dict[str, str]:
    """Return the number a file without one is taken for: the next that is free, the first where all is replaced."""
    key = next((name for name in NUMBERS if name in target.columns), None)
    if key is None:
        return {}
    kept = readings.get(target.name) or ()
    used = [0]
    if append and kept:
        numbers = kept[key] if target.log else [row.get(key) for row in kept]
        # A blank number stands for the one above, 1 at first.
        used += [1] if held(target, readings) else []
        used += [int(n) for n in numbers if n is not None]
    return {key: str(max(used) + 1)}


def too_many(proposal: Proposal, readings: dict[str, Any], model: type[Readings]) -> list[Fault]:
    """Return a fault where a table cannot take the rows below those it holds."""
    name = proposal.target.name
    most = MOST_LOGGED if proposal.target.log else most_rows(model, name)
    rows = held(proposal.target, readings) + proposal.count
    return [Fault(0, "", f"{rows} rows with those it holds; this table takes {most}")] if rows > most else []


def joined(
    proposal: Proposal, readings: dict[str, Any], name: str, *, append: bool
) -> tuple[dict[str, str], dict[str, Any]]:
    """Return the cells and logger files of a change that brings the file.

    Arguments
    ---------
    readings : those of the test, with the rows of its logger files
    name : of the file
    """
    table = proposal.target.name
    kept = readings.get(table) or ()
    if proposal.target.log:
        logged: dict[str, Any] = dict(proposal.columns_logged)
        if append and kept:
            logged = {key: [*kept.get(key, []), *values] for key, values in logged.items()}
            name = f"{kept.get('file') or 'a file'}, {name}"
        return {}, {table: {"file": name[:200], **logged}}
    first = len(kept) if append else 0
    cells = {} if append else {f"{table}.{i}.{key}": "" for i, row in enumerate(kept) for key in row}
    for i, row in enumerate(proposal.rows, first):
        cells |= {f"{table}.{i}.{key}": _entered(value) for key, value in row.items()}
    return cells, {}


def _entered(value: Any) -> str:
    return repr(value) if isinstance(value, float) else str(value)

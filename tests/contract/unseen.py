"""Slips that go unseen: every number of a clean virtual test spoilt in turn, and what the reduction says of it.

A slip counts when it moves a headline result by more than 5 %. It is unseen when it draws no stop and no warning and
leaves the result reportable. ``python -m tests.contract.unseen [--pairs | --wide] [methods]`` prints the share by
method and by kind of slip, and every unseen one where few methods are asked for; ``--wide`` takes more kinds of slips,
under every school.
"""

import logging
import sys
import warnings
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import chain, pairwise
from typing import Any

import numpy as np
from pydantic import ValidationError

from tests.contract.slips import clean_under_every_school
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.registry import METHODS

MOVED = 0.05
FACTORS = {"x10": 10.0, "/10": 0.1, "x1000": 1000.0, "x25.4": 25.4, "x2": 2.0, "/2": 0.5}
# Rows of a table that are spoilt: the first ones, one in the middle, the last.
_ROWS = 5


@dataclass(frozen=True)
class Slip:
    """A slip, where it is, and what it moved: results before and after."""

    kind: str
    path: str
    moved: str = ""


def slips(readings: dict[str, Any]) -> Iterator[tuple[Slip, dict[str, Any]]]:
    """Yield readings with one slip each."""
    for name, value in readings.items():
        if isinstance(value, list):
            yield from _in_table(readings, name, value)
        elif _number(value):
            for kind, other in _spoilt(value):
                yield Slip(kind, name), {k: v for k, v in (readings | {name: other}).items() if v is not None}


def _in_table(
    readings: dict[str, Any], table: str, rows: list[dict[str, Any]]
) -> Iterator[tuple[Slip, dict[str, Any]]]:
    for i, _ in _chosen(rows):
        for key, value in rows[i].items():
            if _number(value):
                for kind, other in _spoilt(value):
                    row = {k: v for k, v in (rows[i] | {key: other}).items() if v is not None}
                    yield Slip(kind, f"{table}.{i}.{key}"), readings | {table: [*rows[:i], row, *rows[i + 1 :]]}
        yield Slip("row twice", f"{table}.{i}"), readings | {table: [*rows[:i], rows[i], *rows[i:]]}
        if len(rows) > 1:
            yield Slip("row gone", f"{table}.{i}"), readings | {table: [*rows[:i], *rows[i + 1 :]]}
        if i + 1 < len(rows):
            turned = [*rows[:i], rows[i + 1], rows[i], *rows[i + 2 :]]
            yield Slip("rows exchanged", f"{table}.{i}"), readings | {table: turned}


def _chosen(rows: list[dict[str, Any]]) -> list[tuple[int, dict[str, Any]]]:
    chosen = sorted({0, 1, len(rows) // 2, len(rows) - 2, len(rows) - 1} & set(range(len(rows))))[:_ROWS]
    return [(i, rows[i]) for i in chosen]


def _spoilt(value: float) -> Iterator[tuple[str, float | None]]:
    for kind, factor in FACTORS.items():
        yield kind, type(value)(value * factor) if isinstance(value, int) else round(value * factor, 6)
    if (other := _digits_exchanged(value)) is not None:
        yield "digits", other
    yield "blank", None


def wider(readings: dict[str, Any]) -> Iterator[tuple[Slip, dict[str, Any]]]:
    """Yield readings with one slip each of kinds beside those of ``slips``: a digit wrong, lost or twice, the cell
    above copied, two cells of a row exchanged."""
    for name, value in readings.items():
        if _number(value):
            yield from ((Slip(kind, name), readings | {name: other}) for kind, other in _digit_wrong(value))
        for i, row in _chosen(value if isinstance(value, list) else []):
            for kind, key, changed in _cells_wrong(row, value[i - 1] if i else {}):
                rows = [*value[:i], row | changed, *value[i + 1 :]]
                yield Slip(kind, f"{name}.{i}.{key}"), readings | {name: rows}


def _cells_wrong(row: dict[str, Any], above: dict[str, Any]) -> Iterator[tuple[str, str, dict[str, Any]]]:
    keys = [key for key, value in row.items() if _number(value)]
    for key in keys:
        yield from ((kind, key, {key: other}) for kind, other in _digit_wrong(row[key]))
        if key in above:
            yield "as above", key, {key: above[key]}
    for one, other in pairwise(keys):
        yield "cells exchanged", one, {one: row[other], other: row[one]}


def _digit_wrong(value: float) -> Iterator[tuple[str, float]]:
    text = repr(value)
    places = [i for i, sign in enumerate(text) if sign.isdigit()]
    first, second = places[0], places[min(1, len(places) - 1)]
    yield "first digit", type(value)(f"{text[:first]}{(int(text[first]) + 1) % 10}{text[first + 1 :]}")
    if len(places) > 2:
        yield "second digit", type(value)(f"{text[:second]}{(int(text[second]) + 3) % 10}{text[second + 1 :]}")
        yield "digit lost", type(value)(text[:second] + text[second + 1 :])
        yield "digit twice", type(value)(text[:second] + text[second] + text[second:])


def _digits_exchanged(value: float) -> float | None:
    """Return the number with its first two different neighbouring digits exchanged, as fingers do."""
    text = repr(value)
    for i in range(len(text) - 1):
        if text[i].isdigit() and text[i + 1].isdigit() and text[i] != text[i + 1]:
            return type(value)(text[:i] + text[i + 1] + text[i] + text[i + 2 :])
    return None


def _number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def headline(method: Any, reduction: Reduction) -> dict[str, Parameter]:
    """Return the numbers of the strip."""
    found = {p.key: p for p in reduction.parameters if p.value is not None}
    return {key: found[key] for key in method.headline if key in found}


def moved(before: dict[str, Parameter], after: dict[str, Parameter]) -> str:
    """Return in words which result moved by more than 5 %, and prints otherwise; "" when none did.

    A cohesion of 0.003 kPa that becomes 0.004 is still reported as 0.
    """
    for key, was in before.items():
        now = after.get(key)
        if now is None:
            return f"{key} {was.text} is gone"
        if now.text != was.text and not abs(now.value - was.value) <= MOVED * abs(was.value):
            return f"{key} {was.text} -> {now.text}"
    return ""


def graver(reduction: Reduction, clean: Reduction) -> bool:
    """Return whether a slip drew a stop or a warning, or took the result's right to be reported."""
    known = Counter((f.code, f.severity) for f in clean.findings)
    now = Counter((f.code, f.severity) for f in reduction.findings if f.severity != "note")
    return bool(now - known) or not reduction.reportable


Measured = tuple[list[Slip], list[Slip]]
"""Slips that moved a headline result, and those of them that went unseen."""


def measure(code: str, seeds: tuple[int, ...] = (1, 2, 3)) -> Measured:
    """Return what becomes of every slip in clean tests of a method."""
    return _measured(_by_default(code, seeds, lambda readings, rng: slips(readings)))


def measure_pairs(code: str, seeds: tuple[int, ...] = (1, 2, 3), pairs: int = 150) -> Measured:
    """Return what becomes of two slips at once, so many pairs of them drawn for each test."""

    def drawn(readings: dict[str, Any], rng: np.random.Generator) -> Iterator[tuple[Slip, dict[str, Any]]]:
        once = list(slips(readings))
        for i in rng.integers(len(once), size=pairs):
            first, spoilt = once[i]
            twice = list(slips(spoilt))
            second, both = twice[int(rng.integers(len(twice)))]
            yield Slip(f"{first.kind} + {second.kind}", f"{first.path} + {second.path}"), both

    return _measured(_by_default(code, seeds, drawn))


def measure_wide(code: str, seeds: tuple[int, ...] = (21,)) -> Measured:
    """Return what becomes of every slip of any kind in clean tests under every school of a method."""
    return _measured(
        one
        for settings, readings in clean_under_every_school(METHODS[code], seeds)
        for one in _of_one(code, settings, readings, chain(slips(readings), wider(readings)))
    )


def _by_default(
    code: str, seeds: tuple[int, ...], spoil: Callable[..., Iterator[tuple[Slip, dict[str, Any]]]]
) -> Iterator[tuple[Slip, bool]]:
    method: Any = METHODS[code]
    for seed in seeds:
        rng = np.random.default_rng(seed)
        settings = method.Settings()
        readings = method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)
        yield from _of_one(code, settings, readings, spoil(readings, rng))


def _measured(found: Iterator[tuple[Slip, bool]]) -> Measured:
    every = list(found)
    return [slip for slip, _ in every], [slip for slip, seen in every if not seen]


def _of_one(
    code: str, settings: Any, readings: dict[str, Any], spoilt: Iterator[tuple[Slip, dict[str, Any]]]
) -> Iterator[tuple[Slip, bool]]:
    """Yield each slip that moves a headline result of one clean test, and whether it was seen."""
    method: Any = METHODS[code]
    clean = method.reduce_raw(readings, settings)
    before = headline(method, clean)
    for slip, changed in spoilt:
        try:
            read = method.Readings.model_validate(changed)
        except ValidationError:
            continue  # refused where it is typed
        after = method.reduce(read, settings, method.Context())
        assert "not-reduced" not in after.codes(), slip
        if words := moved(before, headline(method, after)):
            yield Slip(slip.kind, slip.path, words), graver(after, clean)


def main() -> None:
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")
    how = {"--pairs": measure_pairs, "--wide": measure_wide}
    found_by = next((how[word] for word in sys.argv[1:] if word in how), measure)
    asked = [code for code in sys.argv[1:] if code not in how] or list(METHODS)
    total, missed = 0, 0
    for code in asked:
        counted, unseen = found_by(code)
        total, missed = total + len(counted), missed + len(unseen)
        kinds = Counter(slip.kind for slip in unseen)
        share = len(unseen) / max(1, len(counted))
        print(f"{code:20} {len(unseen):4} of {len(counted):4}  {share:5.1%}  {dict(kinds)}")
        if len(asked) < 4:
            for slip in unseen:
                print("   ", slip.kind, slip.path, slip.moved)
    print(f"{'all':20} {missed:4} of {total:4}  {missed / max(1, total):5.1%}")


if __name__ == "__main__":
    main()

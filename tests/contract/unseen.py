"""Slips that go unseen: every number of a clean virtual test spoilt in turn, and what the reduction says of it.

A slip counts when it moves a headline result by more than 5 %. It is unseen when it draws no stop and no warning and
leaves the result reportable. ``python -m tests.contract.unseen [--pairs] [methods]`` prints the share by method and by
kind of slip, and every unseen one where few methods are asked for.
"""

import logging
import sys
import warnings
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

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
    chosen = sorted({0, 1, len(rows) // 2, len(rows) - 2, len(rows) - 1} & set(range(len(rows))))[:_ROWS]
    for i in chosen:
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


def _spoilt(value: float) -> Iterator[tuple[str, float | None]]:
    for kind, factor in FACTORS.items():
        yield kind, type(value)(value * factor) if isinstance(value, int) else round(value * factor, 6)
    if (other := _digits_exchanged(value)) is not None:
        yield "digits", other
    yield "blank", None


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
    return _measured(code, seeds, lambda readings, rng: slips(readings))


def measure_pairs(code: str, seeds: tuple[int, ...] = (1, 2, 3), pairs: int = 150) -> Measured:
    """Return what becomes of two slips at once, so many pairs of them drawn for each test."""

    def drawn(readings: dict[str, Any], rng: np.random.Generator) -> Iterator[tuple[Slip, dict[str, Any]]]:
        once = list(slips(readings))
        for i in rng.integers(len(once), size=pairs):
            first, spoilt = once[i]
            twice = list(slips(spoilt))
            second, both = twice[int(rng.integers(len(twice)))]
            yield Slip(f"{first.kind} + {second.kind}", f"{first.path} + {second.path}"), both

    return _measured(code, seeds, drawn)


def _measured(
    code: str, seeds: tuple[int, ...], spoil: Callable[..., Iterator[tuple[Slip, dict[str, Any]]]]
) -> Measured:
    method: Any = METHODS[code]
    counted, unseen = [], []
    for seed in seeds:
        rng = np.random.default_rng(seed)
        settings = method.Settings()
        readings = method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)
        clean = method.reduce_raw(readings)
        before = headline(method, clean)
        for slip, spoilt in spoil(readings, rng):
            try:
                method.Readings.model_validate(spoilt)
            except ValidationError:
                continue  # refused where it is typed
            after = method.reduce_raw(spoilt)
            assert "not-reduced" not in after.codes(), slip
            if words := moved(before, headline(method, after)):
                done = Slip(slip.kind, slip.path, words)
                counted.append(done)
                if not graver(after, clean):
                    unseen.append(done)
    return counted, unseen


def main() -> None:
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")
    pairs = "--pairs" in sys.argv
    asked = [code for code in sys.argv[1:] if code != "--pairs"] or list(METHODS)
    total, missed = 0, 0
    for code in asked:
        counted, unseen = (measure_pairs if pairs else measure)(code)
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

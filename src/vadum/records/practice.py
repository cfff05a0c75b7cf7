"""Practice on the virtual bench: a test of a soil whose truth is hidden, with mistakes planted, and what came of it."""

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np

from vadum.records.tables import Test
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of


@dataclass(frozen=True)
class Outcome:
    """What became of one planted mistake: what Vadum says of it, and whether it still stands in the readings."""

    words: str
    said: list[str]
    stands: bool


@dataclass(frozen=True)
class Comparison:
    """Truth beside reduced values (name, unit, true, reduced), the planted mistakes, and readings that were missed."""

    values: list[tuple[str, str, float, float | None]]
    outcomes: list[Outcome]
    missed: list[str] = field(default_factory=list)


def begin(method: Method[Any, Any, Any], seed: int, speed: float, mistakes: int) -> Test:
    """Return a new practice test, begun now, with as many mistakes planted as asked for and possible.

    Only mistakes that leave a trace in the readings of this soil are planted: others could be neither caught nor
    missed.
    """
    settings = method.Settings()
    traced = [name for name in sorted(method.mistakes) if _trace(method, settings, seed, name)]
    planted = [str(name) for name in np.random.default_rng(seed).permutation(traced)[:mistakes]]
    hidden = {"seed": seed, "speed": speed, "mistakes": planted, "epoch": datetime.now(UTC).isoformat(), "taken": []}
    clocked = {name: rows for name, rows in method.begin(settings, None).items() if name in method.clocked}
    return Test(method=method.code, kept=clocked, practice=hidden)


def bench_time(test: Test, at: datetime) -> datetime:
    """Return the time on the virtual bench, which runs faster than the room's from the test's beginning on."""
    epoch = datetime.fromisoformat(test.practice["epoch"])
    return epoch + timedelta(seconds=(at - epoch).total_seconds() * test.practice["speed"])


def now_of(test: Test) -> datetime:
    """Return the time at which a test is: the room's, or its virtual bench's."""
    return bench_time(test, datetime.now(UTC)) if test.practice else datetime.now(UTC)


def hidden(test: Test, *, planted: bool) -> Any:
    """Return the readings the virtual soil gives in this test's school, with or without the planted mistakes."""
    method = method_of(test.method)
    settings = method.Settings.model_validate(test.settings)
    return _virtual(
        method, settings, test.practice["seed"], frozenset(test.practice["mistakes"]) if planted else frozenset()
    )


def shown_by_bench(test: Test, path: str, minutes: float | None) -> Any:
    """Return what the virtual bench shows at a cell; None when there is nothing.

    A cell read for the first time may show a planted mistake; measured again, it shows the soil. ``minutes`` since the
    start of the test's clock, where the reading depends on when it is taken.
    """
    again = path in test.practice["taken"]
    method, readings = method_of(test.method), hidden(test, planted=not again)
    if minutes is not None:
        so_far = method.Readings.model_validate(test.readings)
        if (moving := method.at_time(readings, so_far, path, minutes)) is not None:
            return moving
    value = _value(readings, path)
    return value if value is not None or again else _value(hidden(test, planted=False), path)


def mark_taken(test: Test, paths: list[str]) -> None:
    test.practice = test.practice | {"taken": sorted({*test.practice["taken"], *paths})}


def compare(test: Test, reduction: Reduction, missed: list[str]) -> Comparison:
    """Return truth and result side by side, with what was caught of what was planted."""
    method = method_of(test.method)
    settings = method.Settings.model_validate(test.settings)
    soil = method.a_soil(np.random.default_rng(test.practice["seed"]))
    values = []
    for key, true in method.truth(soil, settings).items():
        found = reduction.parameter(key)
        name, unit = (found.symbol, found.unit) if found else (key.replace("_", " "), "")
        values.append((name, unit, true, found.value if found else None))
    return Comparison(
        values, [_outcome(method, settings, test, name, reduction) for name in test.practice["mistakes"]], missed
    )


def _outcome(method: Method[Any, Any, Any], settings: Any, test: Test, name: str, reduction: Reduction) -> Outcome:
    """Judge one mistake: it stands as long as one of the findings it alone causes does."""
    trace, standing = _trace(method, settings, test.practice["seed"], name), set(reduction.codes())
    return Outcome(method.mistakes[name], [f.message for f in trace], any(f.code in standing for f in trace))


def _trace(method: Method[Any, Any, Any], settings: Any, seed: int, name: str) -> list[Finding]:
    """Return the findings that one mistake causes in the readings of a soil."""
    context = method.Context()
    clean = method.reduce(_virtual(method, settings, seed, frozenset()), settings, context).codes()
    spoilt = method.reduce(_virtual(method, settings, seed, frozenset({name})), settings, context)
    return [finding for finding in spoilt.findings if finding.code not in clean]


def _virtual(method: Method[Any, Any, Any], settings: Any, seed: int, mistakes: frozenset[str]) -> Any:
    soil = method.a_soil(np.random.default_rng(seed))
    return method.virtual(soil, settings, np.random.default_rng(seed + 1), mistakes)


def _value(readings: Any, path: str) -> Any:
    table, *rest = path.split(".")
    found = getattr(readings, table, None)
    if not rest:
        return found
    number, name = int(rest[0]), rest[1]
    return getattr(found[number], name, None) if isinstance(found, list) and number < len(found) else None

"""Practice on the virtual bench: a test of a soil whose truth is hidden, with mistakes planted, and what came of it."""

from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Any

import numpy as np
from pydantic import BaseModel

from vadum.records.tables import Test
from vadum.soil.contract.cells import field_at
from vadum.soil.contract.field import resolution_of
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of
from vadum.soil.uncertainty.combined import Combined, combined

# Of a result whose uncertainty nobody knows, so much is let pass.
_BY_DEFAULT, _BY_HAND = 0.10, 0.05
# A hundredth of a soil that holds hardly any clay: a share of itself would be less than a curve can be read to.
_LEAST_PERCENT = 0.5
_NOISE = 0.005
# More than half of all cells measured again, and more than a few: then nothing could have been missed.
_MOST_AGAIN, _ALLOWED_AGAIN = 0.5, 4


class Value(BaseModel):
    """A result beside the truth, how far it may be off, and whether it is within that; None was not reached."""

    name: str
    unit: str
    true: float
    found: float | None
    limit: float
    within: bool


class Outcome(BaseModel):
    """What became of one planted mistake: what it was, what Vadum said of it, and whether something was done about
    it."""

    words: str
    said: list[str]
    caught: bool


class HandedIn(BaseModel):
    """A practice test that is over: who handed it in, truth and result, the planted mistakes, what was missed."""

    who: str
    at: datetime
    complete: bool
    values: list[Value]
    outcomes: list[Outcome]
    missed: list[str]
    cells: int = 0
    again: int = 0
    minutes: float = 0.0
    soil_g: float = 0.0
    """How many cells were read, how many of them again, and what time and soil that cost."""

    @property
    def lavish(self) -> bool:
        """Whether so much was measured again that any mistake would have been found."""
        return self.again > _MOST_AGAIN * max(self.cells, 1) and self.again > _ALLOWED_AGAIN

    @property
    def passed(self) -> bool:
        """Whether it was finished, every result is within its limit, nothing planted or due was missed, and not
        everything was measured twice."""
        right = all(value.within for value in self.values) and all(one.caught for one in self.outcomes)
        return self.complete and right and not self.missed and not self.lavish


def begin(
    method: Method[Any, Any, Any], seed: int, speed: float, mistakes: int, *, guided: bool = False, series: str = ""
) -> Test:
    """Return a new practice test, begun now, with as many mistakes planted as asked for and possible.

    ``guided`` shows each step of the procedure beside its reading; ``series`` is the word that the soils of one series
    have in common. Only mistakes that leave a trace in the readings of this soil are planted: others could be neither
    caught nor missed.
    """
    settings = method.Settings()
    traced = [name for name in sorted(method.mistakes) if _trace(method, settings, seed, name)]
    planted = [str(name) for name in np.random.default_rng(seed).permutation(traced)[:mistakes]]
    hidden = {"seed": seed, "speed": speed, "mistakes": planted, "epoch": datetime.now(UTC).isoformat(), "taken": []}
    hidden |= {"again": 0, "guided": guided, "series": series}
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
            return _by_eye(method, path, moving)
    value = _value(readings, path)
    return value if value is not None or again else _value(hidden(test, planted=False), path)


def _by_eye(method: Method[Any, Any, Any], path: str, value: float) -> float:
    """Return what is read off an instrument that has steps of its own."""
    step = resolution_of(*field_at(method.Readings, path))
    return round(round(value / step) * step, 9) if step else value


def mark_taken(test: Test, paths: list[str]) -> None:
    """Note that cells were read from the bench, and which of them again."""
    before = set(test.practice["taken"])
    again = test.practice.get("again", 0) + len(before.intersection(paths))
    test.practice = test.practice | {"taken": sorted(before.union(paths)), "again": again}


def guidance(method: Method[Any, Any, Any]) -> dict[str, str]:
    """Return the step of the procedure that fills each reading, by its column."""
    return {column: step.text for step in reversed(method.steps) for column in step.readings}


def _cost(method: Method[Any, Any, Any], settings: Any, readings: Any, cells: int, again: int) -> dict[str, float]:
    """Return what measuring again cost: its share of the hands' time of the test, and of the soil that it spends."""
    share = again / cells if cells else 0.0
    need = method.soil_needed(settings, None)
    hands = sum(operation.hands_on_min for operation in method.timetable(readings, settings))
    return {"minutes": share * hands, "soil_g": share * need.mass_g if need and need.spent else 0.0}


def handed_in(test: Test) -> HandedIn | None:
    """Return what came of a practice test, None while its truth is hidden."""
    kept = test.practice.get("handed_in")
    return HandedIn.model_validate(kept) if kept else None


def hand_in(test: Test, reduction: Reduction, missed: list[str], who: str) -> None:
    """End a practice test: from now on its truth is shown and its readings stay. The caller commits."""
    method = method_of(test.method)
    settings = method.Settings.model_validate(test.settings)
    readings = method.Readings.model_validate(test.readings)
    soil = method.a_soil(np.random.default_rng(test.practice["seed"]))
    known = {one.parameter.key: one for one in combined(method, readings, settings, method.Context())}
    # What this soil does not show even to a careful hand was not missed.
    clean = method.reduce(hidden(test, planted=False), settings, method.Context())
    told = {key: true for key, true in method.truth(soil, settings).items() if clean.parameter(key) is not None}
    values = [_value_of(key, true, reduction, known.get(key)) for key, true in told.items()]
    cells, again = len(test.practice["taken"]), test.practice.get("again", 0)
    over = HandedIn(
        who=who,
        at=datetime.now(UTC),
        complete=reduction.complete,
        values=values,
        outcomes=[_outcome(method, settings, test, name, reduction) for name in test.practice["mistakes"]],
        missed=missed,
        cells=cells,
        again=again,
        **_cost(method, settings, readings, cells, again),
    )
    test.practice = test.practice | {"handed_in": over.model_dump(mode="json")}


def _value_of(key: str, true: float, reduction: Reduction, known: Combined | None) -> Value:
    """Return a result beside the truth; it may be off by its expanded uncertainty, in the unit of the result."""
    found = reduction.parameter(key)
    name, unit = (found.symbol, found.unit) if found else (key.replace("_", " "), "")
    if known is None:
        limit = _BY_DEFAULT * abs(true)
    else:
        limit = abs(true) * (known.factor - 1) if known.as_factor else known.printed
        # Where nothing is known of the hand, instruments alone would ask for more than a hand can do.
        limit = limit if known.hand else max(limit, _BY_HAND * abs(true))
    limit = max(limit, _LEAST_PERCENT) if unit == "%" else limit
    value = found.value if found else None
    within = value is not None and abs(value - true) <= limit
    return Value(name=name, unit=unit, true=true, found=value, limit=limit, within=within)


def _outcome(method: Method[Any, Any, Any], settings: Any, test: Test, name: str, reduction: Reduction) -> Outcome:
    """Judge one mistake: it is caught when a reading that it spoilt was changed or left out and no finding that it
    alone causes stands."""
    trace, standing = _trace(method, settings, test.practice["seed"], name), set(reduction.codes())
    stands = any(finding.code in standing for finding in trace)
    spoilt = _spoilt(method, settings, test.practice["seed"], name)
    acted = any(_changed(test.readings, path, value) for path, value in spoilt.items())
    return Outcome(words=method.mistakes[name], said=[f.message for f in trace], caught=acted and not stands)


def _spoilt(method: Method[Any, Any, Any], settings: Any, seed: int, name: str) -> dict[str, Any]:
    """Return the cells that a mistake spoils, with what they then show."""
    clean = flat(_virtual(method, settings, seed, frozenset()).model_dump(mode="json"))
    wrong = flat(_virtual(method, settings, seed, frozenset({name})).model_dump(mode="json"))
    return {path: value for path, value in wrong.items() if value != clean.get(path)} | dict.fromkeys(
        clean.keys() - wrong.keys()
    )


def _changed(kept: dict[str, Any], path: str, spoilt: Any) -> bool:
    """Return whether a cell holds something else than the mistake put there, or its row is left out."""
    table, *rest = path.split(".")
    rows = kept.get(table)
    if rest and isinstance(rows, list):
        row = rows[int(rest[0])] if int(rest[0]) < len(rows) else {}
        return bool(row.get("left_out")) or not _alike(row.get(rest[1]), spoilt)
    return not _alike(kept.get(table), spoilt)


def _alike(one: Any, other: Any) -> bool:
    """Return whether two cells hold the same, numbers to what an instrument's noise makes of them."""
    numbers = (int, float)
    if isinstance(one, numbers) and isinstance(other, numbers):
        return abs(one - other) <= _NOISE * abs(other)
    return bool(one == other)


def flat(readings: dict[str, Any]) -> dict[str, Any]:
    """Return readings by the paths of their cells."""
    found: dict[str, Any] = {}
    for name, value in readings.items():
        if isinstance(value, list):
            found |= {f"{name}.{i}.{key}": one for i, row in enumerate(value) for key, one in row.items()}
        else:
            found[name] = value
    return found


def _trace(method: Method[Any, Any, Any], settings: Any, seed: int, name: str) -> list[Finding]:
    """Return the findings that one mistake causes in the readings of a soil."""
    context = method.Context()
    clean = method.reduce(_virtual(method, settings, seed, frozenset()), settings, context).codes()
    spoilt = method.reduce(_virtual(method, settings, seed, frozenset({name})), settings, context)
    return [finding for finding in spoilt.findings if finding.code not in clean]


def _virtual(method: Method[Any, Any, Any], settings: Any, seed: int, mistakes: frozenset[str]) -> Any:
    return _measured(method.code, settings.model_dump_json(), seed, mistakes)


@lru_cache(maxsize=64)
def _measured(code: str, settings: str, seed: int, mistakes: frozenset[str]) -> Any:
    """Return all readings of a hidden soil; kept, since every cell that is read from the bench asks for them."""
    method = method_of(code)
    soil = method.a_soil(np.random.default_rng(seed))
    return method.virtual(
        soil, method.Settings.model_validate_json(settings), np.random.default_rng(seed + 1), mistakes
    )


def _value(readings: Any, path: str) -> Any:
    table, *rest = path.split(".")
    found = getattr(readings, table, None)
    if not rest:
        return found
    number, name = int(rest[0]), rest[1]
    return getattr(found[number], name, None) if isinstance(found, list) and number < len(found) else None

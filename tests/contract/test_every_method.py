"""What every method owes: whatever is missing is named here, so that nothing is left out in silence."""

import importlib
import json
import re
from string import Formatter

import numpy as np
import pytest

from tests import THOROUGH
from vadum.exchange.ags4.fillings import filling, left_out
from vadum.exchange.bench_file import example_of, parse
from vadum.scaffold import new_method
from vadum.soil.contract.cells import tables
from vadum.soil.contract.field import source_of, unit_of
from vadum.soil.contract.pipeline import SHARED
from vadum.soil.registry import METHODS
from vadum.soil.site import QUANTITIES

EVERY = pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
_SLUG = re.compile(r"[a-z][a-z0-9]*(-[a-z0-9]+)*")


def missing(method):
    """Yield in words what a method has not."""
    for name in ("title", "basis", "headline", "results", "findings", "equations", "steps", "cautions", "mistakes"):
        if not getattr(method, name):
            yield f"no {name}"
    if not _SLUG.fullmatch(method.code):
        yield "its code is no slug"
    if not (type(method).__doc__ or "").strip():
        yield "no line that says what it measures"
    keys = [result.key for result in method.results]
    for key in method.headline:
        if not any(result.gives(key) for result in method.results):
            yield f"headline {key} is no declared result"
    for one in method.results:
        if "{" in one.symbol + one.name and not one.meaning and not one.gives("") and "{" in one.name:
            yield f"result {one.key} has slots in its name and no meaning for the glossary"
        if one.quantity and one.quantity not in {q.key for q in QUANTITIES}:
            yield f"result {one.key} gives an unknown quantity, {one.quantity}"
    if not any(one.quantity or one.card or one.key in method.headline for one in method.results):
        yield f"none of {keys} is a headline, on a card or a quantity"
    for doubt in method.findings:
        if not doubt.says or not doubt.do or (not doubt.do[0].isupper() and "{" not in doubt.do[0]):
            yield f"finding {doubt.code} does not say what to do"
    for before in method.waits_for:
        if before.method not in METHODS:
            yield f"waits for {before.method}, which nobody knows"
    for name in method.Context.model_fields:
        code, key = source_of(method.Context, name)
        if code and code not in METHODS:
            yield f"leans on {code}, which nobody knows"
        elif key and not any(result.gives(key) for result in METHODS[code].results):
            yield f"leans on {code}.{key}, which {code} does not give"
    for included in method.includes:
        if included not in METHODS:
            yield f"includes {included}, which nobody knows"
    for column in method.computed:
        if column.table not in tables(method.Readings):
            yield f"a worked-out column of {column.table}, which is no table"
    for name, model in {"": method.Readings, **tables(method.Readings)}.items():
        headings = [(info.title, unit_of(model, key)) for key, info in model.model_fields.items() if info.title]
        for heading in {one for one in headings if headings.count(one) > 1}:
            yield f"two of {name or 'the fields'} are called {heading}: whoever only hears them cannot tell them apart"
    if not filling(method.code) and left_out(method.code) in ("", "no group of the format is filled by it"):
        yield "no file in exchange/ags4/methods, neither a filling nor a reason"
    if not example_of(method.code):
        yield "no example.json in its package"


@EVERY
def test_nothing_is_missing(method):
    assert list(missing(method)) == []


@EVERY
def test_its_example_reduces_to_something_that_may_be_reported(method):
    plain = json.loads(example_of(method.code))
    assert plain["method"] == method.code
    result = parse(json.dumps(plain).encode()).reduce()
    assert result.parameters
    assert result.reportable
    assert [finding.code for finding in result.findings if finding.severity != "note"] == []


@EVERY
def test_its_equations_are_tried_as_they_are_written(method):
    """A published relation says its source; an example in its docstring runs with the doctests."""
    package = type(method).__module__.rpartition(".")[0]
    try:
        equations = importlib.import_module(f"{package}.equations")
    except ModuleNotFoundError:
        return
    for name, function in vars(equations).items():
        if callable(function) and getattr(function, "__module__", "") == equations.__name__ and name[0] != "_":
            assert (function.__doc__ or "").strip(), name


@EVERY
def test_what_it_gives_and_finds_is_declared(method):
    """Clean and spoilt virtual tests give no parameter and no finding that the method has not declared."""
    known = {doubt.code for doubt in (*method.findings, *SHARED)}
    for seed in range(6 if THOROUGH else 2):
        for mistake in ("", *method.mistakes):
            rng = np.random.default_rng(seed)
            planted = frozenset({mistake} - {""})
            readings = method.virtual(method.a_soil(rng), method.Settings(), rng, planted)
            result = method.reduce(readings, method.Settings(), method.Context())
            assert {f.code for f in result.findings} <= known
            assert "not-reduced" not in result.codes()
            for parameter in result.parameters:
                assert any(one.gives(parameter.key) for one in method.results), parameter.key


# Of six soils so many tell a mistake.
CAUGHT = 2
# What a mistake needs to show: the school it belongs to, a register of tins.
_SHOWS_IN = {"one-point-count-outside": {"school": "one-point"}, "pass-too-few": {"reversals": True}}


@EVERY
def test_every_planted_mistake_draws_something(method):
    """A mistake that nobody notices teaches nothing; some soils hide one, most must not."""
    for mistake in method.mistakes:
        settings = method.Settings.model_validate(_SHOWS_IN.get(mistake, {}))
        caught = 0
        for seed in range(6):
            if caught == CAUGHT:
                break
            soil = method.a_soil(np.random.default_rng(seed))
            clean = method.virtual(soil, settings, np.random.default_rng(seed + 100))
            spoilt = method.virtual(soil, settings, np.random.default_rng(seed + 100), frozenset({mistake}))
            context = method.Context.model_validate(_tins_of(method, clean))
            before = method.reduce(clean, settings, context).codes()
            caught += bool(set(method.reduce(spoilt, settings, context).codes()) - set(before))
        assert caught == CAUGHT, mistake


def _tins_of(method, readings):
    """Return the register in which the tins of these readings stand."""
    if "tins" not in method.Context.model_fields:
        return {}
    rows = [row for table in tables(method.Readings) for row in getattr(readings, table)]
    return {"tins": {row.tin: row.mass_tin_g for row in rows if getattr(row, "tin", None) and row.mass_tin_g}}


def test_slots_are_named_in_words():
    for method in METHODS.values():
        for doubt in method.findings:
            slots = [slot for text in (doubt.says, doubt.do) for _, slot, _, _ in Formatter().parse(text) if slot]
            assert all(slot.isidentifier() for slot in slots), doubt


def test_a_method_begun_from_the_scaffold_reduces_and_is_found(tmp_path, monkeypatch):
    written = new_method("thread-count", "Thread count", tmp_path / "methods", tmp_path / "ags4")
    assert {path.name for path in written} >= {"method.py", "readings.py", "findings.py", "results.py", "example.json"}
    from vadum.soil import methods as home

    monkeypatch.setattr(home, "__path__", [*home.__path__, str(tmp_path / "methods")])
    begun = importlib.import_module("vadum.soil.methods.thread_count").ThreadCount()
    rng = np.random.default_rng(1)
    soil = begun.a_soil(rng)
    result = begun.reduce(begun.virtual(soil, begun.Settings(), rng), begun.Settings(), begun.Context())
    assert result.reportable
    assert result.parameter("change").value == pytest.approx(soil, abs=0.1)
    spoilt = begun.virtual(soil, begun.Settings(), rng, frozenset({"exchanged"}))
    assert begun.reduce(spoilt, begun.Settings(), begun.Context()).codes() == ["grown"]
    from vadum.soil import registry

    assert "thread-count" in registry._found()

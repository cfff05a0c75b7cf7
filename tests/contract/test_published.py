"""Published relations: every example in a docstring runs, and what is published is written once."""

import doctest
import importlib
from pathlib import Path

import pytest

import vadum.soil
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.method import SourceNote
from vadum.soil.physics.moisture import water_content_percent
from vadum.soil.physics.published import formula_of
from vadum.soil.registry import METHODS

ROOT = Path(vadum.soil.__file__).parent
MODULES = sorted(
    f"vadum.soil.{path.relative_to(ROOT).with_suffix('').as_posix().replace('/', '.')}"
    for path in (*ROOT.glob("physics/*.py"), *ROOT.glob("methods/*/equations.py"))
)


def relations():
    for name in MODULES:
        module = importlib.import_module(name)
        yield from (f for f in vars(module).values() if hasattr(f, "formula") and f.__module__ == name)


@pytest.mark.parametrize("name", MODULES)
def test_the_examples_run(name):
    assert doctest.testmod(importlib.import_module(name)).failed == 0


def test_enough_relations_show_an_example():
    tried = sum(doctest.testmod(importlib.import_module(name)).attempted for name in MODULES)
    assert tried >= 14


def test_every_published_relation_shows_one():
    for relation in relations():
        assert ">>>" in relation.__doc__, relation.__name__
        assert formula_of(relation).source


def test_the_page_and_the_derivation_say_it_as_it_is_published():
    formula = formula_of(water_content_percent)
    assert SourceNote.of(water_content_percent) in METHODS["water-content"].equations
    step = Step.of(water_content_percent, put_in="100 (3 − 2) / (2 − 1)", result="100.00", unit="%")
    assert (step.symbol, step.formula, step.basis) == ("w", formula.equation, formula.source)

"""Published relations: every example in a docstring runs, and what is published is written once."""

import ast
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
    for path in (*ROOT.glob("physics/*.py"), *ROOT.glob("classify/*.py"), *ROOT.glob("methods/*/equations.py"))
)


def relations():
    for name in MODULES:
        module = importlib.import_module(name)
        own = [one for one in vars(module).values() if getattr(one, "__module__", "") == name]
        within = [f for one in own if isinstance(one, type) for f in vars(one).values()]
        yield from (f for f in (*own, *within) if hasattr(f, "formula"))


@pytest.mark.parametrize("name", MODULES)
def test_the_examples_run(name):
    assert doctest.testmod(importlib.import_module(name)).failed == 0


def test_enough_relations_show_an_example():
    tried = sum(doctest.testmod(importlib.import_module(name)).attempted for name in MODULES)
    assert tried >= 70


def test_every_published_relation_shows_one():
    for relation in relations():
        assert ">>>" in relation.__doc__, relation.__name__
        assert formula_of(relation).source


def test_the_page_and_the_derivation_say_it_as_it_is_published():
    formula = formula_of(water_content_percent)
    assert SourceNote.of(water_content_percent) in METHODS["water-content"].equations
    step = Step.of(water_content_percent, put_in="100 (3 − 2) / (2 − 1)", result="100.00", unit="%")
    assert (step.symbol, step.formula, step.basis) == ("w", formula.equation, formula.source)


def test_an_equation_is_written_once():
    """Neither the list of a method's equations nor a derivation repeats what a relation publishes."""
    published = {formula_of(relation).equation for relation in relations()}
    assert len(published) >= 70
    for path in sorted(ROOT.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Name)
                and node.func.id in ("Step", "SourceNote")
            ):
                words = [k.value.value for k in node.keywords if isinstance(k.value, ast.Constant)]
                assert not published & set(words), f"{path.name}: {published & set(words)}"


def test_most_equations_of_the_methods_are_published_relations():
    published = [SourceNote.of(relation) for relation in relations()]
    listed = [(method.code, note) for method in METHODS.values() for note in method.equations]
    by_hand = [code for code, note in listed if note not in published]
    assert len(by_hand) < 0.45 * len(listed), f"{len(by_hand)} of {len(listed)}"

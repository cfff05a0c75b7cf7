"""Choices are kept as codes and read as labels; the words of earlier releases are read for good."""

import ast
import re
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pytest
from pydantic import ValidationError

from vadum.soil.choice import Choice
from vadum.soil.contract.cells import choices, read_cell, tables
from vadum.soil.registry import METHODS

SOIL = Path(__file__).parents[2] / "src" / "vadum" / "soil"


def chosen_fields(code: str) -> list[tuple[type, str, type[Choice]]]:
    """Return the fields of a method that are choices: model, name, and the words."""
    method = METHODS[code]
    found = []
    for model in (method.Readings, method.Settings, *tables(method.Readings).values()):
        for name, info in model.model_fields.items():
            for part in (info.annotation, *get_args(info.annotation)):
                if isinstance(part, type) and issubclass(part, Choice):
                    found.append((model, name, part))
    return found


EVERY = [(code, *field) for code in METHODS for field in chosen_fields(code)]


@pytest.mark.parametrize(("code", "model", "name", "kind"), EVERY, ids=[f"{c}-{n}" for c, _, n, _ in EVERY])
def test_a_choice_is_read_by_code_and_by_label_and_kept_as_its_code(code: str, model: Any, name: str, kind: Any):
    for one in kind:
        for word in (one.value, one.label, *one.earlier):
            assert read_cell(model, name, word) == one.value
            assert model.model_validate({name: word}).model_dump(mode="json")[name] == one.value
        assert str(one) == f"{one}" == one.label
    assert choices(model, name) == {one.value: one.label for one in kind}


@pytest.mark.parametrize(("code", "model", "name", "kind"), EVERY, ids=[f"{c}-{n}" for c, _, n, _ in EVERY])
def test_a_word_that_is_no_choice_is_refused(code: str, model: Any, name: str, kind: Any):
    with pytest.raises(ValidationError):
        read_cell(model, name, "neither of them")


def told(reduction: dict[str, Any]) -> list[str]:
    """Return all that a reduction says in words; keys are for programs."""
    if isinstance(reduction, dict):
        return [
            text
            for key, value in reduction.items()
            if key not in ("key", "code", "cells", "computed", "expected", "role", "kind", "scale")
            for text in told(value)
        ]
    if isinstance(reduction, list):
        return [text for value in reduction for text in told(value)]
    return [reduction] if isinstance(reduction, str) else []


@pytest.mark.parametrize("code", [code for code in METHODS if chosen_fields(code)])
def test_nothing_a_person_reads_says_a_code(code: str):
    method = METHODS[code]
    rng = np.random.default_rng(5)
    for model, name, kind in chosen_fields(code):
        for one in kind:
            if one.value == one.label or one.value in one.label or one.value.isalpha():
                continue
            settings = {name: one.value} if model is method.Settings else {}
            readings = method.virtual(method.a_soil(rng), method.Settings.model_validate(settings), rng).model_dump(
                mode="json", exclude_none=True
            )
            if model is method.Readings:
                readings[name] = one.value
            said = told(method.reduce_raw(readings, settings).model_dump(mode="json"))
            assert not [text for text in said if re.search(rf"(?<![\w-]){re.escape(one.value)}(?![\w-])", text)]


def compared_with(path: Path) -> set[str]:
    """Return the texts that a module compares with."""
    return {
        constant.value
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.Compare)
        for constant in ast.walk(node)
        if isinstance(constant, ast.Constant) and isinstance(constant.value, str)
    }


def test_no_code_compares_with_a_label():
    labels = {one.label for _, _, _, kind in EVERY for one in kind if one.label != one.value}
    compared = {str(path.relative_to(SOIL)): compared_with(path) for path in SOIL.rglob("*.py")}
    assert sum(map(bool, compared.values())) > 50
    assert {path: said & labels for path, said in compared.items() if said & labels} == {}

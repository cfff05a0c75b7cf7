"""The bench files in the documentation: each reduces, to something that may be reported."""

import json
from pathlib import Path

import pytest

from vadum.soil.registry import method

FILES = sorted((Path(__file__).parents[1] / "docs" / "examples").glob("*.json"))


@pytest.mark.parametrize("file", FILES, ids=lambda file: file.stem)
def test_each_example_reduces(file):
    plain = json.loads(file.read_text())
    assert plain["method"] == file.stem
    found = method(plain["method"]).reduce_raw(plain["readings"], plain["settings"], plain["context"])
    assert found.parameters
    assert found.complete
    assert [f.code for f in found.findings if f.severity == "stop"] == []

"""A finding that nothing provokes is a promise nobody has seen kept: each is named by a test, or drawn by a slip."""

import ast
import logging
from pathlib import Path

import pytest

from tests.contract.slips import spoilt
from vadum.soil.registry import METHODS

TESTS = Path(__file__).parents[1]


def named():
    """Return every word in quotes of the tests of soil: a test that expects a finding names its code."""
    words = set()
    for path in (*TESTS.glob("soil/test_*.py"), *TESTS.glob("contract/test_[lpr]*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        words |= {node.value for node in ast.walk(tree) if isinstance(node, ast.Constant)}
    return {word for word in words if isinstance(word, str)}


NAMED = named()


@pytest.mark.filterwarnings("ignore::RuntimeWarning")
@pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
def test_each_finding_is_seen(method):
    wanted = {doubt.code for doubt in method.findings} - NAMED
    logging.disable(logging.ERROR)
    try:
        for parts in spoilt(method):
            if not wanted:
                break
            wanted -= set(method.reduce(*parts).codes())
    finally:
        logging.disable(logging.NOTSET)
    assert wanted == set()

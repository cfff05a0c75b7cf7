"""What a finding says: one thing in the words of the sheet, one action that can be done now, nothing twice."""

import logging
import re
from collections import Counter

import pytest

from tests.contract.slips import spoilt
from vadum.soil.contract.pipeline import SHARED
from vadum.soil.contract.places import columns
from vadum.soil.registry import METHODS

EVERY = pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
# Sentences that begin so say how things are, not what to do.
STATEMENTS = {"It", "There", "This", "That", "You", "Maybe", "Perhaps", "Please"}
COMPARED = re.compile(
    r"(?<![\w.])(\d+(?:\.\d+)?) ?\S{0,6} (?:of \w+ )?(?:is |lies |stands |comes )?(?:not )?"
    r"(?:heavier than|lighter than|more than|less than|above|below|after|before|over|under) (\d+(?:\.\d+)?)(?![\w.])"
)
# Every so many of the first slips.
ONE_IN, FIRST = 31, 3000
GROUP = 3


@EVERY
def test_declared_sentences_end_and_say_what_to_do(method):
    for doubt in (*method.findings, *SHARED):
        assert re.search(r"([.?]|\{slip\}|\})$", doubt.says), doubt
        assert re.search(r"[.?}]$", doubt.do), doubt
        assert doubt.do.split()[0] not in STATEMENTS, doubt
        assert doubt.do[0].isupper() or doubt.do[0] == "{", doubt
        assert doubt.do.count(".") <= 3, f"more than one action: {doubt}"


@EVERY
@pytest.mark.filterwarnings("ignore::RuntimeWarning")
def test_told_findings_stand_at_cells_of_the_sheet_once_and_compare_two_different_numbers(method):
    known = {(one.table, one.name) for one in columns(method.Readings)} | {
        (name, "") for name in method.Readings.model_fields
    }
    logging.disable(logging.CRITICAL)
    try:
        for parts in spoilt(method, seeds=(1,), first=FIRST, one_in=ONE_IN):
            found = method.reduce(*parts).findings
            kinds = Counter((finding.code, finding.severity) for finding in found)
            assert max(kinds.values(), default=0) <= GROUP, kinds
            for finding in found:
                for cell in finding.cells:
                    table, *rest = cell.split(".")
                    assert (("", table) if not rest else (table, rest[-1])) in known or (table, "") in known, cell
                if parts[1] != method.Settings():
                    continue  # a limit of the settings may be what is reached
                for low, high in COMPARED.findall(finding.message):
                    assert float(low) != float(high), finding.message
    finally:
        logging.disable(logging.NOTSET)

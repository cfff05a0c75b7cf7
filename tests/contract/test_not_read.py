"""A text that is no reading stands in its cell and counts nowhere: no result of the test may be reported meanwhile."""

import json

import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.contract.cells import Sheet, enter, tables
from vadum.soil.registry import METHODS

# A letter for a nought, a decimal mark twice, a stroke too much.
TYPED = "2O"


def numbers(readings):
    """Yield the paths of a number of each column, and of each that is read once."""
    for name, value in readings.items():
        if isinstance(value, list) and value and isinstance(value[0], dict):
            found = {}
            for i, row in enumerate(value):
                found |= {key: f"{name}.{i}.{key}" for key, held in row.items() if isinstance(held, float)}
            yield from found.values()
        elif isinstance(value, float):
            yield name


@pytest.mark.parametrize("code", METHODS)
def test_what_is_not_read_stops_the_test_and_says_which_cell(code):
    method, before = METHODS[code], json.loads(example_of(code))
    for path in numbers(before["readings"]):
        sheet = enter(method.Readings, Sheet(before["readings"]), {path: TYPED})
        assert sheet.unread == {path: TYPED}
        reduction = method.reduce_raw(sheet.readings, before["settings"], before["context"], sheet.unread)
        assert (reduction.complete, reduction.reportable) == (False, False), path
        said = next(f for f in reduction.findings if f.code == "not-read")
        assert (said.severity, said.cells) == ("stop", [path])
        assert f"“{TYPED}” has a letter among its figures" in reduction.next_action
        # Typed again, it is the test as it was.
        sheet = enter(method.Readings, sheet, {path: value_at(before["readings"], path)})
        again = method.reduce_raw(sheet.readings, before["settings"], before["context"], sheet.unread)
        assert "not-read" not in again.codes()


def value_at(readings, path):
    for part in path.split("."):
        readings = readings[int(part)] if part.isdecimal() else readings[part]
    return repr(readings)


@pytest.mark.parametrize("code", [code for code in METHODS if tables(METHODS[code].Readings)])
def test_what_stands_in_a_row_left_out_is_not_asked_for(code):
    method, before = METHODS[code], json.loads(example_of(code))
    for path in numbers(before["readings"]):
        if "." not in path:
            continue
        table, row, _ = path.split(".")
        out = {f"{table}.{row}.left_out": "torn bag"}
        alone = enter(method.Readings, Sheet(before["readings"]), out)
        sheet = enter(method.Readings, Sheet(before["readings"]), out | {path: TYPED})
        with_text = method.reduce_raw(sheet.readings, before["settings"], before["context"], sheet.unread)
        assert "not-read" not in with_text.codes(), path
        assert (
            with_text.complete == method.reduce_raw(alone.readings, before["settings"], before["context"]).complete
        ), path


def test_what_the_school_does_not_show_is_not_asked_for():
    method = METHODS["sieve"]
    typed = {"sieves.0.opening_mm": "2", "sieves.0.mass_cumulative_g": TYPED}
    sheet = enter(method.Readings, Sheet(), typed)
    assert "not-read" not in method.reduce_raw(sheet.readings, {"entry": "retained"}, None, sheet.unread).codes()
    assert "not-read" in method.reduce_raw(sheet.readings, {"entry": "cumulative"}, None, sheet.unread).codes()


def test_a_blank_in_a_table_that_the_school_does_not_show_is_not_asked_for():
    """Pours of a sand cone that were begun before the hole was measured otherwise: nobody sees their table any more."""
    method, bench = METHODS["excavation-density"], json.loads(example_of("excavation-density"))
    begun = bench["readings"] | {"pours": [{"mass_before_g": 5000.0}]}
    plain = method.reduce_raw(bench["readings"], bench["settings"], bench["context"])
    assert method.reduce_raw(begun, bench["settings"], bench["context"]) == plain
    assert plain.reportable
    assert (plain.complete, "missing-reading" in plain.codes()) == (True, False)

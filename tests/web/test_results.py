"""A project's results for a report: a line per sample, a line per result, without what is void."""

import csv
import io
from datetime import UTC, date, datetime

import openpyxl
import pytest

from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_B3
from vadum.exchange.results import Result, results_csv, results_xlsx
from vadum.soil.registry import METHODS


@pytest.fixture
def lines(client):
    text = client.get("/projects/1/results.csv").content.decode("utf-8-sig")
    return list(csv.DictReader(io.StringIO(text)))


def test_every_result_of_a_project_stands_on_a_line_of_its_own(client, lines):
    reduced = client.post("/api/reduce", json=client.get(f"/tests/{LIQUID_LIMIT_B1}/bench.json").json()).json()
    limit = next(p for p in reduced["parameters"] if p["symbol"] == "LL")
    (line,) = [x for x in lines if x["test"] == "4" and x["symbol"] == "LL"]
    assert float(line["reported"]) == limit["reported"]
    assert float(line["unrounded"]) == limit["value"]
    assert (line["unit"], line["method"]) == ("%", METHODS["liquid-limit"].title)
    assert line["location"]
    assert float(line["from [m]"]) < float(line["to [m]"])
    # A test in the ground has no sample and no depths.
    assert any(x["sample"] == "" and x["from [m]"] == "" for x in lines)


def test_a_void_test_gives_no_result(client, lines):
    assert any(x["test"] == "9" for x in lines)
    assert (
        client.post(
            f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": "void", "reason": "tins mixed up"}
        ).status_code
        == 200
    )
    after = csv.DictReader(io.StringIO(client.get("/projects/1/results.csv").content.decode("utf-8-sig")))
    assert not any(x["test"] == "9" for x in after)


def test_the_workbook_has_a_line_per_sample_with_its_results_side_by_side(client, lines):
    book = openpyxl.load_workbook(io.BytesIO(client.get("/projects/1/results.xlsx").content))
    assert book.sheetnames == ["by sample", "results", "columns", "spread"]
    assert all(sheet.freeze_panes == "A2" for sheet in book)
    assert book["results"].max_row == len(lines) + 1
    head, *rows = book["by sample"].iter_rows(values_only=True)
    (one,) = [x for x in lines if x["test"] == "4" and x["symbol"] == "LL"]
    column = head.index(f"{one['method']}: {one['parameter']} [%]")
    found = [row[column] for row in rows if row[:2] == (one["location"], one["sample"])]
    assert pytest.approx(float(one["reported"])) in found
    # Nothing a test is for is lost: a second test of the same kind has a line of its own.
    limits = [x for x in lines if x["symbol"] == "LL" and x["method"] == one["method"]]
    assert sum(row[column] is not None for row in rows) == len(limits)
    assert any("position 1" in x["parameter"] for x in lines)
    assert not any("position 1" in heading for heading in head), "a summary shows what each test is for"


def test_two_tests_of_a_kind_on_one_sample_stand_on_two_lines():
    method = METHODS["water-content"]

    def one(number, dry):
        readings = {"determinations": [{"mass_tin_g": 10.0, "mass_tin_wet_g": 30.0, "mass_tin_dry_g": dry}]}
        reduction = method.reduce_raw(readings)
        return Result("TP1", "B1", 0.5, 1.0, number, method.title, "done", reduction, tuple(method.headline))

    book = openpyxl.load_workbook(io.BytesIO(results_xlsx([one(1, 26.0), one(2, 25.0)])))
    rows = list(book["by sample"].iter_rows(min_row=2, values_only=True))
    # (30 - 26) / 16 and (30 - 25) / 15
    assert [row[4] for row in rows] == pytest.approx([25.0, 33.3], abs=0.05)


def test_names_are_no_formulas():
    method = METHODS["water-content"]
    readings = {"determinations": [{"mass_tin_g": 10.0, "mass_tin_wet_g": 30.0, "mass_tin_dry_g": 26.0}]}
    one = Result("=1+1", "@B", 0.5, 1.0, 1, method.title, "done", method.reduce_raw(readings))
    assert results_csv([one]).splitlines()[1].startswith("'=1+1,'@B,0.5,1.0,1,")
    cell = openpyxl.load_workbook(io.BytesIO(results_xlsx([one])))["by sample"]["A2"]
    assert (cell.value, cell.data_type) == ("=1+1", "s")


def test_numbers_are_numbers_and_words_stand_in_a_column_of_their_own(lines):
    """Nobody has to guess whether a cell can be averaged: a number, or words, never one in the other's place."""
    for line in lines:
        assert bool(line["reported"]) != bool(line["words"]), line
        if line["reported"]:
            float(line["reported"])
    assert {line["words"] for line in lines if line["symbol"] == "PI"} >= {"NP"}


def test_each_line_says_project_day_and_whether_it_may_be_signed(client, lines):
    bench = client.get(f"/tests/{LIQUID_LIMIT_B1}/bench.json").json()
    reduced = client.post("/api/reduce", json=bench).json()
    (line,) = [x for x in lines if x["test"] == "4" and x["symbol"] == "LL"]
    assert line["project"] == "Harrow Mere bypass"
    assert date.fromisoformat(line["tested on"]) <= datetime.now(UTC).date()
    assert line["reportable"] == ("yes" if reduced["reportable"] else "no")
    assert line["key"] == "liquid_limit"
    assert line["follows"] == ", ".join(reduced["follows"])
    assert int(line["stops"]) == len([f for f in reduced["findings"] if f["severity"] == "stop"])
    assert {x["reportable"] for x in lines} == {"yes", "no"}


def test_a_dictionary_stands_beside_the_file_and_in_the_workbook(client, lines):
    text = client.get("/projects/1/results-dictionary.csv").content.decode("utf-8-sig")
    meanings = {row["column"]: row["meaning"] for row in csv.DictReader(io.StringIO(text))}
    assert list(meanings) == list(lines[0])
    assert all(meanings.values())
    book = openpyxl.load_workbook(io.BytesIO(client.get("/projects/1/results.xlsx").content))
    assert dict(book["columns"].iter_rows(min_row=2, values_only=True)) == meanings


def test_a_column_side_by_side_is_named_for_every_test_that_stands_in_it(client):
    """Three places or one: the heading does not carry the words of whichever test came first."""
    book = openpyxl.load_workbook(io.BytesIO(client.get("/projects/1/results.xlsx").content))
    head = next(book["by sample"].iter_rows(max_row=1, values_only=True))
    assert len(set(head)) == len(head)
    assert any(name.endswith("conductivity at saturation of a site [mm/h]") for name in head)
    assert not any("of 3 places" in name for name in head)


def test_an_empty_project_gives_headings_only(client):
    assert client.get("/projects/999/results.csv").status_code == 404
    assert results_csv([]).count("\n") == 1


def test_the_workbook_says_how_quantities_spread_in_numbers(client):
    book = openpyxl.load_workbook(io.BytesIO(client.get("/projects/3/results.xlsx").content))
    head, *rows = book["spread"].iter_rows(values_only=True)
    by_symbol = {row[0]: dict(zip(head, row, strict=True)) for row in rows}
    strength = by_symbol["su"]
    assert (strength["unit"], strength["n"]) == ("kPa", 6)
    assert (
        strength["least"]
        <= strength["cautious mean (a suggestion for the engineer)"]
        <= strength["mean"]
        <= strength["most"]
    )
    assert by_symbol["LL"]["cautious mean (a suggestion for the engineer)"] is None

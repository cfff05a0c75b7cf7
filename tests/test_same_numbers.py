"""A result is one number, wherever it is read: API, screen, CSV, workbook, sheet and report say the same of a hundred
random virtual tests of all methods."""

import csv
import html
import io
import re

import openpyxl
import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader

from tests import THOROUGH
from tests.printed import pages_of
from vadum.demo.random_site import random_site
from vadum.records.database import open_database, session_on
from vadum.records.tables import Project
from vadum.report import sheet
from vadum.report.builder import make
from vadum.report.document import Picture
from vadum.report.side_by_side import side_by_side
from vadum.report.wanted import Wanted
from vadum.soil.contract.result import Parameter
from vadum.soil.registry import METHODS
from vadum.web.app import create_app

TESTS = 100 if THOROUGH else 40


@pytest.fixture(scope="module")
def site(tmp_path_factory):
    database = tmp_path_factory.mktemp("site") / "lab.sqlite"
    with session_on(open_database(database)) as session:
        project = random_site(session, TESTS, 41).id
    with TestClient(create_app(database)) as client:
        yield client, database, project


@pytest.fixture(scope="module")
def answers(site):
    """What the API says: the parameters of each test by its number, reduced from its own bench file."""
    client, _, _ = site
    found = {}
    for number in range(1, TESTS + 1):
        reduced = client.post("/api/reduce", json=client.get(f"/tests/{number}/bench.json").json()).json()
        found[number] = reduced["parameters"]
    assert sum(len(parameters) for parameters in found.values()) > 4 * TESTS
    return found


def numbers(answers):
    """Return (test, name, text or reported value) of every parameter, as tables give them."""
    return {
        (test, p["name"]): p["text"] if p["reported"] is None else p["reported"]
        for test in answers
        for p in answers[test]
    }


def as_number(cell):
    try:
        return float(cell)
    except (TypeError, ValueError):
        return cell


def test_csv_says_the_same(site, answers):
    client, _, project = site
    lines = csv.DictReader(io.StringIO(client.get(f"/projects/{project}/results.csv").content.decode("utf-8-sig")))
    found = {(int(x["test"]), x["parameter"]): as_number(x["reported"] or x["words"]) for x in lines}
    assert found == {key: as_number(value) for key, value in numbers(answers).items()}


def test_the_workbook_says_the_same_in_real_numbers(site, answers):
    client, _, project = site
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"/projects/{project}/results.xlsx").content))
    head, *rows = book["results"].iter_rows(values_only=True)
    at = {name: head.index(name) for name in ("test", "parameter", "reported", "words")}
    said = [row[at["words"]] if row[at["reported"]] is None else row[at["reported"]] for row in rows]
    found = {(row[at["test"]], row[at["parameter"]]): text for row, text in zip(rows, said, strict=True)}
    expected = numbers(answers)
    assert found.keys() == expected.keys()
    for key, value in expected.items():
        assert found[key] == value or as_number(found[key]) == as_number(value), key
        assert isinstance(value, str) == isinstance(found[key], str), f"{key} is text in the workbook"


def test_the_screen_says_the_same(site, answers):
    client, _, project = site
    found, start = {}, 0
    while True:
        page = client.get(f"/projects/{project}/summary?from_line={start}").text
        rows = re.findall(
            r'<tr data-test="(\d+)">.*?<b>([^<]*)</b>\s*<span class="soft">([^<]*)</span>\s*</td>\s*'
            r'<td class="num" data-value>\s*([^<]*?)\s*</td>',
            page,
            re.S,
        )
        if not rows:
            break
        found |= {(int(test), html.unescape(name)): html.unescape(text) for test, _, name, text in rows}
        start += 200
    assert found == {(test, p["name"]): p["text"] for test in answers for p in answers[test]}


def bare(*texts):
    """Return texts without blanks, which a line's end adds or takes away on paper."""
    return re.sub(r"\s", "", "".join(texts))


def printed(site, *chapters):
    """Return a report of the whole site as bytes, and the tests it is of in its order."""
    _, database, project = site
    wanted = Wanted(title="All", chapters=list(chapters), final=False)
    with session_on(open_database(database)) as session:
        project = session.get(Project, project)
        data = make(session, project, wanted, "draft 1", "technician 1", lambda *_: None)
        return data, [test.id for test in wanted.tests(project)]


def _method_of(site, number):
    client, _, _ = site
    return client.get(f"/tests/{number}/bench.json").json()["method"]


def test_every_sheet_says_the_same(site, answers, monkeypatch):
    # Without figures and readings, which would take most of the time to set and to read.
    blank = Picture("", "", '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"/>')
    monkeypatch.setattr(Picture, "of", lambda *_: blank)
    monkeypatch.setattr(sheet, "_RECORD", 0)
    pdf, tests = printed(site, "tests")
    reader = PdfReader(io.BytesIO(pdf))
    starts = [reader.get_destination_page_number(entry) for entry in reader.outline if not isinstance(entry, list)]
    pages = pages_of(pdf)
    assert len(starts) == len(tests) == TESTS
    for number, start, end in zip(tests, starts, [*starts[1:], len(pages)], strict=True):
        said = bare(*pages[start:end])
        beside = []
        for p in answers[number]:
            unit = p["unit"] if p["text"] != "NP" else ""
            if bare(p["symbol"], ",", p["name"], p["text"], unit) not in said:
                beside.append(Parameter(**p))
        # What is not in a line of its own is in the table of specimens, places or fills side by side.
        every = [Parameter(**p) for p in answers[number]]
        together = side_by_side(METHODS[_method_of(site, number)].results, every, {})
        assert {p.key for p in beside} <= together.keys, number
        for symbol, meaning, unit, texts in together.lines:
            assert bare(symbol, ",", meaning, *texts, unit) in said, (number, symbol)


def test_the_summary_of_the_report_says_the_same(site, answers):
    pdf, _ = printed(site, "summary")
    # A table goes on over the foot and the head of a page.
    pages = [re.sub(r"Report draft 1, draft, not issued\s+page \d+ of \d+", "", words) for words in pages_of(pdf)]
    said = bare(*pages).replace("wheredepth,mtestreported", "")
    for number, parameters in answers.items():
        lines = [f"{p['symbol']} {p['text']} {p['unit'] if p['reported'] is not None else ''}" for p in parameters]
        assert bare(",".join(lines)) in said, (number, lines)


def test_the_side_by_side_tables_say_the_same(site, answers):
    """On screen every cell of the tables by sample is a reported value of the test it links to."""
    client, _, project = site
    page = client.get(f"/projects/{project}/summary").text
    cells = re.findall(r'<td class="num">\s*<a href="/tests/(\d+)">([^<]*)</a>\s*</td>', page)
    assert len(cells) > 0.8 * TESTS
    for number, text in cells:
        first = text.split(" / ")[0].removesuffix("*")
        assert first in {p["text"] for p in answers[int(number)]}, (number, text)

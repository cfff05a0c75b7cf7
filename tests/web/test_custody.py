"""A sample's way to the bench, whose order it is, remarks: told once, printed on every sheet."""

import io
import re
import sqlite3
from contextlib import closing

import pytest
from pypdf import PdfReader
from sqlmodel import Session, select

from tests.laboratory import COMPACTION_G1, LIQUID_LIMIT_B1, VANE_BH2
from tests.printed import pages_of, words_of
from tests.web.hands import signed_in
from vadum.records.custody import Custody, changes_of, custody_of
from vadum.records.database import open_database
from vadum.records.people import signed_as
from vadum.records.tables import Check, Person, Sample, Test
from vadum.report.builder import make
from vadum.report.document import SHORT, Picture
from vadum.report.wanted import Wanted

TOLD = {
    "item": "7a",
    "taken_on": "2026-11-02",
    "taken_by": "county roads office",
    "taken_how": "by hand from the pit",
    "received_on": "2026-11-04",
    "condition": "bag closed",
    "preparation": "air-dried",
    "discarded_percent": "12,5",
    "kept_until": "2027-02-04",
    "seen": "0",
}


def printed(client, address):
    return words_of(client.get(address).content)


def sample_of(database, test):
    with Session(open_database(database)) as session:
        return session.get(Test, test).sample_id


def tell(client, sample, **said):
    return client.post(f"/samples/{sample}/custody", data=TOLD | said, follow_redirects=False)


def test_what_was_told_stands_on_every_sheet_of_the_sample(client, database):
    sample = sample_of(database, COMPACTION_G1)
    assert tell(client, sample).status_code == 303
    for address in (f"/tests/{COMPACTION_G1}/sheet.pdf", f"/samples/{sample}/sheet.pdf"):
        said = printed(client, address)
        for words in (
            "item 7a",
            "taken 2026-11-02, by county roads office, by hand from the pit",
            "received 2026-11-04, bag closed",
            "preparation air-dried, 12.5 % discarded",
            "kept until 2027-02-04",
            "of this sample as it was received",
            "end of the sheet",
        ):
            assert words in said, address
    assert "as it was received" not in printed(client, f"/tests/{VANE_BH2}/sheet.pdf"), "the ground was not received"


def test_a_later_word_is_kept_with_who_said_it(app):
    client = signed_in(app, "technician")
    with Session(app.state.engine) as session:
        sample = session.exec(select(Sample.id)).first()
    tell(client, sample)
    tell(client, sample, seen="1", condition="bag torn", disposed_on="2026-12-01")
    with Session(app.state.engine) as session:
        kept = session.get(Sample, sample)
        assert custody_of(kept).condition == "bag torn"
        changes = changes_of(kept)
    assert [one["who"] for one in changes] == ["technician", "technician"]
    assert changes[1]["changed"] == {"condition": ["bag closed", "bag torn"], "disposed_on": [None, "2026-12-01"]}
    assert "bag torn" in client.get(f"/samples/{sample}").text


def test_a_page_that_is_behind_is_refused_with_what_stands_now(client, database):
    sample = sample_of(database, LIQUID_LIMIT_B1)
    assert tell(client, sample).status_code == 303
    stale = tell(client, sample, condition="frozen")
    assert stale.status_code == 422
    assert "technician 1 changed this meanwhile: condition blank → bag closed." in re.sub(r"\s+", " ", stale.text)
    assert 'value="frozen"' in stale.text, "what was typed stands"


def test_two_who_say_different_things_of_a_sample_take_nothing_of_each_other_back(client, database):
    sample = sample_of(database, LIQUID_LIMIT_B1)
    tell(client, sample)
    assert tell(client, sample, seen="1", condition="bag torn").status_code == 303
    assert tell(client, sample, seen="1", taken_how="pushed tube").status_code == 303
    with Session(open_database(database)) as session:
        known = custody_of(session.get(Sample, sample))
    assert (known.condition, known.taken_how) == ("bag torn", "pushed tube")
    # Each day is possible by itself, both together are not.
    assert tell(client, sample, seen="3", condition="bag torn", taken_on="2026-11-03").status_code == 303
    both = tell(client, sample, seen="3", condition="bag torn", received_on="2026-11-02", taken_on="2026-11-02")
    assert both.status_code == 422
    assert "received on 2026-11-02 is before taken on 2026-11-03" in both.text
    # It still says what its hand saw: put right, it does not take the other's day back.
    assert re.search(r'name="seen"\s+value="3"', both.text)


def test_a_form_of_custody_that_comes_back_for_a_mistake_takes_nothing_back(client, database):
    sample = sample_of(database, LIQUID_LIMIT_B1)
    tell(client, sample)
    tell(client, sample, seen="1", condition="bag torn")
    refused = tell(client, sample, seen="1", discarded_percent="120")
    assert re.search(r'name="seen"\s+value="1"', refused.text)


@pytest.mark.parametrize(
    ("said", "complaint"),
    [
        ({"received_on": "2026-11-01"}, "received on 2026-11-01 is before taken on 2026-11-02"),
        ({"disposed_on": "2026-10-01"}, "disposed of on 2026-10-01 is before received on 2026-11-04"),
        ({"discarded_percent": "120"}, "100"),
        ({"taken_on": "last week"}, "date"),
    ],
)
def test_what_cannot_be_is_refused_where_it_stands(client, database, said, complaint):
    sample = sample_of(database, LIQUID_LIMIT_B1)
    reply = tell(client, sample, **said)
    assert reply.status_code == 422
    assert complaint in reply.text
    with Session(open_database(database)) as session:
        assert custody_of(session.get(Sample, sample)) == Custody()


def test_an_order_is_told_once_and_a_name_is_given_once(client):
    corrected = {"order_number": "R-118/26", "client": "county roads office"}
    assert client.post("/projects/1", data=corrected | {"name": "Harrow Mere bypass"}).status_code == 200, (
        "a blank filled"
    )
    corrected |= {"name": "Harrow Mere bypass, lot 2"}
    unsaid = client.post("/projects/1", data=corrected)
    assert unsaid.status_code == 422
    assert "say why: checked tests print this" in unsaid.text
    corrected |= {"reason": "two lots now"}
    assert client.post("/projects/1", data=corrected, follow_redirects=False).status_code == 303
    said = printed(client, f"/tests/{LIQUID_LIMIT_B1}/sheet.pdf")
    assert "order R-118/26" in said
    assert "Harrow Mere bypass, lot 2" in said
    again = client.post("/projects", data={"name": "harrow mere BYPASS, lot 2"})
    assert again.status_code == 422
    assert "there is “Harrow Mere bypass, lot 2” already" in again.text
    assert client.post("/projects/2", data=corrected).status_code == 422


def test_remarks_are_readings_like_any_other(client):
    client.post(f"/api/tests/{LIQUID_LIMIT_B1}/move", json={"action": "reopen", "reason": "a remark to add"})
    sheet = client.get(f"/api/tests/{LIQUID_LIMIT_B1}/sheet").json()
    words = "Paste was stiff.\nTwo stones of 3 mm taken out."
    change = {"base_revision": sheet["revision"], "cells": {"remarks": words}, "save_key": "remarks-1"}
    reply = client.post(f"/api/tests/{LIQUID_LIMIT_B1}/save", json=change)
    assert reply.status_code == 200, reply.text
    assert reply.json()["remarks"] == words
    assert client.get(f"/tests/{LIQUID_LIMIT_B1}/bench.json").json()["readings"]["remarks"] == words
    said = printed(client, f"/tests/{LIQUID_LIMIT_B1}/sheet.pdf")
    assert "Remarks Paste was stiff. Two stones of 3 mm taken out." in said


def test_who_checked_stands_with_the_function(app):
    manager = signed_in(app, "manager")
    with Session(app.state.engine) as session:
        who = session.exec(select(Check.who).where(Check.test_id == LIQUID_LIMIT_B1)).one()
        number = session.exec(select(Person.id).where(Person.name == who)).one()
    assert f"checked {who} 2" in printed(manager, f"/tests/{LIQUID_LIMIT_B1}/sheet.pdf"), "the day follows the name"
    told = {"role": "checker", "function": "head of laboratory"}
    assert manager.post(f"/people/{number}/role", data=told, follow_redirects=False).status_code == 303
    assert f"checked {who}, head of laboratory 2" in printed(manager, f"/tests/{LIQUID_LIMIT_B1}/sheet.pdf")
    with Session(app.state.engine) as session:
        assert signed_as(session, "nobody known") == "nobody known"
        session.add(Person(name="M. Rowan", role="manager"))
        assert signed_as(session, "M. Rowan") == "M. Rowan, manager"


@pytest.fixture(scope="module")
def long_report(demo_database, tmp_path_factory):
    """All sheets of a project in one report, without their figures, which would take most of the time to set."""
    database = tmp_path_factory.mktemp("long") / "lab.sqlite"
    with closing(sqlite3.connect(demo_database)) as source, closing(sqlite3.connect(database)) as copy:
        source.backup(copy)
    blank = Picture("", "", '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="400"/>')
    with pytest.MonkeyPatch.context() as patch, Session(open_database(database)) as session:
        patch.setattr(Picture, "of", lambda *_: blank)
        project = session.get(Test, COMPACTION_G1).ground.project
        wanted = Wanted(title="All", chapters=["tests"], final=False)
        return make(session, project, wanted, "R-1", "checker", lambda *_: None)


def test_every_page_of_a_sheet_in_a_report_says_which_it_is(long_report):
    """Sheets of two and more pages among others: page x of y of the sheet, beside the page of the report."""
    made = long_report
    document = PdfReader(io.BytesIO(made))
    pages = [re.sub(r"\s+", " ", page) for page in pages_of(made)]
    # More parts than are set at once: numbered through, with a bookmark for each part.
    assert [f"page {i} of {len(pages)}" in page for i, page in enumerate(pages, 1)] == [True] * len(pages)
    assert ["end of the report" in page for page in pages] == [False] * (len(pages) - 1) + [True]
    assert len([one for one in document.outline if not isinstance(one, list)]) > SHORT
    own = [re.search(r"sheet ([\d.]+), page (\d+) of (\d+)", page) for page in pages]
    found = [(m[1], int(m[2]), int(m[3])) for m in own if m]
    assert len(found) > 20
    by_sheet = {}
    for number, page, of in found:
        by_sheet.setdefault(number, []).append((page, of))
    for number, of_sheet in by_sheet.items():
        assert of_sheet == [(i, len(of_sheet)) for i in range(1, len(of_sheet) + 1)], number
    assert max(len(one) for one in by_sheet.values()) > 1


def test_the_contents_of_a_long_report_name_every_part_and_lead_there(long_report):
    """They named the parts that were set with the cover, and ended there: thirty of two hundred and forty."""
    document = PdfReader(io.BytesIO(long_report))
    parts = [part for part in document.outline if not isinstance(part, list)]
    begins = [document.get_destination_page_number(part) for part in parts]
    assert len(parts) > SHORT
    pages = [re.sub(r"\s+", " ", page) for page in pages_of(long_report)]
    opening = " ".join(pages[: begins[0]])
    for part, page in zip(parts, begins, strict=True):
        assert re.search(rf"{re.escape(part.title)} [. ]+ {page + 1}\b", opening), part.title
        assert part.title in pages[page]
    links = [link.get_object() for page in document.pages[: begins[0]] for link in page.get("/Annots", [])]
    numbers = {page.indirect_reference.idnum: i for i, page in enumerate(document.pages)}
    assert [numbers[link["/Dest"][0].idnum] for link in links] == begins
    assert document.metadata.title == "All R-1"
    assert document.trailer["/Root"]["/Lang"] == "en"

"""Reports: chosen, made in a process of their own, cancelled, issued and frozen; sheets of samples and logs."""

import hashlib
import io
import re
import time

import pytest
from pypdf import PdfReader
from sqlmodel import select

from tests.command_line import vadum
from tests.laboratory import LIQUID_LIMIT_U2
from tests.printed import pages_of, words_of
from tests.web.hands import signed_in
from vadum.records.archive import bring_in, export, preview
from vadum.records.database import open_database, session_on
from vadum.records.doctor import troubles
from vadum.records.tables import Project, Report, Test
from vadum.report import job
from vadum.report.numbering import next_number
from vadum.report.wanted import MOST_SHEETS
from vadum.web.pages.reports import routes

TP4 = 1


class Here:
    """Stands for a process: the report is made at once, in this one."""

    def __init__(self, engine, report):
        from pathlib import Path

        job.run(Path(engine.url.database), report.id)

    def poll(self):
        return 0

    def terminate(self):
        pass

    def wait(self, timeout=None):
        return 0


class Never(Here):
    """A process that does not get anywhere."""

    terminated = False

    def __init__(self, engine, report):
        pass

    def poll(self):
        return None

    def terminate(self):
        Never.terminated = True


@pytest.fixture
def at_once(monkeypatch):
    monkeypatch.setattr(routes, "start", Here)


def order(client, **form):
    typed = {
        "title": "Ground report",
        "chapters": ["summary", "tests"],
        "final": "true",
        "locations": [str(TP4)],
    } | form
    return client.post("/projects/1/reports", data=typed, follow_redirects=False)


def number_of(reply):
    assert reply.status_code == 303, reply.text
    return int(reply.headers["location"].rsplit("/", 1)[1])


def pdf(client, number):
    reply = client.get(f"/reports/{number}/report.pdf")
    assert reply.status_code == 200
    assert hashlib.sha256(reply.content).hexdigest() == reply.headers["x-sha256"]
    return reply.content


def outline(file):
    """Return the first level of the bookmarks of a PDF, of its bytes or its path."""
    reader = PdfReader(io.BytesIO(file) if isinstance(file, bytes) else file)
    return [entry.title for entry in reader.outline if not isinstance(entry, list)]


def test_a_report_is_made_in_a_process_of_its_own_while_the_page_asks(client):
    number = number_of(order(client))
    for _ in range(480):
        view = client.get(f"/api/reports/{number}").json()
        if view["state"] not in ("waiting", "running"):
            break
        time.sleep(0.25)
    assert view["state"] == "made", view
    assert view["done"] == view["steps"] > 10
    assert view["pages"] == len(pages_of(pdf(client, number)))


def test_chapters_stand_in_the_order_chosen_and_page_numbers_run_through(client, at_once):
    report = pdf(client, number_of(order(client, chapters=["tests", "logs", "samples", "summary"])))
    titles = outline(report)
    where = [
        next(i for i, t in enumerate(titles) if wanted in t)
        for wanted in ("Liquid limit, TP4 B1", "Log of TP4", "TP4 B1", "Summary")
    ]
    assert where[0] < where[1]
    assert where[-1] == len(titles) - 1
    pages = pages_of(report)
    assert f"page {len(pages)} of {len(pages)}" in " ".join(pages[-1].split())
    assert PdfReader(io.BytesIO(report)).trailer["/Root"]["/MarkInfo"]["/Marked"]
    assert "Draft. Not issued" in words_of(report)


def test_the_scope_is_kept(client, at_once):
    final = pdf(client, number_of(order(client, methods=["liquid-limit"], chapters=["tests"])))
    sheets = outline(final)
    assert sheets
    assert all(t.startswith("Liquid limit, TP4") for t in sheets)
    every = pdf(client, number_of(order(client, methods=["liquid-limit"], chapters=["tests"], final="")))
    assert len(outline(every)) > len(sheets), "unfinished ones too"


def test_single_samples_may_be_chosen(client, at_once):
    form = {"locations": [], "samples": ["1", "5"], "chapters": ["samples", "tests"]}
    report = pdf(client, number_of(order(client, **form)))
    titles = outline(report)
    assert titles[:2] == ["TP4 B1", "BH2 U1"]
    assert len(titles) > 4
    assert all("TP4 B1" in title or "BH2 U1" in title for title in titles)
    assert "all locations, of them TP4 B1, BH2 U1" in words_of(report)


def test_derivation_and_uncertainty_are_printed_on_request_only(client, at_once):
    plain = words_of(pdf(client, number_of(order(client, methods=["water-content"], chapters=["tests"]))))
    rich = words_of(
        pdf(
            client,
            number_of(
                order(client, methods=["water-content"], chapters=["tests"], derivation="true", uncertainty="true")
            ),
        )
    )
    assert "Derivation" not in plain
    assert "expanded uncertainty" not in plain
    assert "Derivation" in rich
    assert "± or ×/÷ is the expanded uncertainty of about 95 %" in rich
    assert "repeatability 2.7 % of the value (ASTM D2216, single operator)" in rich


def test_long_records_are_named_and_printed_on_request(client, at_once):
    form = {"locations": ["2", "4"], "methods": ["triaxial", "direct-shear"], "chapters": ["tests"]}
    short = pdf(client, number_of(order(client, **form)))
    long = pdf(client, number_of(order(client, **form, records="true")))
    assert re.search(r"\d+ rows, on the sheet of this test", words_of(short))
    assert len(pages_of(long)) > len(pages_of(short))


@pytest.mark.parametrize(
    ("form", "said"),
    [
        ({"title": ""}, "give the report a title"),
        ({"title": "x" * 121}, "title"),
        ({"chapters": []}, "choose what the report contains"),
        ({"chapters": ["gossip"]}, "contains"),
        ({"methods": ["astrology"]}, "there is no method astrology"),
        ({"methods": ["lime-demand"], "chapters": ["tests"]}, "nothing to report"),
        ({"order": "sideways"}, "order"),
    ],
)
def test_what_cannot_be_made_is_said_and_what_was_chosen_stays(client, form, said):
    reply = order(client, **form)
    assert reply.status_code == 422
    assert said in reply.text
    if "title" not in form:
        assert 'value="Ground report"' in reply.text


def test_no_more_sheets_than_fit_into_memory(client, monkeypatch):
    monkeypatch.setattr(job, "MOST_SHEETS", 3)
    assert MOST_SHEETS >= 100
    reply = order(client)
    assert reply.status_code == 422
    assert "too many for one report, at most 3" in reply.text
    monkeypatch.setattr(routes, "start", Here)
    number_of(order(client, chapters=["summary"]))


def test_a_cancelled_report_stops_and_leaves_nothing(client, monkeypatch):
    monkeypatch.setattr(routes, "start", Never)
    number = number_of(order(client))
    assert client.get(f"/api/reports/{number}").json()["state"] == "waiting"
    assert client.post(f"/reports/{number}/cancel", follow_redirects=False).status_code == 303
    assert Never.terminated
    assert client.get(f"/api/reports/{number}").json()["state"] == "cancelled"
    assert client.get(f"/reports/{number}/report.pdf").status_code == 404


def test_a_job_hears_of_the_cancel_between_two_parts(client, database, monkeypatch):
    monkeypatch.setattr(routes, "start", Never)
    monkeypatch.setattr(job, "_TELL_S", 0.0)
    number = number_of(order(client, chapters=["tests"]))
    seen = []
    original = job.Session.commit

    def commit(session):
        original(session)
        report = next((o for o in session.identity_map.values() if isinstance(o, Report)), None)
        if report is not None and report.done == 3 and report.state == "running":
            seen.append(report.done)
            client.post(f"/reports/{number}/cancel")

    monkeypatch.setattr(job.Session, "commit", commit)
    job.run(database, number)
    assert seen == [3]
    view = client.get(f"/api/reports/{number}").json()
    assert (view["state"], view["done"]) == ("cancelled", 3)


def test_a_cancelled_report_takes_with_it_what_it_gathered(client, tmp_path, monkeypatch):
    """Readings and figures of the project lay in the machine's folder for passing things until somebody emptied it."""
    monkeypatch.setenv("TMPDIR", str(tmp_path))
    number = number_of(order(client, chapters=["tests"]))

    def gathering():
        return len(list(tmp_path.glob("vadum-*/part-*.json"))) > 2

    for _ in range(2400):
        if gathering():
            break
        time.sleep(0.05)
    assert gathering()
    client.post(f"/reports/{number}/cancel")
    assert client.get(f"/api/reports/{number}").json()["state"] == "cancelled"
    assert list(tmp_path.glob("vadum-*")) == []


def test_no_more_than_three_at_once(client, monkeypatch):
    monkeypatch.setattr(routes, "start", Never)
    numbers = [number_of(order(client)) for _ in range(3)]
    reply = order(client)
    assert reply.status_code == 422
    assert "3 reports are being made" in reply.text
    client.post(f"/reports/{numbers[0]}/cancel")
    number_of(order(client))


def test_a_report_whose_process_is_gone_is_not_waited_for(client, monkeypatch):
    monkeypatch.setattr(
        routes, "start", lambda engine, report: type("Gone", (Never,), {"poll": lambda self: 1})(engine, report)
    )
    number = number_of(order(client))
    view = client.get(f"/api/reports/{number}").json()
    assert view["state"] == "failed"
    assert "make it again" in view["said"]


def test_a_draft_says_what_changed_since_and_can_be_removed(client, at_once, database):
    number = number_of(order(client, final=""))
    page = client.get(f"/reports/{number}").text
    assert "Changed since" not in page
    assert "Contains summary of the project, sheet of each test." in page
    listed = client.get("/projects/1/reports").text
    assert re.search(r">made, \d{4}-\d\d-\d\d \d\d:\d\d [A-Z]+[^ ]* by [^<]+, \d+ pages<", listed)
    with session_on(open_database(database)) as session:
        revision = session.get(Test, 7).revision
    body = {"base_revision": revision, "save_key": "key-of-a-save", "cells": {"trials.0.blows": "24"}}
    assert client.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body).status_code == 200
    page = client.get(f"/reports/{number}").text
    assert "Changed since it was made" in page
    assert f'href="/tests/{LIQUID_LIMIT_U2}"' in page
    client.post(f"/reports/{number}/remove")
    assert client.get(f"/reports/{number}").status_code == 404


@pytest.fixture
def people(app):
    return {name: signed_in(app, name) for name in ("technician", "checker", "manager", "reader")}


def test_only_what_a_second_person_checked_is_issued_and_it_stays_as_it_was(people, app, at_once):
    technician, checker = people["technician"], people["checker"]
    number = number_of(order(technician, methods=["liquid-limit"]))
    assert technician.post(f"/reports/{number}/issue").status_code == 403
    assert order(technician, issue="true").status_code == 403
    refused = checker.post(f"/reports/{number}/issue", follow_redirects=False)
    assert refused.status_code == 422
    assert "not checked, not reportable" in refused.text
    with session_on(app.state.engine) as session:
        waiting = session.exec(select(Test.id).where(Test.method == "liquid-limit", Test.state == "reduced")).all()
    for test in waiting:
        assert people["manager"].post(f"/api/tests/{test}/move", json={"action": "check"}).status_code == 200
    issued = number_of(checker.post(f"/reports/{number}/issue", follow_redirects=False))
    view = checker.get(f"/api/reports/{issued}").json()
    assert view["state"] == "issued"
    assert re.fullmatch(r"R20\d\d-0001", view["number"])
    words = words_of(pdf(people["reader"], issued))
    assert f"Report {view['number']}, issued" in words
    assert "Draft" not in words
    before = checker.get(f"/reports/{issued}/report.pdf").content
    checker.post(f"/reports/{issued}/remove")
    checker.post(f"/reports/{issued}/cancel")
    assert checker.get(f"/reports/{issued}/report.pdf").content == before
    assert checker.get(f"/api/reports/{issued}").json()["state"] == "issued"
    again = number_of(checker.post(f"/reports/{number}/issue", follow_redirects=False))
    assert checker.get(f"/api/reports/{again}").json()["number"].endswith("-0002")


def test_a_draft_that_does_not_show_what_is_on_record_is_not_issued(client, at_once, database):
    """The bank is checked whole: a reading put right and checked again since is told otherwise than in the draft."""
    form = {"title": "The bank", "chapters": ["summary"], "final": "true"}
    draft = number_of(client.post("/projects/3/reports", data=form, follow_redirects=False))
    assert client.get(f"/api/reports/{draft}").json()["state"] == "made"
    with session_on(open_database(database)) as session:
        test = session.exec(
            select(Test.id).where(Test.method == "water-content", Test.state == "checked").order_by(Test.id.desc())
        ).first()
    address = f"/api/tests/{test}"
    client.post(f"{address}/move", json={"action": "reopen", "reason": "a tin misread"})
    cells = client.get(f"/tests/{test}/bench.json").json()["readings"]
    mass = next(iter(cells.values()))[0]["mass_tin_dry_g"]
    sheet = client.get(f"{address}/sheet").json()
    put = {f"{sheet['tables'][0]['name']}.0.mass_tin_dry_g": f"{mass - 0.2:.2f}"}
    body = {"base_revision": sheet["revision"], "save_key": "the-tin-put-right", "cells": put}
    assert client.post(f"{address}/save", json=body).status_code == 200
    client.post("/who", data={"role": "manager"})
    client.post(f"{address}/move", json={"action": "done"})
    client.post("/who", data={"role": "checker"})
    assert client.post(f"{address}/move", json={"action": "check"}).status_code == 200
    refused = client.post(f"/reports/{draft}/issue", follow_redirects=False)
    assert refused.status_code == 422
    assert f"does not show what is on record now of {test} (" in refused.text
    again = number_of(client.post("/projects/3/reports", data=form, follow_redirects=False))
    assert "does not show" not in client.post(f"/reports/{again}/issue", follow_redirects=False).text


def test_a_reader_looks_and_makes_nothing(people):
    assert people["reader"].get("/projects/1/reports").status_code == 200
    assert order(people["reader"]).status_code == 403


def test_a_sample_sheet_says_what_the_card_says(client):
    reply = client.get("/samples/3/sheet.pdf")
    said = words_of(reply.content)
    for part in ("TP4 B3", "2.40–2.70 m", "CL", "Lean clay with sand", "78.1", "Hydrometer analysis"):
        assert part in said
    whole = client.get("/samples/3/sheet.pdf?tests=true").content
    assert {"TP4 B3", "Liquid limit", "Classification"} <= set(outline(whole))


def test_a_log_has_the_ground_and_the_tests_in_it(client):
    said = words_of(client.get("/locations/1/log.pdf").content)
    for part in ("Log of TP4", "brown fissured", "B1", "CBR in the ground"):
        assert part in said
    assert client.get("/locations/999/log.pdf").status_code == 404


def test_a_database_keeps_its_reports(client, at_once, database):
    number = number_of(order(client, chapters=["summary"]))
    with session_on(open_database(database)) as session:
        report = session.get(Report, number)
        assert report.wanted["title"] == "Ground report"
        assert report.revisions
        assert hashlib.sha256(report.data).hexdigest() == report.sha256


@pytest.mark.parametrize(
    ("given", "number"),
    [
        ([], "R2026-0001"),
        (["R2026-0007", "R2026-0002"], "R2026-0008"),
        (["R2026-0007 (archive 4)", "R2025-0040", "draft 12"], "R2026-0008"),
        (["R2026-9999"], "R2026-10000"),
    ],
)
def test_numbers_go_on_after_the_largest_of_the_year(given, number):
    assert next_number("R2026-", given) == number


def _issued(client, session):
    """Issue a report of the bank, of which everything is checked."""
    form = {"title": "The bank", "chapters": ["summary"], "final": "true", "issue": "true"}
    number = number_of(client.post("/projects/3/reports", data=form, follow_redirects=False))
    return session.get(Report, number)


def test_an_issued_report_goes_with_the_archive_as_it_is(client, at_once, database):
    with session_on(open_database(database)) as session:
        kept = _issued(client, session)
        assert kept.state == "issued", kept.said
        data = export(session, session.get(Project, 3))
        assert preview(session, data).counts["issued reports"] == 1
        bring_in(session, data)
        twice = session.exec(select(Report).where(Report.state == "issued").order_by(Report.id)).all()
        assert [r.data for r in twice] == [kept.data, kept.data]
        assert twice[1].number.startswith(kept.number + " (archive")
        # And the next one is numbered after it.
        assert _issued(client, session).number == next_number(kept.number[:6], [kept.number])


def test_the_doctor_sees_a_report_that_was_changed(client, at_once, database):
    with session_on(open_database(database)) as session:
        report = _issued(client, session)
        assert list(troubles(session)) == []
        report.data = report.data[:-1] + b"x"
        session.commit()
        (said,) = troubles(session)
        assert report.number in said


def test_from_the_command_line(database, tmp_path):
    target = tmp_path / "bank.pdf"
    done = vadum("report", 3, target, "--chapters", "logs,summary", database=database)
    assert done.returncode == 0, done.stderr
    assert outline(target)[0] == "Log of FB1"
    for wrong in ((99, target), (3, target, "--chapters", "gossip")):
        done = vadum("report", *wrong, database=database)
        assert done.returncode == 2
        assert done.stderr

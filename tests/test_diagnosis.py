"""What went wrong is kept whole: a log beside the laboratory, a number on the page that leads to it."""

import json
import logging
import re

import pytest
from fastapi.testclient import TestClient
from sqlmodel import select

from tests.command_line import vadum
from vadum.diagnosis import keep_log, log_of
from vadum.records.database import open_database, session_on
from vadum.records.tables import Project, Report
from vadum.report import job
from vadum.web.app import create_app


@pytest.fixture
def laboratory(tmp_path):
    yield tmp_path / "lab.sqlite"
    mine = logging.getLogger("vadum")
    for handler in list(mine.handlers):
        mine.removeHandler(handler)
        handler.close()


def test_a_failure_nobody_foresaw_says_its_number_and_stands_whole_in_the_log(laboratory, monkeypatch):
    keep_log(laboratory)
    app = create_app(laboratory)
    monkeypatch.setattr("vadum.web.pages.board.routes.page", lambda *_, **__: 1 / 0)
    answer = TestClient(app, raise_server_exceptions=False).get("/board")
    assert answer.status_code == 500
    number = re.search(r"in the log under (\w{8})", answer.text)[1]
    log = log_of(laboratory).read_text()
    assert number in log
    assert "ZeroDivisionError" in log
    assert "Traceback" in log
    assert log_of(laboratory).stat().st_mode & 0o077 == 0


def test_every_answer_carries_its_number_and_requests_are_logged_when_asked_for(laboratory):
    keep_log(laboratory, structured=True, requests=True)
    client = TestClient(create_app(laboratory))
    number = client.get("/api/methods").headers["x-request-id"]
    lines = [json.loads(line) for line in log_of(laboratory).read_text().splitlines()]
    (line,) = [line for line in lines if line["request"] == number]
    assert re.match(r"GET /api/methods 200 [\d.]+ ms", line["message"])


def test_without_asking_no_request_is_logged(laboratory):
    keep_log(laboratory)
    TestClient(create_app(laboratory)).get("/api/methods")
    assert log_of(laboratory).read_text() == ""


def test_what_breaks_a_report_is_kept_whole(laboratory, monkeypatch):
    with session_on(open_database(laboratory)) as session:
        project = Project(name="Low Weir", client="nobody")
        session.add(project)
        session.commit()
        session.add(Report(project_id=project.id, title="All", wanted={}, who="technician 1"))
        session.commit()
        (report,) = session.exec(select(Report)).all()
        number = report.id
    monkeypatch.setattr(job, "_made", lambda *_: {}["no such chapter"])
    job.run(laboratory, number)
    assert "KeyError: 'no such chapter'" in log_of(laboratory).read_text()
    with session_on(open_database(laboratory)) as session:
        assert session.get(Report, number).state == "failed"


def test_the_doctor_says_versions_and_the_end_of_the_log(laboratory):
    keep_log(laboratory)
    open_database(laboratory).dispose()
    logging.getLogger("vadum.tried").warning("the balance did not answer")
    said = vadum("doctor", "--verbose", "--database", str(laboratory)).stdout
    assert re.search(r"vadum \d+\.\d+", said)
    assert "numpy" in said
    assert "the balance did not answer" in said
    assert "all holds together" in said

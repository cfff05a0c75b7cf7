"""What a sheet says of itself: for whom, when it was tested by its own times, and where it ends."""

import re
from datetime import timedelta

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, WELL_PERMEAMETER_W1
from tests.printed import pages_of
from vadum.records.database import open_database
from vadum.records.tables import Project, Revision, Test
from vadum.report.sheet import sheet_of


def text(client, test):
    return pages_of(client.get(f"/tests/{test}/sheet.pdf").content)


def particulars(database, test):
    with Session(open_database(database)) as session:
        return dict(sheet_of(session, session.get(Test, test)).data["particulars"][:10])


@pytest.mark.parametrize("test", [LIQUID_LIMIT_B1, WELL_PERMEAMETER_W1])
def test_the_client_stands_behind_the_project(database, test):
    found = particulars(database, test)
    assert list(found)[:2] == ["project", "client"]
    with Session(open_database(database)) as session:
        assert found["client"] == session.get(Project, 1).client


def test_a_project_without_a_client_has_no_line_for_it(database):
    with Session(open_database(database)) as session:
        project = session.get(Project, 1)
        project.client = ""
        session.add(project)
        session.commit()
    assert "client" not in particulars(database, LIQUID_LIMIT_B1)


def test_it_was_tested_from_the_first_reading_to_the_last(database):
    """Equipment, a check or an issue later on is no day of the test."""
    with Session(open_database(database)) as session:
        revisions = session.exec(
            select(Revision).where(Revision.test_id == LIQUID_LIMIT_B1).order_by(Revision.number)
        ).all()
        last = revisions[-1].at
        revisions[0].at = last - timedelta(days=3)
        session.add(revisions[0])
        session.commit()
        first = revisions[0].at.date().isoformat()
    said = particulars(database, LIQUID_LIMIT_B1)["tested"]
    assert said.startswith(first)
    assert re.fullmatch(r"\d{4}-\d\d-\d\d( to \d{4}-\d\d-\d\d)?", said)


def test_a_planned_test_has_no_day(database):
    with Session(open_database(database)) as session:
        planned = session.exec(select(Test).where(Test.state == "planned", Test.revision == 0)).first()
        assert "tested" not in dict(sheet_of(session, planned).data["particulars"])


def test_the_last_page_says_that_it_is_the_last(client):
    *others, last = text(client, LIQUID_LIMIT_B1)
    assert "end of the sheet" in last
    assert not any("end of the sheet" in page for page in others)

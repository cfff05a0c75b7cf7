"""A project's tests planned on one page: a list of samples, ticks, the soil they ask for, whole or not at all."""

import pytest
from sqlmodel import Session, func, select

from tests.web.hands import signed_in
from tests.web.test_units import printed
from vadum.records.database import open_database
from vadum.records.tables import Location, Project, Sample, Test

PAGE = "/projects/2/schedule"
LIST = "location;sample;kind;from;to;mass\nTP9;B1;bag;0,5;0,8;4200\nTP9;U2;tube;1,1;1,5;2,6 kg\nP1;B7;bag;0.2;0.4;30000"


@pytest.fixture
def session(database):
    with Session(open_database(database)) as session:
        yield session


def count(session, table):
    session.expire_all()
    return session.exec(select(func.count()).select_from(table)).one()


def plan(client, *ticked, text="", **more):
    form = {"text": text, "plan": list(ticked), "save": "yes", "kind": "borehole"} | more
    return client.post(PAGE, data=form, follow_redirects=False)


def test_a_list_is_looked_at_before_anything_is_kept(client, session):
    before = count(session, Sample)
    page = client.post(PAGE, data={"text": LIST}).text
    assert "TP9 B1" in page
    assert 'value="n0:water-content"' in page
    assert count(session, Sample) == before


def test_samples_locations_and_tests_come_in_at_once(client, session):
    before = [count(session, table) for table in (Location, Sample, Test)]
    ticked = ["n0:water-content", "n0:liquid-limit", "n1:unconfined", "n2:compaction", "s7:water-content"]
    assert plan(client, *ticked, text=LIST).status_code == 303
    assert [count(session, table) for table in (Location, Sample, Test)] == [
        before[0] + 1,
        before[1] + 3,
        before[2] + 5,
    ]
    place = session.exec(select(Location).where(Location.name == "TP9")).one()
    assert (place.kind, place.depth_m, place.project_id) == ("borehole", 1.5, 2)
    tube = session.exec(select(Sample).where(Sample.name == "U2", Sample.location_id == place.id)).one()
    assert (tube.top_m, tube.base_m, tube.mass_g, tube.kind) == (1.1, 1.5, 2600, "tube")
    assert [test.method for test in tube.tests] == ["unconfined"]
    there = session.exec(select(Sample).where(Sample.name == "B7")).one()
    assert there.location.name == "P1", "a location that is there is taken, whatever else it holds"


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("TP9;B1", "Line 2: location, name, kind, from and to"),
        ("TP9;B1;bucket;0.5;0.8", "“bucket” is no kind of sample"),
        ("TP9;B1;bag;0.8;0.5", "is above the upper"),
        ("TP9;B1;bag;deep;0.5", "Line 2, top m"),
        ("P1;D1;jar;0.5;0.8", "there is “D1” at P1 already"),
        ("P1;B9;bag;90;91", "P1 is "),
        ("TP8;B1;bag;0.5;0.8", "there is “B1” at TP8 already"),
    ],
)
def test_with_one_bad_line_nothing_comes_in(client, session, line, words):
    before = [count(session, table) for table in (Location, Sample, Test)]
    text = f"TP8;B1;bag;0.2;0.4\n{line}"
    reply = plan(client, "n0:water-content", text=text)
    assert reply.status_code == 422
    assert words in reply.text
    assert "TP8;B1;bag;0.2;0.4" in reply.text, "what was pasted stands there"
    assert 'value="n0:water-content"' in reply.text
    assert [count(session, table) for table in (Location, Sample, Test)] == before


def test_what_the_soil_does_not_reach_for_is_asked_first(client, session):
    before = count(session, Test)
    text = "TP9;B1;bag;0.5;0.8;300"
    reply = plan(client, "n0:compaction", text=text)
    assert reply.status_code == 409
    assert "Not enough soil" in reply.text
    assert "TP9 B1: " in reply.text
    assert count(session, Test) == before
    assert plan(client, "n0:compaction", text=text, anyway="yes").status_code == 303
    assert count(session, Test) == before + 1


def test_ticks_that_name_nothing_plan_nothing(client, session):
    before = count(session, Test)
    assert plan(client, "s1:water-content", "s99999:sieve", "n4:sieve", "s7:phrenology", "nonsense").status_code == 303
    assert count(session, Test) == before, "sample 1 is of another project"


def test_a_reader_plans_nothing(app):
    reader = signed_in(app, "reader")
    assert "Schedule" not in reader.get("/projects/2").text
    assert reader.post(PAGE, data={"save": "yes", "plan": "s7:sieve"}).status_code == 403


def test_what_the_client_asks_heads_it_and_follows_to_the_sheet(client, session):
    project = session.get(Project, 2)
    asked = {"order_number": "R-7", "wanted_by": "2026-12-11", "standard": "EN ISO 17892", "report_to": "site office"}
    form = {"name": project.name, "client": project.client, "note": project.note, "reason": "said by telephone"}
    assert client.post("/projects/2", data=form | asked, follow_redirects=False).status_code == 303
    page = client.get(PAGE).text
    assert all(words in page for words in asked.values())
    test = session.exec(select(Test).join(Sample).join(Location).where(Location.project_id == 2)).first()
    sheet = printed(client, test.id)
    assert "asked by EN ISO 17892" in sheet
    assert "report to site office" in sheet
    assert "wanted by" in client.get("/projects/2").text


def test_a_day_that_is_none_is_said_and_nothing_typed_is_lost(client, session):
    reply = client.post("/projects", data={"name": "Low Weir", "wanted_by": "soon"})
    assert reply.status_code == 422
    assert 'value="soon"' in reply.text
    assert session.exec(select(Project).where(Project.name == "Low Weir")).first() is None

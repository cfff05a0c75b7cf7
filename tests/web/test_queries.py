"""How often a page asks the database: as often with sixty locations as with nine, and not often at all."""

import re
from collections import Counter
from contextlib import contextmanager

import pytest
from sqlalchemy import event
from sqlmodel import Session

from tests.web.hands import signed_in
from vadum.records.tables import Location, Sample, Stratum, Test

# At most so often, with who asks and what it is told.
MOST = 12
PAGES = (
    "/",
    "/board",
    "/plan",
    "/search?q=clay",
    "/projects/1",
    "/projects/1/schedule",
    "/projects/1/summary",
    "/projects/1/infiltration",
    "/projects/1/positions",
    "/projects/1/densities",
    "/projects/1/reports",
    "/tests/7",
    "/tests/7/sheet",
    "/samples/3",
    "/equipment",
    "/equipment/1",
    "/locations/1",
    "/duplicates",
    "/people",
    "/people/2/competence",
    "/letterhead",
    "/practice",
    "/api/board",
)
# Of pages of one shape so many are opened; worksheets and run modes of every test.
ALIKE, EVERY = 4, re.compile(r"/tests/\d+(/run)?")
NO_PAGES = re.compile(r"\.(pdf|csv|xlsx|json|geojson|ags|zip|svg|ics)$|/files/")


@contextmanager
def counted(app):
    asked = []

    def note(_connection, _cursor, statement, *_):
        asked.append(statement)

    event.listen(app.state.engine, "before_cursor_execute", note)
    yield asked
    event.remove(app.state.engine, "before_cursor_execute", note)


def counts(app, client):
    found = {}
    for page in PAGES:
        with counted(app) as asked:
            assert client.get(page).status_code == 200
        found[page] = len(asked)
    return found


@pytest.fixture
def grown(app):
    """Fifty more locations in the first project, each with a layer, a sample and two tests."""

    def grow():
        with Session(app.state.engine) as session:
            for k in range(50):
                place = Location(project_id=1, name=f"Z{k}", depth_m=3.0)
                session.add(place)
                session.flush()
                sample = Sample(location_id=place.id, name="B1", kind="bag", top_m=1.0, base_m=1.5)
                session.add_all([sample, Stratum(location_id=place.id, top_m=0.0, base_m=3.0, description="clay")])
                session.flush()
                session.add(Test(method="water-content", sample_id=sample.id, state="running"))
                session.add(Test(method="dynamic-cone", location_id=place.id))
            # And thirty samples more in the hole of the worksheet's own, each with soil in a tin.
            hole = session.get(Test, 7).sample.location_id
            for k in range(30):
                session.add(sample := Sample(location_id=hole, name=f"Y{k}", kind="bag", top_m=2 + k / 50, base_m=3))
                session.flush()
                tin = {"tin": f"Y-{k}", "mass_tin_g": 20.0, "mass_tin_wet_g": 60.0}
                kept = {"determinations": [tin]}
                session.add(Test(method="water-content", sample_id=sample.id, state="running", kept=kept))
            session.commit()

    return grow


def test_a_page_asks_no_more_with_more_on_record(app, grown):
    client = signed_in(app, "manager")
    before = counts(app, client)
    grown()
    after = counts(app, client)
    # One more where there was nothing of a kind before.
    assert {page: (before[page], after[page]) for page in PAGES if after[page] > before[page] + 1} == {}
    assert {page: count for page, count in after.items() if count > MOST} == {}


def test_no_page_that_a_link_leads_to_asks_more_than_twelve_times(app):
    client, todo, seen, shapes, asking = signed_in(app, "manager"), list(PAGES), set(), Counter(), {}
    while todo:
        page = todo.pop()
        path = page.partition("?")[0]
        shape = re.sub(r"\d+", "N", path)
        # Of the card that a walk shows on any page the next test asks.
        if page in seen or "tour=" in page or NO_PAGES.search(path):
            continue
        if shapes[shape] == ALIKE and not EVERY.fullmatch(path):
            continue
        seen.add(page)
        shapes[shape] += 1
        with counted(app) as asked:
            reply = client.get(page, follow_redirects=False)
        if "text/html" in reply.headers.get("content-type", ""):
            asking[page] = len(asked)
            todo += [link.replace("&amp;", "&") for link in re.findall(r'href="(/[^"#]*)', reply.text)]
    assert len(asking) > 120
    assert {page: count for page, count in asking.items() if count > MOST} == {}


def test_the_card_of_a_walk_asks_once_where_it_goes(app):
    client = signed_in(app, "manager")
    for page in ("/?tour=1", "/board?tour=bench.1", "/samples/3?tour=engineer.1"):
        counted_twice = []
        for _ in range(2):
            with counted(app) as asked:
                assert client.get(page).status_code == 200
            counted_twice.append(len(asked))
        with counted(app) as asked:
            client.get(page.partition("?")[0])
        assert counted_twice[0] > counted_twice[1] == len(asked) <= MOST


def test_the_board_reads_no_years_of_checked_tests(app):
    """What waits is found by two indexes; a plan that goes through the table says SCAN."""
    client = signed_in(app, "manager")
    with counted(app) as asked:
        client.get("/board")
    waiting = [statement for statement in asked if "moved AS VARCHAR" in statement]
    assert waiting
    with app.state.engine.connect() as connection:
        for statement in waiting:
            marks = tuple("0" for _ in range(statement.count("?")))
            plan = [row[-1] for row in connection.exec_driver_sql(f"EXPLAIN QUERY PLAN {statement}", marks)]
            assert any("ix_test_moved" in line for line in plan), plan
            assert not any(line.startswith("SCAN test") for line in plan), plan

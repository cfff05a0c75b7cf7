"""How often a page asks the database: as often with sixty locations as with nine, and not often at all."""

import re
from collections import Counter
from contextlib import contextmanager
from pathlib import Path

import pytest
from sqlalchemy import event
from sqlmodel import Session

from tests.laboratory import WATER_CONTENT_B3
from tests.web.hands import save, signed_in
from vadum.records.tables import Location, Project, Sample, Stratum, Test
from vadum.web.app import create_app

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
# These are of all that is on record; the newest inspections are looked for from the last test back.
OF_ALL_YEARS = {"/search?q=clay", "/duplicates", "/people/2/competence", "/equipment"}
# Of pages of one shape so many are opened; worksheets and run modes of every test.
ALIKE, EVERY = 4, re.compile(r"/tests/\d+(/run)?")
NO_PAGES = re.compile(r"\.(pdf|csv|xlsx|json|geojson|ags|zip|svg|ics)$|/files/")


@contextmanager
def counted(app):
    """Yield what is asked, each statement with its parameters."""
    asked = []

    def note(_connection, _cursor, statement, parameters, *_):
        asked.append((statement, parameters))

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
    """Fifty more locations in the first project, each with a layer, a sample and two tests; twenty more projects."""

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
            # Twenty more projects, each with a test that a search for clay finds by its method.
            for k in range(20):
                session.add(project := Project(name=f"Pit {k}"))
                session.flush()
                session.add(place := Location(project_id=project.id, name=f"P{k}", depth_m=3.0))
                session.flush()
                session.add(sample := Sample(location_id=place.id, name="B1", kind="bag", top_m=1.0, base_m=1.5))
                session.flush()
                session.add(Test(method="hydrometer", sample_id=sample.id, state="reduced"))
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


def plan_of(app, statement, parameters):
    with app.state.engine.connect() as connection:
        return [row[-1] for row in connection.exec_driver_sql(f"EXPLAIN QUERY PLAN {statement}", parameters)]


def test_the_board_reads_no_years_of_checked_tests(app):
    """What waits is found by two indexes; a plan that goes through the table says SCAN."""
    client = signed_in(app, "manager")
    with counted(app) as asked:
        client.get("/board")
    waiting = [plan_of(app, *one) for one in asked if "moved AS VARCHAR" in one[0]]
    assert waiting
    for plan in waiting:
        assert any("ix_test_moved" in line for line in plan), plan
        assert not any(line.startswith("SCAN test") for line in plan), plan


def test_what_is_due_reads_again_only_what_was_saved_since(app):
    """Every page asks for it, and the record of a press under way is long."""
    client = signed_in(app, "manager")

    def read():
        with counted(app) as asked:
            due = client.get("/api/board").json()
        readings = [list(parameters) for statement, parameters in asked if "test.readings" in statement]
        return due["oven"], readings

    before, (at_first,) = read()
    assert len(at_first) > 20
    assert read()[1] == []
    # By another process: a second application on the same file knows nothing of what the first has read.
    other = signed_in(create_app(Path(app.state.engine.url.database)), "technician")
    save(other, WATER_CONTENT_B3, cells={"determinations.0.tin": "T-31"})
    after, again = read()
    assert again == [[WATER_CONTENT_B3]]
    tins = [[held["what"] for held in oven if held["test"] == WATER_CONTENT_B3] for oven in (before, after)]
    assert "T-31" in tins[1][0]
    assert "T-31" not in tins[0][0]


def test_practice_is_found_by_its_own_index(app):
    client = signed_in(app, "manager")
    with counted(app) as asked:
        client.get("/practice")
    plans = [plan_of(app, *one) for one in asked if re.search(r"FROM test\b", one[0])]
    assert len(plans) > 1
    assert all(any("ix_test_practice" in line for line in plan) for plan in plans), plans


def test_no_page_goes_through_years_of_tests(app, grown):
    """Neither the whole table nor all that was ever issued is read to draw a page of the day."""
    client = signed_in(app, "manager")
    grown()
    through = set()
    for page in {*PAGES, "/samples/5", "/tests/12", "/tests/20"} - {"/board"}:  # of the board the test before asks
        with counted(app) as asked:
            client.get(page)
        for statement, parameters in asked:
            if statement.lstrip().startswith("SELECT") and any(
                re.match(r"SCAN test\b", line) or ("ix_test_state" in line and "issued" in parameters)
                for line in plan_of(app, statement, parameters)
            ):
                through.add(page)
    assert through <= OF_ALL_YEARS

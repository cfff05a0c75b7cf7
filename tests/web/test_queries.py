"""How often a page asks the database: as often with sixty locations as with nine, and not often at all."""

from contextlib import contextmanager

import pytest
from sqlalchemy import event
from sqlmodel import Session

from tests.web.hands import signed_in
from vadum.records.tables import Location, Sample, Stratum, Test

# At most so often, with who asks and what it is told. What is read of one test's ground is most of a worksheet's.
PAGES = {
    "/": 14,
    "/board": 12,
    "/plan": 6,
    "/search?q=clay": 6,
    "/projects/1": 8,
    "/projects/1/schedule": 8,
    "/projects/1/summary": 8,
    "/projects/1/infiltration": 8,
    "/projects/1/positions": 8,
    "/projects/1/densities": 9,
    "/projects/1/reports": 8,
    "/tests/7": 26,
    "/samples/3": 16,
    "/equipment": 7,
    "/equipment/1": 10,
    "/locations/1": 11,
    "/people": 6,
    "/letterhead": 6,
    "/practice": 4,
    "/api/board": 6,
}


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
    assert {page: count for page, count in before.items() if count > PAGES[page]} == {}
    grown()
    after = counts(app, client)
    # One more where there was nothing of a kind before.
    assert {page: (before[page], after[page]) for page in PAGES if after[page] > before[page] + 1} == {}

"""Two hands at the same moment: while one form is being kept, another is sent."""

import threading

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event
from sqlmodel import Session, select

from tests.laboratory import COMPACTION_G1, LIQUID_LIMIT_D2
from tests.web.hands import save
from vadum.records.database import open_database
from vadum.records.tables import Correction, Equipment, Location, OperationTime, Project, Sample, WorkPlan
from vadum.web.app import create_app

PIT = {"kind": "test pit", "depth_m": "3"}
DENSITY = {"compaction": str(COMPACTION_G1), "least_percent": "95", "drier_percent": "2", "wetter_percent": "2"}


@pytest.fixture
def lab(database):
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        yield client


@pytest.fixture
def slowly(monkeypatch):
    """The first that is about to write something new waits there for half a second, or until the other is through."""
    found = threading.Event(), threading.Event()

    def wait(session, *_):
        reached, through = found
        if session.new and not reached.is_set():
            reached.set()
            through.wait(0.5)

    event.listen(Session, "before_flush", wait)
    yield found
    event.remove(Session, "before_flush", wait)


def sent(lab, slowly, address, one, other, kind="data"):
    """Send two forms, the second while the first is being kept; return what came of each."""
    reached, through = slowly
    came = {}

    def send(which, data):
        came[which] = lab.post(address, **{kind: data}, follow_redirects=False)

    first = threading.Thread(target=send, args=("one", one))
    first.start()
    assert reached.wait(30)
    second = threading.Thread(target=send, args=("other", other))
    second.start()
    second.join(0.5)
    through.set()
    first.join(30)
    second.join(30)
    return came["one"], came["other"]


def every(database, table):
    with Session(open_database(database)) as session:
        return session.exec(select(table)).all()


@pytest.mark.parametrize(
    ("address", "form", "field", "one", "other"),
    [
        ("/projects/1/densities", DENSITY, "least_percent", "97", "93"),
        ("/letterhead", {"address": "1 Mill Lane"}, "name", "High Weir Soils", "Low Weir Soils"),
        ("/zone", {}, "zone", "Europe/Lisbon", "Europe/Paris"),
        ("/locations/1", {"name": "TP9"} | PIT, "depth_m", "4.5", "5.5"),
        ("/samples/1", {"name": "B9", "kind": "bag", "top_m": "0.1"}, "base_m", "0.4", "0.5"),
    ],
)
def test_the_same_changed_by_both_is_told_to_the_second(lab, database, slowly, address, form, field, one, other):
    newest = max((c.id for c in every(database, Correction)), default=0)
    drawn = form | {"seen": str(newest), "reason": "read from the tape again"}
    first, second = sent(lab, slowly, address, drawn | {field: one}, drawn | {field: other})
    assert first.status_code == 303
    assert second.status_code == 422
    assert "changed this meanwhile" in second.text
    assert len([c for c in every(database, Correction) if c.id > newest]) == 1


@pytest.mark.parametrize(
    ("address", "table", "form"),
    [
        ("/projects", Project, {"name": "Low Weir, lift 2"}),
        ("/projects/1/locations", Location, {"name": "TP55"} | PIT),
        ("/locations/1/samples", Sample, {"name": "B55", "kind": "bag", "top_m": "0.1", "base_m": "0.3"}),
        ("/equipment", Equipment, {"name": "T-555", "kind": "tin", "tare_g": "21.40"}),
    ],
)
def test_a_name_given_twice_at_the_same_moment_is_given_once(lab, database, slowly, address, table, form):
    first, second = sent(lab, slowly, address, form, form)
    assert first.status_code == 303
    assert second.status_code == 422
    assert "already" in second.text
    assert len([row for row in every(database, table) if row.name == form["name"]]) == 1


def test_done_said_on_two_devices_at_the_same_moment_is_done_once(lab, database, slowly):
    slowly[0].set()
    save(lab, LIQUID_LIMIT_D2, cells={"state": "natural"})
    slowly[0].clear()
    first, second = sent(lab, slowly, f"/api/tests/{LIQUID_LIMIT_D2}/operations/mix", {}, {})
    assert (first.status_code, second.status_code) == (200, 200)
    said = [one for one in every(database, OperationTime) if one.test_id == LIQUID_LIMIT_D2]
    assert [one.key for one in said] == ["mix"]


def test_a_plan_kept_in_two_tabs_at_the_same_moment_is_kept_once(lab, database, slowly):
    asked = {"tests": [LIQUID_LIMIT_D2], "pinned": {}, "width": 800}
    first, second = sent(lab, slowly, "/api/plan/keep", asked, asked, "json")
    assert (first.status_code, second.status_code) == (200, 200)
    assert len(every(database, WorkPlan)) == 1


def test_what_can_be_there_once_and_came_twice_is_said_as_such(lab, database, slowly):
    """Two lists of tins with the same new tin: the database took one; it does not "not answer"."""
    tins = {"text": "T-777 21.40", "keeps": "yes"}
    first, second = sent(lab, slowly, "/equipment/tins", tins, tins)
    assert sorted([first.status_code, second.status_code]) == [303, 409]
    assert "at the same moment" in next(reply.text for reply in (first, second) if reply.status_code == 409)
    assert len([one for one in every(database, Equipment) if one.name == "T-777"]) == 1

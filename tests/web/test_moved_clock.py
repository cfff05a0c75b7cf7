"""The laboratory's own clock: past midnight, past a change of the hour, into another year, and set back."""

import re
from datetime import UTC, datetime, timedelta

import pytest
import time_machine
from sqlmodel import Session, select

from tests.laboratory import CUP_INSPECTION_CUP_1, LIQUID_LIMIT_B1, WATER_CONTENT_U1_1
from tests.web.hands import read, save, signed_in
from vadum.records.tables import IssuedSheet, Revision
from vadum.records.zone import keep_zone, stamp

# In Lisbon summer time ends on 31 October 2027 at 01:00 UTC: from 02:00 WEST it is 01:00 WET.
EVENING = datetime(2027, 10, 30, 22, 50, tzinfo=UTC)
WEIGHED = {"determinations.0.tin": "T-30", "determinations.0.mass_tin_wet_g": "61.20"}


@pytest.fixture
def lisbon(app):
    with Session(app.state.engine) as session:
        keep_zone(session, "Europe/Lisbon")
    app.state.zone = "Europe/Lisbon"
    return app


@pytest.fixture
def clock():
    with time_machine.travel(EVENING, tick=True) as moved:
        yield moved


def history(client):
    return client.get(f"/api/tests/{WATER_CONTENT_U1_1}/history").json()


def due(client, test, key):
    lines = [line for part in client.get("/api/board").json()["parts"] for line in part["lines"]]
    (found,) = [line for line in lines if line["id"] == f"{test}.{key}"]
    return datetime.fromisoformat(found["due"])


def moves(client, test, *actions):
    for action in actions:
        reply = client.post(f"/api/tests/{test}/move", json={"action": action, "reason": "looked at again"})
        assert reply.status_code == 200, reply.text


def test_sixteen_hours_in_an_oven_are_sixteen_hours_in_the_night_the_clock_changes(lisbon, clock):
    evening = signed_in(lisbon, "technician")
    save(evening, WATER_CONTENT_U1_1, cells=WEIGHED)
    assert abs(due(evening, WATER_CONTENT_U1_1, "oven-out") - EVENING - timedelta(hours=16)) < timedelta(minutes=2)
    clock.move_to(datetime(2027, 10, 31, 14, 55, tzinfo=UTC))  # 14:55 on the wall, fifteen hours and five minutes on it
    morning = signed_in(lisbon, "technician")
    board = morning.get("/api/board").json()
    where = {line["id"]: part["name"] for part in board["parts"] for line in part["lines"]}
    assert where[f"{WATER_CONTENT_U1_1}.oven-out"] in ("now", "late")
    with Session(lisbon.state.engine) as session:
        assert stamp(session, datetime.fromisoformat(history(morning)[0]["at"])) == "2027-10-30 23:50 WEST"


def test_the_hour_that_comes_twice_is_told_apart_and_kept_in_order(lisbon, clock):
    hours = [datetime(2027, 10, 31, 0, 30, tzinfo=UTC), datetime(2027, 10, 31, 1, 30, tzinfo=UTC)]
    for at, mass in zip(hours, ("61.20", "61.30"), strict=True):
        clock.move_to(at)
        save(signed_in(lisbon, "technician"), WATER_CONTENT_U1_1, cells={"determinations.0.mass_tin_wet_g": mass})
    with Session(lisbon.state.engine) as session:
        query = select(Revision).where(Revision.test_id == WATER_CONTENT_U1_1).order_by(Revision.number)
        assert [r.at.replace(second=0, microsecond=0) for r in session.exec(query).all()[-2:]] == hours
        newest = [datetime.fromisoformat(one["at"]) for one in history(signed_in(lisbon, "technician"))[:2]]
        assert [stamp(session, at) for at in newest] == ["2027-10-31 01:30 WET", "2027-10-31 01:30 WEST"]


def test_a_cup_inspected_before_midnight_is_not_inspected_after_it(lisbon, clock):
    client = signed_in(lisbon, "technician")

    overdue = re.compile(r"Cup 1</a> <span[^>]*>inspection overdue")
    assert overdue.search(read(client.get("/board")))
    moves(client, CUP_INSPECTION_CUP_1, "reopen", "done")
    assert not overdue.search(read(client.get("/board")))
    clock.shift(timedelta(minutes=20))  # 00:10 in Lisbon
    assert overdue.search(read(client.get("/board")))


def test_who_signed_in_before_the_change_stays_in_for_twelve_hours_and_no_longer(lisbon, clock):
    client = signed_in(lisbon, "technician")
    clock.shift(timedelta(hours=11, minutes=55))
    assert client.get("/board", follow_redirects=False).status_code == 200
    clock.shift(timedelta(minutes=10))
    assert client.get("/board", follow_redirects=False).status_code == 303


def test_a_server_whose_clock_is_set_back_goes_on_counting(lisbon, clock):
    """Numbers of revisions order a record, not times; who would be signed in from tomorrow on signs in anew."""
    client = signed_in(lisbon, "technician")
    first = save(client, WATER_CONTENT_U1_1, cells=WEIGHED)
    clock.shift(-timedelta(minutes=4))
    second = save(client, WATER_CONTENT_U1_1, cells={"determinations.0.mass_tin_wet_g": "61.90"})
    assert second["revision"] == first["revision"] + 1
    ahead = {"at": (EVENING + timedelta(minutes=30)).isoformat()}
    assert client.post(f"/api/tests/{WATER_CONTENT_U1_1}/operations/oven-in", json=ahead).status_code == 422
    clock.shift(-timedelta(hours=1))
    assert client.get("/board", follow_redirects=False).status_code == 303
    third = save(
        signed_in(lisbon, "technician"), WATER_CONTENT_U1_1, cells={"determinations.0.mass_tin_wet_g": "62.00"}
    )
    assert third["revision"] == second["revision"] + 1


def test_a_sheet_opened_before_midnight_overwrites_nothing_saved_after_it(lisbon, clock):
    late, early = signed_in(lisbon, "technician"), signed_in(lisbon, "manager")
    opened = late.get(f"/api/tests/{WATER_CONTENT_U1_1}/sheet").json()["revision"]
    clock.shift(timedelta(hours=8))
    save(early, WATER_CONTENT_U1_1, cells={"determinations.0.mass_tin_wet_g": "61.20"})
    stale = {
        "base_revision": opened,
        "save_key": "typed-before-midnight",
        "cells": {"determinations.0.mass_tin_wet_g": "16.20"},
    }
    reply = late.post(f"/api/tests/{WATER_CONTENT_U1_1}/save", json=stale)
    assert reply.status_code == 409
    assert reply.json()["conflict"]["differences"] == [
        {"path": "determinations.0.mass_tin_wet_g", "theirs": "61.20", "yours": "16.20"}
    ]


@pytest.mark.parametrize(
    ("zone", "at", "year"),
    [
        ("Pacific/Auckland", datetime(2027, 12, 31, 20, 0, tzinfo=UTC), "2028"),
        ("America/Sao_Paulo", datetime(2028, 1, 1, 1, 0, tzinfo=UTC), "2027"),
    ],
)
def test_a_sheet_is_numbered_in_the_year_that_it_bears(app, zone, at, year):
    with Session(app.state.engine) as session:
        keep_zone(session, zone)
    with time_machine.travel(at, tick=True):
        moves(signed_in(app, "checker"), LIQUID_LIMIT_B1, "issue")
    with Session(app.state.engine) as session:
        assert session.exec(select(IssuedSheet.number)).one() == f"{year}-0001"

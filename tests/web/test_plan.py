"""The planner over HTTP: chosen tests, limits, pinned bars, prerequisites."""

from datetime import UTC, datetime

import pytest

from vadum.bench.tasks import Job, tasks_of
from vadum.soil.registry import METHODS

MONDAY = "2026-05-04T07:00:00+00:00"


def ask(client, tests, **more):
    reply = client.post("/api/plan", json={"tests": tests, "origin": MONDAY, **more})
    assert reply.status_code == 200
    return reply.json()


def planned_test(client, sample, method):
    place = client.post(f"/samples/{sample}/tests", data={"method": method, "anyway": "1"}, follow_redirects=False)
    return int(place.headers["location"].rsplit("/", 1)[1])


def test_the_page_offers_what_is_planned_and_running(client):
    page = client.get("/plan").text
    assert "P1 D2, Liquid limit" in page
    assert "Nothing is planned" not in page


def test_a_plan_says_when_and_how_far_from_the_bound(client):
    made = ask(client, [22, 23])
    assert made["lines"][0]["what"] in ("Tins into the oven, lids off", "Mix the paste")
    assert made["length"] >= made["bound"] > 0
    assert made["boundBy"]
    assert made["conflicts"] == []
    assert made["svg"].count("tl-bar") >= 7


def test_natural_water_content_comes_before_water_is_added(client):
    water, sieve = planned_test(client, 8, "water-content"), planned_test(client, 8, "sieve")
    order = [(line["test"].split(", ")[1], line["what"]) for line in ask(client, [sieve, water])["lines"]]
    assert order.index(("Water content", "Tins into the oven, lids off")) < order.index(
        ("Sieve analysis", "Specimen into the oven")
    )


def test_threads_wait_for_the_mix():
    def job(test_id, code):
        method = METHODS[code]
        operations = method.timetable(method.Readings(), method.Settings())
        return Job(test_id, code, 1, code, operations, {}, None)

    tasks = {
        t.id: t for t in tasks_of([job(1, "plastic-limit"), job(2, "liquid-limit")], datetime(2026, 5, 4, tzinfo=UTC))
    }
    assert ("2.mix", 20) in tasks["1.roll"].after


def test_a_dragged_bar_stays_and_says_what_stands_against_it(client):
    free = ask(client, [22, 23])
    assert "tl-pinned" not in free["svg"]
    pinned = ask(client, [22, 23], pinned={"22.weigh-dry": 100.0})
    (said,) = pinned["conflicts"]
    assert "too early after “Tins out, lids on”" in said["said"]
    assert pinned["svg"].count("tl-wrong") == 1


def test_no_oven_no_plan_but_words(client):
    made = ask(client, [22], places={"oven": 0})
    assert any("no room" in c["said"] for c in made["conflicts"])


def test_readings_of_a_running_cylinder_are_on_the_plan(client):
    made = client.post("/api/plan", json={"tests": [31], "opens": "00:00", "closes": "23:59", "weekend": True}).json()
    assert [line["what"] for line in made["lines"]][:2] == ["Read at 15 min", "Read at 30 min"]


def test_an_empty_choice_is_an_empty_plan(client):
    assert ask(client, [])["lines"] == []


@pytest.mark.parametrize("change", [{"opens": "noon"}, {"width": 9}, {"pinned": {"22.oven-in": "late"}}])
def test_what_cannot_be_read_is_said(client, change):
    reply = client.post("/api/plan", json={"tests": [22], **change})
    assert reply.status_code == 422
    assert reply.json()["faults"]

"""The planner over HTTP: chosen tests, limits, pinned bars, prerequisites."""

from datetime import UTC, date, datetime, timedelta

import pytest
from icalendar import Calendar
from sqlmodel import Session, select

from tests.web.hands import save, signed_in
from vadum.bench.tasks import Job, tasks_of
from vadum.records.database import open_database
from vadum.records.tables import Project
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


def keep(client, tests, **more):
    reply = client.post("/api/plan/keep", json={"tests": tests, "origin": MONDAY, **more})
    assert reply.status_code == 200
    return reply.json()


def test_a_plan_is_kept_for_each_person_and_found_again(app):
    one, other = signed_in(app, "technician"), signed_in(app, "checker")
    made = keep(one, [22, 23], places={"oven": 3}, pinned={"22.oven-in": 125.0})
    assert made["keptAt"]
    assert made["moved"] == []
    page = one.get("/plan").text
    assert '"22.oven-in": "2026-05-04T' in page
    assert 'value="3"' in page
    assert "Keep this plan" in other.get("/plan").text
    assert '"22.oven-in"' not in other.get("/plan").text


def test_what_happened_otherwise_is_said_line_by_line(client):
    kept = keep(client, [22, 23])
    first = kept["lines"][0]
    assert first["at"].startswith("Mon 04 May")
    save(client, 23, cells={"seasoning_min": "1000"})
    later = (datetime.fromisoformat(MONDAY) + timedelta(hours=3)).isoformat()
    again = ask(client, [22, 23], origin=later)
    said = {line["what"].split(": ")[1]: line for line in again["moved"] if "Liquid limit" in line["what"]}
    assert said["Mix the paste"]["now"] == "done"
    assert said["Trials at the cup"]["was"] != said["Trials at the cup"]["now"]
    assert {line["now"] for line in again["moved"] if "Water content" in line["what"]} != {"no longer planned"}
    dropped = ask(client, [22])
    assert {line["now"] for line in dropped["moved"] if "Liquid limit" in line["what"]} == {"no longer planned"}


def test_the_board_says_who_does_it_and_when(app):
    client = signed_in(app, "technician")
    running = client.get("/api/board").json()["parts"]
    line = next(line for part in running for line in part["lines"] if line["key"] == "oven-out")
    now = datetime.now(UTC).isoformat()
    client.post("/api/plan/keep", json={"tests": [line["test"]], "origin": now})
    parts = signed_in(app, "checker").get("/api/board").json()["parts"]
    (again,) = [one for part in parts for one in part["lines"] if one["id"] == line["id"]]
    assert again["who"] == "technician"
    assert datetime.fromisoformat(again["plannedAt"]) >= datetime.fromisoformat(now) - timedelta(minutes=1)


def test_a_kept_plan_goes_into_a_calendar(client):
    assert client.get("/plan.ics").status_code == 404
    made = keep(client, [22, 23])
    calendar = Calendar.from_ical(client.get("/plan.ics").content)
    events = calendar.walk("VEVENT")
    assert len(events) == len(made["lines"])
    starts = [event["DTSTART"].dt for event in events]
    assert min(starts) >= datetime.fromisoformat(MONDAY)
    assert str(events[0]["SUMMARY"]).endswith(made["lines"][0]["what"])


def test_what_ends_after_the_day_it_is_wanted_is_said(client, database):
    with Session(open_database(database)) as session:
        for project in session.exec(select(Project)):
            project.wanted_by = date(2026, 5, 4)
            session.add(project)
        session.commit()
    said = [line["said"] for line in ask(client, [23])["conflicts"]]
    assert any("wanted by Mon 04 May" in words for words in said)


def test_hours_of_the_laboratory_and_days_off_are_kept_to(client):
    week = ["", "09:00-12:00", "", "", "", "", ""]
    assert client.post("/hours", data={"day": week, "closed": "2026-05-05"}).status_code == 200
    first = ask(client, [23])["lines"][0]["at"]
    assert first == "Tue 12 May 09:00"
    own = {"week": ["08:00-17:00", *6 * [""]], "closed": ""}
    assert ask(client, [23], hours=own)["lines"][0]["at"] == "Mon 04 May 08:00"


def test_an_oven_that_is_out_of_use_is_planned_around(client):
    """A water content put in on Monday would dry through Tuesday, on which the laboratory's ovens are serviced."""
    week = [*5 * ["08:00-17:00"], "", ""]
    assert client.post("/hours", data={"day": week, "out": "oven 2026-05-05"}).status_code == 200
    assert "oven 2026-05-05" in client.get("/letterhead").text
    assert 'value="oven 2026-05-05"' in client.get("/plan").text

    def weighed(answer):
        return next(line["at"] for line in answer["lines"] if "oven" in line["what"])

    assert weighed(ask(client, [18])).startswith("Wed 06 May")
    own = {"week": week, "closed": "", "out": ""}
    assert weighed(ask(client, [18], hours=own)).startswith("Mon 04 May")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ({"day": ["8 to 5", *6 * [""]]}, "write hours as 08:00-17:00"),
        ({"day": ["17:00-08:00", *6 * [""]]}, "ends before it begins"),
        ({"day": 7 * [""], "closed": "Christmas"}, "is no day"),
        ({"day": 7 * [""], "out": "oven next week"}, "“oven next week”: write oven 2026-12-01 to 2026-12-03"),
        ({"day": 7 * [""], "out": "oven"}, "“oven”: write oven 2026-12-01 to 2026-12-03"),
        ({"day": 7 * [""], "out": "kiln 2026-12-01"}, "“kiln” is none of oven, cup"),
        ({"day": 7 * [""], "out": "oven 2026-12-03 to 2026-12-01"}, "is before"),
    ],
)
def test_hours_that_cannot_be_are_refused_and_stand_as_typed(client, data, said):
    reply = client.post("/hours", data=data)
    assert reply.status_code == 422
    assert said in reply.text
    assert f'value="{data["day"][0]}"' in reply.text


@pytest.mark.parametrize(
    ("hours", "status"),
    [
        ({"closes": "00:00:00Z"}, 422),
        ({"opens": "18:00"}, 422),
        ({"opens": "07:00+02:00", "closes": "16:00Z"}, 200),
        ({"hours": {"week": [None] * 7}}, 200),
    ],
)
def test_hours_in_which_nobody_works_are_answered_in_words(app, hours, status):
    client = signed_in(app, "technician")
    answer = client.post("/api/plan", json=hours)
    assert answer.status_code == status, answer.text
    if status == 422:
        assert "before it opens" in answer.text


def test_a_title_too_long_for_its_lane_says_that_it_goes_on(client):
    made = ask(client, [planned_test(client, 1, "hydrometer"), planned_test(client, 1, "water-content")])
    assert "Hydrometer ana…<" in made["svg"]
    assert "Water content<" in made["svg"]

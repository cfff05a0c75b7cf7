"""The due board over HTTP: the same clocks for everybody, moved by readings and by a person's word."""

from datetime import UTC, datetime, timedelta

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_D2, PLASTIC_LIMIT_U2, WATER_CONTENT_B3
from vadum.records.conditions import of_record, on_soil
from vadum.records.database import open_database
from vadum.records.tables import OperationTime, Test

PLANNED = LIQUID_LIMIT_D2  # a liquid limit nobody has begun
BEGUN = {"state": "natural"}
VOID = {"action": "void", "reason": "the sample dried out"}
IN_OVEN = WATER_CONTENT_B3  # a water content whose tins are in the oven


def lines(client):
    return {
        line["id"]: (part["name"], line) for part in client.get("/api/board").json()["parts"] for line in part["lines"]
    }


def save(client, test, cells):
    view = client.get(f"/api/tests/{test}/sheet").json()
    return client.post(
        f"/api/tests/{test}/save",
        json={
            "base_revision": view["revision"],
            "save_key": f"key-{test}-{len(cells)}-{view['revision']}",
            "cells": cells,
        },
    )


def test_the_board_knows_what_stands_in_the_oven(client):
    view = client.get("/api/board").json()
    (held,) = [h for h in view["oven"] if h["test"] == IN_OVEN]
    assert held["what"].startswith("tins T-")
    out = datetime.fromisoformat(held["out"]) - datetime.now(UTC)
    assert timedelta(hours=15) < out <= timedelta(hours=16)
    assert lines(client)[f"{IN_OVEN}.oven-out"][0] == "later"


def test_a_reading_closes_its_operation_and_opens_the_next(client):
    assert not any(key.startswith(f"{PLANNED}.") for key in lines(client))
    save(client, PLANNED, BEGUN)
    assert lines(client)[f"{PLANNED}.mix"][0] == "now"
    save(client, PLANNED, {"trials.0.tin": "T-30", "trials.0.mass_tin_wet_g": "38"})
    found = lines(client)
    assert f"{PLANNED}.mix" not in found
    due = datetime.fromisoformat(found[f"{PLANNED}.weigh-dry"][1]["due"])
    assert abs(due - datetime.now(UTC) - timedelta(minutes=970)) < timedelta(minutes=2)


def test_a_reading_taken_back_opens_its_operation_again(client, database):
    save(client, PLANNED, {"trials.0.tin": "T-30", "trials.0.mass_tin_wet_g": "38"})
    save(client, PLANNED, {"trials.0.mass_tin_wet_g": ""})
    assert f"{PLANNED}.mix" in lines(client)
    with Session(open_database(database)) as session:
        assert not session.exec(select(OperationTime).where(OperationTime.test_id == PLANNED)).all()


def test_a_person_can_say_that_it_is_done_and_take_it_back(client):
    save(client, PLANNED, BEGUN)
    assert client.post(f"/api/tests/{PLANNED}/operations/mix").status_code == 200
    found = lines(client)
    assert f"{PLANNED}.mix" not in found
    # Twenty minutes of mixing, then sixteen hours of standing.
    part, line = found[f"{PLANNED}.trials"]
    assert part == "later"
    assert timedelta(hours=16) < datetime.fromisoformat(line["due"]) - datetime.now(UTC) < timedelta(hours=16.5)
    client.delete(f"/api/tests/{PLANNED}/operations/mix")
    assert f"{PLANNED}.mix" in lines(client)


def test_what_a_reading_proves_is_done_only_by_the_reading(client):
    save(client, IN_OVEN, {"determinations.0.mass_tin_wet_g": "61.20"})
    client.post(f"/api/tests/{IN_OVEN}/operations/oven-out")
    before = lines(client)[f"{IN_OVEN}.weigh-dry"]
    assert before[1]["said"] is False
    reply = client.post(f"/api/tests/{IN_OVEN}/operations/weigh-dry")
    assert reply.status_code == 409
    assert "once its reading is typed" in reply.json()["message"]
    assert f"{IN_OVEN}.weigh-dry" in lines(client)


def test_blows_say_that_the_paste_is_mixed_and_a_filled_tin_that_it_has_stood(client):
    save(client, PLANNED, {"trials.0.blows": "28"})
    found = lines(client)
    assert f"{PLANNED}.mix" not in found
    assert found[f"{PLANNED}.trials"][0] == "later"
    save(client, PLANNED, {"trials.0.tin": "T-30"})
    assert lines(client)[f"{PLANNED}.trials"][0] in ("now", "next")


def test_a_line_leads_to_the_first_reading_that_is_missing(client, database):
    cells = {f"threads.{i}.{name}": v for i in (0, 1) for name, v in (("tin", f"T-4{i}"), ("mass_tin_wet_g", "31.2"))}
    save(client, PLASTIC_LIMIT_U2, cells | {"threads.0.mass_tin_dry_g": "29.3"})
    assert lines(client)[f"{PLASTIC_LIMIT_U2}.weigh-dry"][1]["reading"].endswith("?cell=threads.1.mass_tin_dry_g")


def test_what_is_under_way_never_leaves_the_board(client, database):
    view = client.get("/api/board").json()
    on_board = {line["test"] for part in view["parts"] for line in part["lines"]} | {t["test"] for t in view["untimed"]}
    with Session(open_database(database)) as session:
        running = session.exec(select(Test.id).where(Test.state == "running", of_record(), on_soil())).all()
    assert set(running) <= on_board
    assert all(test["next"] for test in view["untimed"])


def test_two_tabs_that_say_done_do_not_undo_each_other(client, database):
    save(client, PLANNED, BEGUN)
    client.post(f"/api/tests/{PLANNED}/operations/mix")
    first = done_at(database)
    client.post(f"/api/tests/{PLANNED}/operations/mix")
    assert done_at(database) == first
    assert f"{PLANNED}.mix" not in lines(client)


def test_when_it_was_done_is_put_right_and_moves_what_follows(client, database):
    save(client, PLANNED, BEGUN)
    client.post(f"/api/tests/{PLANNED}/operations/mix")
    due = datetime.fromisoformat(lines(client)[f"{PLANNED}.trials"][1]["due"])
    at = datetime.now(UTC) - timedelta(minutes=90)
    assert client.post(f"/api/tests/{PLANNED}/operations/mix", json={"at": at.isoformat()}).status_code == 200
    assert done_at(database) == at
    moved = datetime.fromisoformat(lines(client)[f"{PLANNED}.trials"][1]["due"])
    assert due - moved == pytest.approx(timedelta(minutes=90), abs=timedelta(seconds=20))


def test_a_time_that_lies_ahead_is_refused(client, database):
    save(client, PLANNED, BEGUN)
    at = datetime.now(UTC) + timedelta(hours=1)
    reply = client.post(f"/api/tests/{PLANNED}/operations/mix", json={"at": at.isoformat()})
    assert reply.status_code == 422
    assert done_at(database) is None


def test_what_a_reading_proved_is_neither_moved_nor_taken_back_by_a_word(client, database):
    save(client, PLANNED, {"trials.0.tin": "T-30", "trials.0.mass_tin_wet_g": "38"})
    proved = done_at(database)
    assert proved
    early = datetime.now(UTC) - timedelta(hours=5)
    for reply in (
        client.post(f"/api/tests/{PLANNED}/operations/mix", json={"at": early.isoformat()}),
        client.delete(f"/api/tests/{PLANNED}/operations/mix"),
    ):
        assert reply.status_code == 409
        assert "reading" in reply.json()["message"]
    assert done_at(database) == proved


def done_at(database, key="mix"):
    with Session(open_database(database)) as session:
        row = session.exec(select(OperationTime).where(OperationTime.test_id == PLANNED, OperationTime.key == key))
        found = row.first()
        return found.at if found else None


def test_times_survive_a_restart(client, database):
    from fastapi.testclient import TestClient

    from vadum.web.app import create_app

    before = {key: line["due"] for key, (_, line) in lines(client).items() if line["test"] in (31, IN_OVEN)}
    with TestClient(create_app(database)) as again:
        after = {key: line["due"] for key, (_, line) in lines(again).items() if line["test"] in (31, IN_OVEN)}
    assert before == after
    assert any(key.startswith("31.read") for key in before)


def test_a_cylinders_readings_count_from_its_own_start(client):
    started = datetime.now(UTC) - timedelta(minutes=2)
    save(client, 33, {"started_at": started.isoformat()})
    due = {
        key: datetime.fromisoformat(line["due"])
        for key, (_, line) in lines(client).items()
        if key.startswith("33.read")
    }
    assert due["33.read-4"] - started == pytest.approx(timedelta(minutes=4), abs=timedelta(seconds=1))


def test_the_reading_is_one_click_away(client):
    found = lines(client)
    assert found[f"{IN_OVEN}.oven-out"][1]["reading"] == f"/tests/{IN_OVEN}/run"
    cell = next(line["reading"] for _, line in found.values() if "?cell=" in line["reading"])
    assert client.get(cell).status_code == 200


def test_the_page_lists_checks_and_equipment(client):
    page = client.get("/board").text
    assert "Waits for a check" in page
    assert "inspection overdue" in page


def test_an_operation_that_the_test_does_not_have_is_refused_and_changes_nothing(client):
    before = client.get("/api/board").json()["parts"]
    reply = client.post(f"/api/tests/{PLANNED}/operations/fly")
    assert reply.status_code == 404
    assert "fly" in reply.json()["message"]
    assert [p["lines"] for p in client.get("/api/board").json()["parts"]] == [p["lines"] for p in before]


@pytest.mark.parametrize("method", ["POST", "DELETE"])
def test_of_a_test_that_is_not_under_way_nothing_is_said_to_be_done(client, database, method):
    save(client, PLANNED, BEGUN)
    client.post(f"/api/tests/{PLANNED}/operations/mix")
    before = done_at(database)
    assert client.post(f"/api/tests/{PLANNED}/move", json=VOID).status_code == 200
    reply = client.request(method, f"/api/tests/{PLANNED}/operations/mix")
    assert reply.status_code == 409
    assert "void" in reply.json()["message"]
    assert done_at(database) == before


def test_what_nobody_said_is_not_taken_back(client):
    save(client, PLANNED, BEGUN)
    reply = client.delete(f"/api/tests/{PLANNED}/operations/mix")
    assert reply.status_code == 409
    assert "Nobody said" in reply.json()["message"]

"""Earlier states of a test: seen, compared with now, made the newest again. And finding things by words."""

import pytest
from fastapi.testclient import TestClient

from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_U2
from vadum.records.history import differences
from vadum.soil.registry import method as method_of
from vadum.web.app import create_app

SHEET, CHECKED = LIQUID_LIMIT_U2, LIQUID_LIMIT_B1


def save(client, **cells):
    revision = client.get(f"/api/tests/{SHEET}/sheet").json()["revision"]
    body = {"base_revision": revision, "save_key": f"key-{revision:05}", "cells": cells}
    reply = client.post(f"/api/tests/{SHEET}/save", json=body)
    assert reply.status_code == 200
    return reply.json()["revision"]


def back(client, number, test=SHEET, **more):
    revision = client.get(f"/api/tests/{test}/sheet").json()["revision"]
    body = {"base_revision": revision, "save_key": "key-of-going-back", "reason": "wrong tins"} | more
    return client.post(f"/api/tests/{test}/history/{number}/restore", json=body)


def test_an_earlier_state_is_seen_beside_now(client):
    first = client.get(f"/api/tests/{SHEET}/sheet").json()
    save(client, **{"trials.0.blows": "19", "trials.1.closure_mm": ""})
    then = client.get(f"/api/tests/{SHEET}/history/{first['revision']}").json()
    changed = {d["path"]: (d["then"], d["now"]) for d in then["differences"]}
    blows = first["tables"][0]["rows"][0]["cells"]["blows"]["text"]
    assert changed["trials.0.blows"] == (blows, "19")
    assert changed["trials.1.closure_mm"][1] == ""
    assert then["parameters"][0]["symbol"] == "LL"
    newest = client.get(f"/api/tests/{SHEET}/sheet").json()["revision"]
    assert client.get(f"/api/tests/{SHEET}/history/{newest}").json()["differences"] == []
    assert client.get(f"/api/tests/{SHEET}/history/99").status_code == 404


def test_going_back_is_a_revision_of_its_own_and_nothing_between_is_lost(client):
    first = client.get(f"/api/tests/{SHEET}/sheet").json()
    between = save(client, **{"trials.0.blows": "19"})
    reply = back(client, first["revision"])
    assert reply.json() == {"revision": between + 1}
    now = client.get(f"/api/tests/{SHEET}/sheet").json()
    assert now["tables"] == first["tables"]
    assert now["verdict"] == first["verdict"]
    newest, changed, *_ = client.get(f"/api/tests/{SHEET}/history").json()
    assert (newest["what"], newest["reason"]) == (f"restored: revision {first['revision']}", "wrong tins")
    assert changed["number"] == between
    # Sent twice it is done once.
    assert back(client, first["revision"], base_revision=between).json() == {"revision": between + 1}


@pytest.mark.parametrize(
    ("more", "status"), [({"base_revision": 0}, 409), ({"reason": ""}, 422), ({"save_key": "short"}, 422)]
)
def test_going_back_is_refused_plainly(client, more, status):
    save(client, **{"trials.0.blows": "19"})
    assert back(client, 1, **more).status_code == status
    assert client.get(f"/api/tests/{SHEET}/sheet").json()["tables"][0]["rows"][0]["cells"]["blows"]["text"] == "19"


def test_a_checked_test_does_not_go_back(client):
    assert back(client, 1, CHECKED).status_code == 423


@pytest.mark.parametrize(
    ("words", "inside", "outside"),
    [
        ("liquid TP4", ["Liquid limit", "TP4"], ["Plastic limit"]),
        ("harrow", ["Harrow Mere bypass"], ["Quill Lane"]),
        ("ring 20", ["Ring 20"], ["Cup 1"]),
        ("U5", ["BH2 U5"], ["TP4 B1"]),
        ("quick silt", [], ["TP4 B4"]),
        ("100%", ["Nothing holds all of"], ["Liquid limit"]),
        ("_", ["Nothing holds all of"], ["TP4"]),
        ("<script>", ["&lt;script&gt;"], ["<script>alert"]),
    ],
)
def test_every_word_must_occur(client, words, inside, outside):
    page = client.get("/search", params={"q": words}).text.split("</form>", 2)[-1]
    assert all(text in page for text in inside), page[:2000]
    assert not any(text in page for text in outside)


def test_a_test_is_found_by_its_number_and_state(client):
    assert f'href="/tests/{LIQUID_LIMIT_U2}"' in client.get("/search?q=7").text
    checked = client.get("/search", params={"q": "checked liquid"}).text
    assert f'href="/tests/{LIQUID_LIMIT_B1}"' in checked
    assert f'href="/tests/{LIQUID_LIMIT_U2}"' not in checked
    assert client.get("/search").status_code == 200
    assert client.get("/search", params={"q": "9" * 40}).status_code == 200


def against(client, base, cells):
    return client.post(f"/api/tests/{SHEET}/against", json={"changes": [{"base_revision": base, "cells": cells}]})


def test_all_that_waits_stands_beside_what_is_on_record_in_the_order_of_the_sheet(client):
    sheet = client.get(f"/api/tests/{SHEET}/sheet").json()
    had = sum(not row["blank"] for row in sheet["tables"][0]["rows"])
    blows = sheet["tables"][0]["rows"][0]["cells"]["blows"]["text"]
    save(client, **{f"trials.{had}.blows": "21", f"trials.{had + 1}.blows": "a lot"})
    mine = {f"trials.{had}.blows": "30", "trials.0.blows": "29"}
    mine |= {f"trials.{n}.closure_mm": "13" for n in range(12, had, -1)}
    told = against(client, sheet["revision"], mine).json()
    assert told["begun"] == {str(sheet["revision"]): {"trials": {"then": had, "now": had + 2}}}
    assert told["revision"] == sheet["revision"] + 1
    assert [(d["path"], d["theirs"], d["yours"]) for d in told["differences"]] == [
        ("trials.0.blows", blows, "29"),
        (f"trials.{had}.blows", "21", "30"),
        *((f"trials.{n}.closure_mm", "", "13") for n in range(had + 1, 13)),
    ]
    # Nothing of it is kept.
    assert client.get(f"/api/tests/{SHEET}/sheet").json()["revision"] == sheet["revision"] + 1


def test_what_an_earlier_release_called_otherwise_is_told_last(client):
    model = method_of("liquid-limit").Readings
    then = {"trials": [{"blows": 30, "colour": "red"}], "smell": "of earth"}
    paths = [path for path, *_ in differences(model, (then, {}), ({"trials": [{"blows": 31}]}, {}))]
    assert paths == ["trials.0.blows", "trials.0.colour", "smell"]


def test_what_waits_for_a_cell_or_on_a_revision_that_never_was_is_refused_plainly(client):
    assert against(client, 99, {}).status_code == 404
    unknown = against(client, 0, {"trials.0.colour": "red"})
    assert (unknown.status_code, "colour" in unknown.text) == (422, True)


def test_a_sheet_says_which_version_it_was_made_by_and_which_is_offered(database, monkeypatch):
    method = method_of("liquid-limit")
    was = method.version
    monkeypatch.setattr(type(method), "version", "99")
    with TestClient(create_app(database)) as upgraded:
        offered = upgraded.get(f"/api/tests/{SHEET}/sheet").json()["offered"]
    assert (offered["from"], offered["to"]) == (was, "99")

"""What a checker weighs: what was changed, left out, chosen by hand, and what a second computation gives."""

import re

import pytest
from sqlmodel import Session

from tests.laboratory import LIQUID_LIMIT_D2, LIQUID_LIMIT_U2, UNCONFINED_U2, WATER_CONTENT_B1
from vadum.records.database import open_database
from vadum.records.tables import Test

SHEET, PRESS = LIQUID_LIMIT_U2, UNCONFINED_U2


def save(client, test, **change):
    revision = client.get(f"/api/tests/{test}/sheet").json()["revision"]
    body = {"base_revision": revision, "save_key": f"key-{revision:05}"} | change
    reply = client.post(f"/api/tests/{test}/save", json=body)
    assert reply.status_code == 200, reply.text


def review(client, test):
    return client.get(f"/api/tests/{test}/review").json()


def test_readings_changed_after_they_were_kept_are_listed_with_every_value(client):
    assert review(client, SHEET)["changed"] == []
    first = client.get(f"/tests/{SHEET}/bench.json").json()["readings"]["trials"][0]["blows"]
    save(client, SHEET, cells={"trials.0.blows": "24"})
    client.cookies.set("vadum_who", "technician 2")
    save(client, SHEET, cells={"trials.0.blows": "26"})
    # A reading that is new was not changed.
    save(client, SHEET, cells={"mass_prepared_g": "210"})
    (changed,) = review(client, SHEET)["changed"]
    assert changed["path"] == "trials.0.blows"
    assert [float(text) for text in changed["texts"]] == [first, 24, 26]
    assert changed["who"] == "technician 2"
    assert review(client, SHEET)["recorded_by"] == ["technician 1", "technician 2"]


def test_a_changed_mass_is_read_as_the_balance_writes_it(client):
    had = client.get(f"/tests/{SHEET}/bench.json").json()["readings"]["trials"][0]["mass_tin_dry_g"]
    save(client, SHEET, cells={"trials.0.mass_tin_dry_g": "31"})
    (changed,) = review(client, SHEET)["changed"]
    assert changed["texts"] == [f"{had:.2f}", "31.00"]


def test_points_left_out_and_lines_moved_by_hand_are_listed(client):
    client.post(f"/api/tests/{PRESS}/move", json={"action": "reopen", "reason": "look again"})
    save(
        client,
        PRESS,
        cells={"loading.3.left_out": "jolt at the press"},
        settings={"peak_percent": 5.0, "by_hand_because": "a second peak"},
    )
    found = review(client, PRESS)
    assert found["left_out"] == [["loading.3", "jolt at the press"]]
    by_hand = {label: (value, usual) for label, value, usual in found["by_hand"]}
    assert by_hand["peak by hand"] == ("5.0", "None")
    assert by_hand["moved by hand because"][0] == "a second peak"


def test_a_second_computation_stands_beside_what_is_kept(client, database):
    assert all(kept == now for _, kept, now in review(client, SHEET)["recomputed"])
    with Session(open_database(database)) as session:
        test = session.get(Test, SHEET)
        kept = dict(test.summary["parameters"])
        kept["liquid_limit"] = kept["liquid_limit"] | {"text": "99"}
        test.summary = test.summary | {"parameters": kept}
        session.add(test)
        session.commit()
    apart = [row for row in review(client, SHEET)["recomputed"] if row[1] != row[2]]
    assert [row[:2] for row in apart] == [["LL", "99"]]


def test_findings_are_all_there(client):
    shown = client.get(f"/api/tests/{SHEET}/sheet").json()
    counts = [shown["verdict"][k] for k in ("stop", "warn", "note")]
    assert len(review(client, SHEET)["findings"]) == sum(counts)
    assert client.get("/api/tests/9999/review").status_code == 404


def test_how_well_results_are_known(client):
    found = {one["key"]: one for one in client.get(f"/api/tests/{WATER_CONTENT_B1}/uncertainty").json()["results"]}
    water = found["water_content"]
    # Two determinations of some 53 g and a balance of 0.01 g: hundredths of a percent.
    assert 0.002 < water["instruments"] < 0.02
    # One operator's tests of a soil differ by 2.7 % of the value (D2216): far more than any balance tells.
    value = float(water["text"])
    assert water["expanded"] == pytest.approx(2 * 0.027 * value, rel=0.1)
    assert "D2216" in water["hand"]["source"]
    assert water["leading"][0]["label"] == water["hand"]["source"]
    # To the place of the result, rounded up.
    assert re.fullmatch(r"± \d\.\d", water["expandedText"])
    assert client.get(f"/api/tests/{LIQUID_LIMIT_D2}/uncertainty").json() == {"results": [], "notes": []}
    assert client.get("/api/tests/999/uncertainty").status_code == 404

"""Identity cards, the soil ledger, preparation, cylinders and imports, over HTTP."""

import re
from datetime import UTC, datetime, timedelta
from itertools import pairwise

import numpy as np
import pytest
from sqlmodel import Session, select

from tests.laboratory import CLASSIFICATION_B3, HYDROMETER_B4, SIEVE_G2
from vadum.demo.soils import SILT_GRAINS
from vadum.records.agreement import disagreements
from vadum.records.database import open_database
from vadum.records.tables import Location, Sample, Test
from vadum.soil.methods.hydrometer.virtual import a_log
from vadum.soil.registry import METHODS

B3, G1, D2 = "/samples/3", "/samples/9", "/samples/8"
CYLINDER, STACK = HYDROMETER_B4, SIEVE_G2  # a hydrometer whose clock has not begun; a sieve under way


def sheet(client, test):
    return client.get(f"/api/tests/{test}/sheet").json()


def test_the_card_shows_class_facts_and_curve(client):
    page = client.get(B3).text
    assert "Lean clay with sand" in page
    assert "A-6 (9)" in page
    assert 'data-figure="grading"' in page
    for symbol in ("LL", "PI", "Gs", "clay size", "D60"):
        assert f"<dt>{symbol}</dt>" in page


def test_another_sample_can_be_laid_over_the_curve(client):
    alone, over = client.get(G1).text, client.get(f"{G1}?with=3&with=x").text
    assert alone.count("vf-line-company") == 0
    assert over.count("vf-line-company") == 1
    assert "TP4 B3" in over


def test_the_ledger_counts_what_is_spent_and_what_comes_back(client):
    page = re.sub(r"\s+", " ", client.get(G1).text)
    # 62 kg less the sieved 5 kg and 0.35 kg mixed with lime, less the 6 kg of a planned mould and 0.35 kg of planned
    # bottles; the soil of tests that are done is back in the bag.
    assert "5.3 kg spent or in hand" in page
    assert "<b>50.3 kg left</b>" in page
    assert "back in the bag" in page


def test_planning_more_soil_than_there_is_warns_first(client):
    reply = client.post(f"{D2}/tests", data={"method": "compaction"}, follow_redirects=False)
    assert reply.status_code == 409
    assert "Not enough soil" in reply.text
    assert "12.0 kg" in reply.text
    assert len(re.findall('class="what"', reply.text)) == 2
    anyway = client.post(f"{D2}/tests", data={"method": "compaction", "anyway": "1"}, follow_redirects=False)
    assert anyway.status_code == 303
    assert "more is planned than there is" in client.get(D2).text


def test_a_new_sieve_test_starts_with_the_stack_its_grains_need(client):
    place = client.post("/samples/9/tests", data={"method": "sieve", "anyway": "1"}, follow_redirects=False).headers[
        "location"
    ]
    view = sheet(client, place.rsplit("/", 1)[1])
    openings = [row["cells"]["opening_mm"]["text"] for row in view["tables"][0]["rows"] if not row["blank"]]
    assert openings[0] == "19"
    assert openings[-1] == "0.075"
    assert view["state"] == "planned"


def test_a_new_hydrometer_test_starts_with_its_schedule(client):
    place = client.post("/samples/8/tests", data={"method": "hydrometer"}, follow_redirects=False).headers["location"]
    rows = sheet(client, place.rsplit("/", 1)[1])["tables"][1]["rows"]
    assert [row["cells"]["due_min"]["text"] for row in rows][:3] == ["1", "2", "4"]


def test_grading_reaches_the_class_and_the_class_the_column(client):
    """Changing the hydrometer's Gs changes the clay share that the plastic limit's activity leans on."""
    before = sheet(client, 27)["verdict"]["headline"]["text"]
    assert before == "CL"
    answer = client.post(
        f"/api/tests/{CLASSIFICATION_B3}/save",
        json={
            "base_revision": sheet(client, 27)["revision"],
            "save_key": "k" * 12,
            "cells": {"fines_percent": "20", "sand_percent": "80", "gravel_percent": "0"},
        },
    )
    assert answer.json()["verdict"]["headline"]["text"] == "SC"
    assert ">SC</text>" in client.get("/projects/1").text


def test_only_the_figure_in_view_is_drawn(client):
    first = sheet(client, 27)["figures"]
    assert [bool(f["svg"]) for f in first] == [True, False, False, False, False]
    asked = client.post(f"/api/tests/{CLASSIFICATION_B3}/preview", json={"figure": "texture"}).json()["figures"]
    assert next(f for f in asked if f["key"] == "texture")["svg"].startswith("<svg")


@pytest.mark.parametrize(
    ("mix", "status", "words"),
    [
        ({"w_target_percent": "14", "w_now_percent": 9, "mass_dry_g": "2 kg"}, 200, "add 100 g of water"),
        (
            {"w_target_percent": 14, "w_now_percent": 9, "moulds": 3, "volume_cm3": 944, "dry_density_g_cm3": 1.8},
            200,
            "Take 6112 g",
        ),
        ({"w_target_percent": 14}, 422, "water content wanted and the water content now"),
        ({"w_target_percent": 14, "w_now_percent": 18}, 422, "Give the dry mass"),
        ({"w_target_percent": 14, "w_now_percent": 18, "mass_dry_g": 100, "w_drier_percent": 15}, 422, "must be drier"),
    ],
)
def test_preparation(client, mix, status, words):
    reply = client.post("/api/preparation", json=mix)
    assert reply.status_code == status
    assert words in (reply.json().get("words") or reply.json()["message"])


def test_cylinders_start_clear_of_one_another(client):
    begun = datetime.now(UTC) - timedelta(minutes=3.5)
    dues = [1, 2, 4, 8, 15]
    reply = client.post("/api/cylinders/starts", json={"running": [[begun.isoformat(), dues]], "waiting": [dues, dues]})
    starts = [datetime.fromisoformat(at) for at in reply.json()]
    times = sorted(at + timedelta(minutes=due) for at in (begun, *starts) for due in (0, *dues))
    coming = [at for at in times if at > begun + timedelta(minutes=3)]
    assert all(after - before >= timedelta(seconds=59) for before, after in pairwise(coming))
    assert client.post("/api/cylinders/starts", json={"waiting": [dues] * 7}).status_code == 422
    never = client.post("/api/cylinders/starts", json={"waiting": [[1e300], [1e300]]})
    assert never.status_code == 422, "no step of a clock separates these: it would be waited for without end"


def send(client, path, name, data, **form):
    return client.post(f"/api/tests/{path}", files={"file": (name, data)}, data=form)


GOOD = b"sieve;retained [g]\n9,5;0\n4,75;15\n2;60\n"


def test_a_preview_saves_nothing(client):
    before = sheet(client, STACK)
    seen = send(client, f"{STACK}/import/preview", "stack.csv", GOOD).json()
    assert seen["count"] == 3
    assert seen["columns"][0]["reading"] == "opening_mm"
    assert seen["verdict"]["next"]
    assert seen["figure"].startswith("<svg")
    assert sheet(client, STACK)["revision"] == before["revision"]


def test_an_import_replaces_the_table_as_one_revision(client):
    before = sheet(client, STACK)["revision"]
    reply = send(client, f"{STACK}/import", "stack.csv", GOOD, base_revision=before, save_key="i" * 12)
    assert reply.json() == {"revision": before + 1, "count": 3}
    rows = sheet(client, STACK)["tables"][0]["rows"]
    assert [r["cells"]["opening_mm"]["text"] for r in rows if not r["blank"]] == ["9.5", "4.75", "2"]
    newest = client.get(f"/api/tests/{STACK}/history").json()[0]
    assert newest["reason"] == "from stack.csv"


def test_a_faulty_file_changes_nothing(client):
    before = sheet(client, STACK)
    reply = send(
        client, f"{STACK}/import", "bad.csv", GOOD + b"1;oops\n", base_revision=before["revision"], save_key="i" * 12
    )
    assert reply.status_code == 422
    assert reply.json()["faults"][0]["row"] == 5
    assert sheet(client, STACK)["tables"] == before["tables"]


def test_an_import_on_a_sheet_changed_in_between_is_refused(client):
    reply = send(client, f"{STACK}/import", "stack.csv", GOOD, base_revision=0, save_key="i" * 12)
    assert reply.status_code == 409
    assert reply.json()["conflict"]["differences"]


def test_a_file_too_large_is_refused_before_it_is_read(client):
    reply = send(client, f"{STACK}/import/preview", "big.csv", b"x" * 9_000_000)
    assert reply.status_code == 413
    assert "at most 8 MB" in reply.json()["message"]


def log_file(rows):
    rng = np.random.default_rng(2)
    log = a_log(SILT_GRAINS, METHODS["hydrometer"].Settings(), rng, rows)
    lines = ["time [min];reading;temp [°C]", *(f"{a};{b};{c}" for a, b, c in zip(*log.values(), strict=True))]
    return "\n".join(lines).encode()


def test_a_logger_file_of_twenty_thousand_rows(client):
    revision = sheet(client, CYLINDER)["revision"]
    reply = send(
        client, f"{CYLINDER}/import", "station.csv", log_file(20_000), base_revision=revision, save_key="l" * 12
    )
    assert reply.json()["count"] == 20_000
    view = sheet(client, CYLINDER)
    assert view["logs"] == [{"name": "log", "title": "logger file", "file": "station.csv", "rows": 20_000}]
    assert view["verdict"]["headline"]["symbol"] == "clay size"
    # The page and the sheet say how long the file is; they never carry its rows.
    assert len(client.get(f"/tests/{CYLINDER}").text) < 400_000
    assert client.get(f"/tests/{CYLINDER}/sheet.pdf").status_code == 200
    assert "station.csv" not in client.get(f"/tests/{CYLINDER}/readings.csv").text.splitlines()[0]
    out = client.post(
        f"/api/tests/{CYLINDER}/save",
        json={"base_revision": view["revision"], "save_key": "m" * 12, "logs": {"log": None}},
    )
    assert out.json()["logs"] == []


def test_a_bench_file_with_a_log_reduces_to_the_same(client):
    revision = sheet(client, CYLINDER)["revision"]
    send(client, f"{CYLINDER}/import", "station.csv", log_file(3000), base_revision=revision, save_key="l" * 12)
    bench = client.get(f"/tests/{CYLINDER}/bench.json").json()
    result = client.post("/api/reduce", json=bench).json()
    shown = sheet(client, CYLINDER)["verdict"]["headline"]["text"]
    assert next(p for p in result["parameters"] if p["key"] == "clay_percent")["text"] == shown


@pytest.mark.parametrize("test", [24, 25, 26, 27, 30, 34, 35, 36, 37])
def test_every_new_sheet_prints(client, test):
    reply = client.get(f"/tests/{test}/sheet.pdf")
    assert reply.content.startswith(b"%PDF")


def test_results_that_contradict_each_other_are_named(client, database):
    """More water than voids: a ring, a water content and grains that were tested one by one."""
    assert "contradict" not in client.get("/samples/2").text

    def summary(key, reported):
        return {
            "complete": True,
            "reportable": True,
            "parameters": {key: {"symbol": "", "text": str(reported), "unit": "", "reported": reported}},
        }

    with Session(open_database(database)) as session:
        water = session.exec(select(Test).where(Test.sample_id == 2, Test.method == "water-content")).one()
        water.summary = summary("water_content", 41.0)
        grains = Test(method="particle-density", sample_id=2, state="checked", summary=summary("particle_density", 2.7))
        session.add_all([water, grains])
        session.commit()
        number = grains.id
    page = client.get("/samples/2").text
    assert "Results that contradict each other" in page
    # Dry density 1.58: e = 2.7 x 0.9982 / 1.58 - 1 = 0.7058, S = 41 x 2.7 / 0.7058 = 157 %.
    assert "S = w Gs / e = 157 %" in page
    assert f"2.70 (test {number})" in page


def test_the_vane_and_the_water_beside_a_sample_are_held_against_it(database):
    def reported(key, value):
        parameters = {key: {"symbol": "", "text": str(value), "unit": "", "reported": value}}
        return {"complete": True, "reportable": True, "parameters": parameters}

    with Session(open_database(database)) as session:
        hole = session.exec(select(Location).where(Location.name == "BH2")).one()
        [cored] = [sample for sample in hole.samples if sample.name == "U1"]
        cored.tests.append(Test(method="unconfined", state="checked", summary=reported("su", 140.0)))
        well = session.exec(select(Location).where(Location.name == "W1")).one()
        shallow, deep = (
            Sample(
                location=well,
                name=name,
                top_m=top,
                base_m=top + 0.2,
                tests=[Test(method="sieve", state="checked", summary=reported("d10_mm", 2.0))],
            )
            for name, top in (("S1", 0.1), ("S2", 0.9))
        )
        session.add_all([cored, shallow, deep])
        session.commit()
        [found] = disagreements(session, cored)
        # The vane's rows at 1.6 and 1.8 m lie within the sample, 1.50 to 1.95 m: some 24 kPa.
        assert found.code == "two-strengths"
        assert re.search(r"Vane 2\d kPa \(test 49\) and unconfined 140 kPa", found.message)
        [found] = disagreements(session, shallow)
        assert found.code == "conductivity-against-grading"
        assert disagreements(session, deep) == [], "the water went in at the surface"

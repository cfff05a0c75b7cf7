"""Tests in the ground at a location, load rings in the register, long tables folded."""

import re
import subprocess
import sys

import pytest

from tests.command_line import vadum
from tests.laboratory import CBR_IN_SITU_TP4, CBR_LAB_G1_2, PLATE_INCREMENTAL_P1_1, VANE_BH2
from tests.printed import words_of
from tests.web.hands import read, save
from vadum.web.view import folded_runs

GROUND, STEPS, PLANNED_MOULD = CBR_IN_SITU_TP4, PLATE_INCREMENTAL_P1_1, CBR_LAB_G1_2


def test_a_test_in_the_ground_is_planned_at_its_location(client):
    reply = client.post("/locations/1/tests", data={"method": "vane"}, follow_redirects=False)
    assert reply.status_code == 303
    test = int(re.search(r"/tests/(\d+)", reply.headers["location"])[1])
    page = client.get(f"/tests/{test}").text
    assert "TP4" in page
    assert "gc-layer" in page  # the ground column stands beside it, no sample chosen
    assert f"/tests/{test}" in client.get("/projects/1").text
    save(client, test, cells={"soil": "clay"})
    assert any(line["test"] == test for part in client.get("/api/board").json()["parts"] for line in part["lines"])
    assert client.get(f"/tests/{test}/sheet").status_code == 200
    assert client.post("/locations/999/tests", data={"method": "vane"}).status_code == 404
    assert client.post("/locations/1/tests", data={"method": "spoon"}).status_code == 404


def test_the_sheet_of_a_plate_prints_what_the_test_cannot_say(client):

    text = words_of(client.get(f"/tests/{STEPS}/sheet.pdf").content)
    text = re.sub(r"\s+", " ", text)
    assert "about two plate widths below it" in text
    assert "footing B = 1 m (the footing's width, not the pit's)" in text.replace("’", "'")


def test_a_ring_from_the_register_gives_the_forces(client):
    for i, (pen, div) in enumerate([(0.0, 0), (0.25, 12), (0.5, 50)]):
        save(client, PLANNED_MOULD, cells={f"top.{i}.penetration_mm": str(pen), f"top.{i}.ring_div": str(div)})
    sheet = client.get(f"/api/tests/{PLANNED_MOULD}/sheet").json()
    assert "Ring 20" in sheet["verdict"]["school"]
    table = next(t for t in sheet["tables"] if t["name"] == "top")
    assert float(table["rows"][2]["computed"]["force_kn"]) > 0


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("", "needs its calibration"),
        ("0 0", "at least two pairs"),
        ("0 0; 100 1; 90 2", "rising"),
        ("0 0; 100", "in pairs"),
        ("0 0; hundred 1", "number"),
    ],
)
def test_a_ring_without_a_sound_calibration_is_refused(client, typed, words):
    reply = client.post("/equipment", data={"name": "Ring 7", "kind": "load ring", "calibration": typed})
    assert reply.status_code == 422
    assert words in reply.text


def test_a_ring_is_entered_with_decimal_commas(client):
    reply = client.post(
        "/equipment",
        data={"name": "Ring 7", "kind": "load ring", "calibration": "0 0; 100 0,51; 200 1,03"},
        follow_redirects=False,
    )
    assert reply.status_code == 303
    assert "3 points to 200 div, 1.03 kN" in read(client.get("/equipment"))


def test_runs_of_one_value_fold_to_their_last_row():
    rows = [{"p": 50}, {}, {}, {"p": 100}, {}, {"p": 150}, {"p": 150}]
    # The last run stands open; the first two fold, a blank counts with the value above it.
    assert folded_runs(rows, "p", 8, None) == {0: 0, 1: 0, 2: 3, 3: 0, 4: 2}
    assert folded_runs(rows, "p", 8, 1) == {3: 0, 4: 2, 5: 0, 6: 2}
    assert folded_runs([], "p", 1, None) == {}
    assert folded_runs([{"p": 1}, {"p": 2}], "p", 3, 0) == {}


def test_a_folded_sheet_carries_the_findings_of_the_rows_it_hides(client):
    client.post(f"/api/tests/{STEPS}/move", json={"action": "reopen", "reason": "look"})
    save(client, STEPS, cells={"rows.1.gauge_c_mm": "9.9"})
    table = next(t for t in client.get(f"/api/tests/{STEPS}/sheet").json()["tables"] if t["name"] == "rows")
    first = next(row for row in table["rows"] if row.get("folds"))
    assert any(f["code"] == "gauge-odd" for row in table["rows"] for f in row["findings"])
    assert first["folds"] > 1
    assert len(table["rows"]) < 20


def test_the_instruments_say_when_their_port_is_taken():
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        command = [sys.executable, "-m", "vadum", "instruments", "--port", port]
        found = subprocess.run(command, capture_output=True, text=True, timeout=180, check=False)
    assert found.returncode == 2
    assert f"port {port}" in found.stderr


@pytest.mark.parametrize("method", ["plate-static", "triaxial", "falling-head"])
def test_what_the_command_line_simulates_it_reduces(method):
    import json

    made = vadum("simulate", method, "--seed", 9)
    reduced = vadum("reduce", "-", stdin=made.stdout)
    result = json.loads(reduced.stdout)
    assert result["reportable"]
    assert result["findings"] == []


VANE = VANE_BH2


def test_a_vane_of_the_register_fills_its_constants(client):
    reply = client.post(
        "/equipment",
        data={"name": "Vane 50", "kind": "vane", "constants": "constant 3,1; full_scale 100"},
        follow_redirects=False,
    )
    assert reply.status_code == 303
    assert "constant 3.1, full scale 100" in read(client.get("/equipment"))
    fields = {f["path"]: f for f in client.get(f"/api/tests/{VANE}/sheet").json()["fields"]}
    assert (fields["constant"]["text"], fields["constant"]["expected"], fields["constant"]["supplied"]) == (
        "",
        "2.33",
        True,
    )


@pytest.mark.parametrize(
    ("typed", "words"),
    [("constant", "write name and number"), ("constant 3.1; width 4", "constants"), ("constant wide", "constants")],
)
def test_constants_that_are_none_are_refused(client, typed, words):
    reply = client.post("/equipment", data={"name": "Vane 9", "kind": "vane", "constants": typed})
    assert reply.status_code == 422
    assert words in reply.text

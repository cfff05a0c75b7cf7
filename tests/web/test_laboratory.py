"""The laboratory as a whole: what one record means for another, and what pages say."""

import csv
import io
import itertools
import re

import pytest
from sqlmodel import select

from tests.laboratory import LIQUID_LIMIT_D2, LIQUID_LIMIT_U2
from tests.printed import words_of
from vadum.drawing.column import Layer, Pin, Texture, draw_ground
from vadum.exchange.readings_csv import readings_csv
from vadum.records.database import open_database, session_on
from vadum.records.tables import Equipment, Sample, Test
from vadum.soil.contract.cells import Sheet, cell_text
from vadum.soil.registry import METHODS
from vadum.web.column import sample_state
from vadum.web.forms import LocationForm, SampleForm, filled
from vadum.web.view import sheet_view


def post_cells(client, test, base, cells, **more):
    body = {"base_revision": base, "save_key": f"save-{test:03}-{base:03}", "cells": cells, **more}
    reply = client.post(f"/api/tests/{test}/save", json=body)
    assert reply.status_code == 200, reply.text
    return reply.json()


def codes(view):
    rows = [row for table in view["tables"] for row in table["rows"]]
    found = [f["code"] for row in rows for f in row["findings"]]
    return (
        found
        + [f["code"] for f in view["findings"]]
        + [f["code"] for field in view["fields"] for f in field["findings"]]
    )


@pytest.fixture
def equipment_ids(database):
    with session_on(open_database(database)) as session:
        return {e.name: e.id for e in session.exec(select(Equipment)).all()}


FIT = {
    "drop_height_mm": "10.0",
    "contact_spot_cup_mm": "6",
    "contact_spot_base_mm": "6",
    "groove_in_cup": "none felt",
    "thickness_percent": "90",
    "feet": "4",
    "tool_tip_mm": "2.0",
}


def test_an_overdue_cup_is_a_finding_until_it_is_inspected(client, equipment_ids):
    cup = equipment_ids["Cup 2"]
    view = post_cells(client, 7, 1, {}, uses=[cup])
    assert "cup-inspection" in codes(view)
    assert "Cup 2" in next(f["message"] for f in view["findings"] if f["code"] == "cup-inspection")
    made = client.post(f"/equipment/{cup}/inspections", follow_redirects=False)
    inspection = int(made.headers["location"].rsplit("/", 1)[1])
    assert post_cells(client, inspection, 0, FIT)["verdict"]["headline"]["text"] == "fit"
    assert "cup-inspection" not in codes(client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json())
    assert "fit, inspected today" in client.get("/equipment").text


def test_a_worn_cup_stays_a_finding(client, equipment_ids):
    cup = equipment_ids["Cup 2"]
    inspection = int(
        client.post(f"/equipment/{cup}/inspections", follow_redirects=False).headers["location"].rsplit("/", 1)[1]
    )
    view = post_cells(client, inspection, 0, FIT | {"groove_in_cup": "felt with the finger"})
    assert view["verdict"]["headline"]["text"] == "replace"
    finding = next(f for f in post_cells(client, 7, 1, {}, uses=[cup])["findings"] if f["code"] == "cup-inspection")
    assert "worn" in finding["message"]
    assert "another cup" in finding["action"]


def test_a_liquid_limit_without_a_cup_says_so(client):
    assert "cup-inspection" in codes(post_cells(client, 7, 1, {}, uses=[]))


def test_the_tin_register_supplies_the_tare_and_shows_it(client):
    view = post_cells(client, 22, 0, {"determinations.0.tin": "T-05", "determinations.0.mass_tin_wet_g": "78.40"})
    cell = view["tables"][0]["rows"][0]["cells"]["mass_tin_g"]
    assert cell["supplied"]
    assert float(cell["expected"]) > 16
    view = post_cells(client, 22, 1, {"determinations.0.mass_tin_dry_g": "66", "determinations.0.drying_h": "17"})
    tare = float(cell["expected"])
    assert float(view["tables"][0]["rows"][0]["computed"]["water_content_percent"]) == pytest.approx(
        1240 / (66 - tare), abs=0.06
    )


def test_planning_a_test_proposes_the_usual_equipment(client):
    reply = client.post("/samples/8/tests", data={"method": "liquid-limit"}, follow_redirects=False)
    test = int(reply.headers["location"].rsplit("/", 1)[1])
    uses = client.get(f"/api/tests/{test}/sheet").json()["uses"]
    assert uses == client.get(f"/api/tests/{LIQUID_LIMIT_D2}/sheet").json()["uses"] != []
    assert client.post("/samples/8/tests", data={"method": "seance"}).status_code == 404


def test_leaving_a_row_out_keeps_it_on_record(client):
    view = post_cells(client, 7, 1, {"trials.1.left_out": "dry side"})
    row = view["tables"][0]["rows"][1]
    assert row["leftOut"] == "dry side"
    assert int(row["cells"]["blows"]["text"]) > 35
    assert codes(view) == []
    assert "dry side" in client.get(f"/tests/{LIQUID_LIMIT_U2}/readings.csv").text


def test_a_preview_saves_nothing(client):
    before = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()
    shown = client.post(f"/api/tests/{LIQUID_LIMIT_U2}/preview", json={"cells": {"trials.0.blows": "16"}}).json()
    assert shown["verdict"] != before["verdict"]
    assert client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()["revision"] == before["revision"]


def test_the_next_dry_mass_is_expected_where_the_line_says(client):
    cells = {"trials.4.blows": "25", "trials.4.tin": "T-01", "trials.4.mass_tin_wet_g": "40.00"}
    view = post_cells(client, 7, 1, cells)
    low, high = map(float, view["tables"][0]["rows"][4]["cells"]["mass_tin_dry_g"]["expected"].split("–"))
    limit = float(view["verdict"]["headline"]["text"])
    tare = float(view["tables"][0]["rows"][4]["cells"]["mass_tin_g"]["expected"])
    assert low < tare + (40 - tare) / (1 + limit / 100) < high
    assert high - low < 1.0


def test_void_and_reopened(client):
    move = f"/api/tests/{LIQUID_LIMIT_U2}/move"
    assert client.post(move, json={"action": "void"}).status_code == 409
    voided = client.post(move, json={"action": "void", "reason": "wrong sample"}).json()
    assert (voided["state"], voided["voidReason"], voided["locked"]) == ("void", "wrong sample", True)
    sheet = words_of(client.get(f"/tests/{LIQUID_LIMIT_U2}/sheet.pdf").content)
    assert "Void: wrong sample" in sheet
    assert client.post(move, json={"action": "check"}).status_code == 409
    assert client.post(move, json={"action": "reopen", "reason": "it was right"}).json()["state"] == "running"


def test_the_role_is_written_beside_every_change(client):
    client.post("/who", data={"role": "technician 2", "back": "//elsewhere.example"})
    post_cells(client, 23, 0, {"trials.0.blows": "30"})
    assert client.get(f"/api/tests/{LIQUID_LIMIT_D2}/history").json()[0]["who"] == "technician 2"
    assert (
        client.post("/who", data={"role": "x", "back": "//elsewhere.example"}, follow_redirects=False).headers[
            "location"
        ]
        == "/"
    )


def test_every_state_is_in_the_demonstration(database):
    with session_on(open_database(database)) as session:
        tests = session.exec(select(Test)).all()
        assert {"planned", "running", "reduced", "checked", "void"} <= {test.state for test in tests}
        texts = {p["text"] for test in tests for p in test.summary.get("parameters", {}).values()}
        assert "NP" in texts
        assert any(test.summary.get("warnings") for test in tests)
        states = {sample.name: sample_state(sample) for sample in session.exec(select(Sample)).all()}
    assert states["B1"] == "checked"
    assert states["U2"] == "running"
    assert states["D2"] == "planned"


def test_csv_does_not_let_a_remark_become_a_formula():
    method = METHODS["liquid-limit"]
    text = readings_csv(method, {"trials": [{"tin": "=1+1", "blows": 30}]}, method.reduce_raw({}))
    (row,) = [r for r in csv.reader(io.StringIO(text)) if "30" in r]
    assert "'=1+1" in row


@pytest.mark.parametrize(
    ("value", "resolution", "text"),
    [
        (38.6, 0.01, "38.60"),
        (38.625, 0.01, "38.625"),
        (31, 1, "31"),
        (12.7, 1, "12.7"),
        (None, 0.01, ""),
        (0.0, 0.1, "0.0"),
        ("T-1", None, "T-1"),
        (1e-7, None, "1e-07"),
    ],
)
def test_a_cell_shows_the_instruments_decimals_and_never_fewer_than_typed(value, resolution, text):
    assert cell_text(value, resolution) == text


def test_the_grid_shows_the_columns_of_the_school():
    method = METHODS["liquid-limit"]

    def headings(school):
        view = sheet_view(method, Sheet(), {"school": school}, {}, method.reduce_raw({}, {"school": school}))
        return [column.key for column in view.tables[0].columns]

    assert headings("multipoint")[:3] == ["blows", "closure_mm", "tin"]
    assert headings("one-point")[:2] == ["blows", "blows_repeat"]
    assert headings("fall-cone")[:2] == ["penetration_mm", "penetration_repeat_mm"]


@pytest.mark.parametrize(
    ("form", "field", "says"),
    [
        ({"name": "S1", "top_m": "a", "base_m": "2"}, "top_m", "not a number"),
        ({"name": "S1", "top_m": "1"}, "form", "give the depths"),
        ({"top_m": "1", "base_m": "2"}, "name", "is missing"),
        ({"name": "S1", "top_m": "-1", "base_m": "2"}, "top_m", "below"),
        ({"name": "S" * 99, "top_m": "1", "base_m": "2"}, "name", "longer than 80"),
    ],
)
def test_a_form_says_which_field_is_wrong(form, field, says):
    made, errors = filled(SampleForm, form)
    assert made is None
    assert says in (errors.get(field) or next(iter(errors.values())))


def test_depths_may_be_typed_in_feet():
    made, errors = filled(LocationForm, {"name": "TP1", "depth_m": "10 ft"})
    assert errors == {}
    assert made.depth_m == pytest.approx(3.048)


def column(**texture):
    return draw_ground("k", 4.0, [Layer(0, 4, "clay", Texture(7, **texture))], [], width=158, height=640)


def test_the_ground_is_drawn_from_its_tests():
    lean, fat = column(plasticity_index=8.0), column(plasticity_index=40.0)
    assert fat.count("gc-wave") > 1.5 * lean.count("gc-wave") > 0
    assert column(non_plastic=True).count("gc-dot") > 50
    assert "gc-wave" not in column()
    assert fat == column(plasticity_index=40.0), "the same sample never flickers"


def test_pins_close_together_keep_their_labels_apart():
    pins = [Pin(1.0 + i / 100, 1.0 + i / 100, f"S{i}", "planned", f"/samples/{i}", f"Sample S{i}") for i in range(4)]
    drawn = draw_ground("k", 4.0, [], pins, width=158, height=640)
    heights = [float(y) for y in re.findall(r'<text x="139" y="([\d.]+)">S\d', drawn)]
    assert len(heights) == 4
    assert all(b - a >= 16 for a, b in itertools.pairwise(heights))
    assert drawn.count("<a href=") == 4


def test_a_long_name_is_cut_where_the_marks_of_its_tests_begin():
    marks = tuple(("running", "w", "Water content: running") for _ in range(4))
    names = ("U3", "Sample tube no. 2026-0147-U3 (lower half)")
    pins = [Pin(i, i, name, "running", f"/samples/{i}", f"Sample {name}", marks=marks) for i, name in enumerate(names)]
    drawn = draw_ground("k", 4.0, [], pins, width=300, height=420)
    assert ">U3<" in drawn
    (cut,) = re.findall(r'x="139" y="[\d.]+">([^<]*…)<', drawn)
    assert names[1].startswith(cut[:-1])
    assert f"<title>Sample {names[1]}</title>" in drawn, "the whole of it where it is pointed at"
    first = min(float(x) for x in re.findall(r'cx="([\d.]+)" cy="[\d.]+" r="4.5"', drawn))
    assert 139 + 6.1 * len(cut) <= first - 4.5
    # Beside a worksheet three letters have room, and what is cut says so.
    narrow = draw_ground(
        "k", 4.0, [], [Pin(1, 1, name, "planned", "/s", "") for name in ("U12", "U123")], width=158, height=640
    )
    assert ">U12<" in narrow
    assert ">U1…<" in narrow

"""Readings taken from instruments into cells, and where each came from."""

import re
from datetime import date, timedelta

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.laboratory import SIEVE_G2, WATER_CONTENT_U1_1
from tests.ports import free_port
from tests.web.hands import save, take
from vadum.instruments import client as near_end
from vadum.instruments.client import BenchLine, Remote
from vadum.records.database import open_database
from vadum.records.tables import Calibration, Equipment, LaboratorySetting, Test
from vadum.report.sheet import sheet_of
from vadum.web.app import create_app

WATER = WATER_CONTENT_U1_1  # planned in the demonstration laboratory
DIE = "determinations.0.mass_tin_wet_g"


@pytest.fixture
def lab(database, line):
    with TestClient(create_app(database, line.port)) as client:
        yield client


def test_columns_are_offered_the_instruments_that_fit(lab):
    columns = {c["column"]: c["offers"] for c in lab.get(f"/api/tests/{WATER}/instruments").json()["columns"]}
    assert columns["determinations.mass_tin_wet_g"] == ["fine balance / mass", "large balance / mass"]
    assert "determinations.tin" not in columns


def test_a_bound_column_is_read_and_keeps_where_it_came_from(lab, line):
    save(lab, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    line.instrument("fine balance").present("mass", [0.0], [58.621])
    got = take(lab, WATER, DIE)
    assert got["cells"] == {DIE: "58.62"}
    assert got["troubles"] == {}
    origin = got["origins"][DIE]
    assert (origin["instrument"], origin["certificate"], origin["calibrated"]) == (
        "fine balance",
        "C-042",
        "2026-03-02",
    )
    # Nothing is saved before the page sends it; then the origin stays with the cell, also in the history.
    assert "determinations" not in lab.get(f"/tests/{WATER}/bench.json").json()["readings"]
    sheet = save(lab, WATER, cells=got["cells"], origins=got["origins"])
    assert sheet["origins"][DIE]["serial"] == "SB-0042"
    assert "from fine balance" in lab.get(f"/api/tests/{WATER}/history").json()[0]["what"]
    # A hand that types over it takes the origin away.
    assert DIE not in save(lab, WATER, cells={DIE: "58.70"})["origins"]


def test_the_sheet_prints_the_instrument_and_its_calibration(lab, database):
    save(lab, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    got = take(lab, WATER, DIE)
    save(lab, WATER, cells=got["cells"], origins=got["origins"])
    with Session(open_database(database)) as session:
        data = sheet_of(session, session.get(Test, WATER)).data
    assert any(
        re.search(r"fine balance SB-0042, SIMULATED, not measured: 1 reading", words) for words in data["equipment"]
    )


@pytest.fixture
def real(lab, database):
    """The same laboratory, were it not a demonstration."""
    with Session(open_database(database)) as session:
        session.delete(session.get(LaboratorySetting, "demonstration"))
        session.commit()
    return lab


def test_a_simulated_instrument_fills_no_record_of_a_real_laboratory(real):
    save(real, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    got = take(real, WATER, DIE)
    assert got["cells"] == got["origins"] == {}
    assert "is simulated: what it shows never enters a record" in got["troubles"][DIE]
    offered = real.get(f"/api/tests/{WATER}/instruments").json()
    assert {offer for column in offered["columns"] for offer in column["offers"]} == set()
    assert "never enters a record" in offered["trouble"]


def test_practice_is_played_with_simulated_instruments_anywhere(real):
    begun = real.post("/practice", data={"method": "water-content"}, follow_redirects=False).headers["location"]
    test = re.search(r"/tests/(\d+)/run", begun)[1]
    assert take(real, test, DIE)["cells"]


def test_a_real_instrument_is_read_anywhere(real, monkeypatch):
    identify = Remote.identify
    monkeypatch.setattr(Remote, "identify", lambda self: identify(self).model_copy(update={"stand_in": False}))
    save(real, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    got = take(real, WATER, DIE)
    assert got["cells"].keys() == {DIE}
    assert "simulated" not in got["origins"][DIE]


@pytest.mark.parametrize(
    ("fault", "words"),
    [("silent", "does not answer"), ("garbage", "garbage"), ("frozen", "frozen"), ("out of range", "range")],
)
def test_a_doubtful_instrument_gives_no_reading(lab, monkeypatch, fault, words):
    save(lab, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    assert lab.post("/api/instruments/fine balance/fault", json={"fault": fault}).status_code == 200
    if fault == "silent":
        monkeypatch.setattr(near_end, "PATIENCE_S", 0.4)
    got = take(lab, WATER, DIE)
    assert got["cells"] == {}
    assert words in got["troubles"][DIE]


def test_a_column_without_an_instrument_says_how_to_get_one(lab):
    assert "Choose one under Instruments" in take(lab, WATER, DIE)["troubles"][DIE]
    assert lab.post(f"/api/tests/{WATER}/read", json={"cells": {"determinations.0.colour": None}}).status_code == 422


def test_the_page_of_instruments_lists_them_and_says_when_nobody_answers(lab, database):
    assert "pH meter with thermometer" in lab.get("/instruments").text
    shown = lab.get("/api/instruments").json()
    assert all(value["text"] for one in shown["instruments"] for value in one["values"])
    assert lab.post("/api/instruments/fine balance/zero", json={"quantity": "level"}).status_code == 424
    with TestClient(create_app(database, free_port())) as alone:
        assert "No line to the bench of instruments" in alone.get("/api/instruments").json()["trouble"]
        assert alone.get(f"/api/tests/{WATER}/instruments").json()["columns"][0]["offers"] == []


def test_every_test_can_be_run_one_reading_at_a_time(lab):
    for test in (5, 18, 38, 39, 41):
        page = lab.get(f"/tests/{test}/run?one=1", follow_redirects=False)
        assert page.status_code in (200, 303)
    assert "Take the" not in lab.get(f"/tests/{SIEVE_G2}/run").text
    assert 'x-data="steps"' in lab.get(f"/tests/{SIEVE_G2}/run").text


def test_the_certificate_of_the_register_counts_not_what_the_instrument_says(lab, database):
    save(lab, WATER, bindings={"determinations.mass_tin_wet_g": "fine balance / mass"})
    with Session(open_database(database)) as session:
        piece = Equipment(name="Fine balance", kind="balance")
        session.add(piece)
        session.flush()
        day = date.today()
        session.add(
            Calibration(equipment_id=piece.id, on=day - timedelta(days=9), certificate_number="K-77", who="manager")
        )
        session.commit()
    origin = take(lab, WATER, DIE)["origins"][DIE]
    assert (origin["certificate"], origin["calibrated"]) == ("K-77", (day - timedelta(days=9)).isoformat())
    assert "out_of_date" not in origin
    with Session(open_database(database)) as session:
        (kept,) = session.exec(select(Calibration).where(Calibration.certificate_number == "K-77"))
        kept.due = day - timedelta(days=1)
        session.add(kept)
        session.commit()
    assert "ran out" in take(lab, WATER, DIE)["origins"][DIE]["out_of_date"]


def test_a_pattern_is_tried_on_what_was_pasted(lab):
    sent = {"pattern": "{rest},{any},{value} {unit}", "written": "ST,GS,+  38.62 g\nUS,GS,+ 1 g\nErr\n", "rest": "ST"}
    lines = lab.post("/api/pattern", json=sent).json()
    assert [line["shown"] and (line["shown"]["value"], line["shown"]["at_rest"]) for line in lines] == [
        (38.62, True),
        (1.0, False),
        None,
    ]
    refused = lab.post("/api/pattern", json=sent | {"pattern": "{unit}"})
    assert refused.status_code == 422
    assert refused.json()["message"] == "say where the value stands: {value}"


def test_an_adapter_that_says_too_little_of_itself_breaks_no_page(lab, monkeypatch):
    half = [{"name": "old scale"}]
    monkeypatch.setattr(BenchLine, "listed", lambda _: half)
    (one,) = lab.get("/api/instruments").json()["instruments"]
    assert "does not say its kind, quantities" in one["values"][0]["trouble"]
    assert lab.get("/instruments").status_code == 200
    assert lab.get(f"/api/tests/{WATER}/instruments").status_code == 200

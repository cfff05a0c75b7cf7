"""What a test was made with: kinds by its readings and its method, what nobody named, certificates, tins twice."""

import json
import re
from pathlib import Path

import pytest
from sqlmodel import Session, select

from tests.laboratory import COMPACTION_G1, LIQUID_LIMIT_U2, PLASTIC_LIMIT_U2, UNCONFINED_U2
from tests.printed import words_of
from vadum.records.database import open_database
from vadum.records.tables import EQUIPMENT_KINDS, Equipment, Test
from vadum.soil.contract.equipment import READ_BY, TRACED, needed
from vadum.soil.registry import METHODS

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
# What the assessor asks of each: force, displacement, pressure and temperature, where they are measured.
MEASURED = {
    "cbr-lab": {"load ring", "gauge"},
    "cbr-in-situ": {"load ring", "gauge"},
    "plate-static": {"gauge", "pressure gauge"},
    "plate-incremental": {"gauge", "pressure gauge"},
    "direct-shear": {"load ring", "gauge"},
    "unconfined": {"load ring", "gauge"},
    "triaxial": {"load ring", "gauge", "pressure gauge"},
    "hydrometer": {"hydrometer", "thermometer"},
    "permeability-laboratory": {"thermometer"},
}


def printed(client, test):
    return words_of(client.get(f"/tests/{test}/sheet.pdf").content)


def example(code):
    data = json.loads((EXAMPLES / f"{code}.json").read_text(encoding="utf-8"))
    method = METHODS[code]
    return needed(method, data["readings"], method.Settings.model_validate(data.get("settings", {})))


@pytest.mark.parametrize("code", MEASURED)
def test_what_is_measured_is_traced(code):
    assert set(example(code)) >= MEASURED[code]
    assert MEASURED[code] <= TRACED.keys()


def test_every_kind_that_a_method_names_is_in_the_register():
    named = {kind for method in METHODS.values() for kind in method.made_with}
    assert named | set(READ_BY.values()) | TRACED.keys() <= set(EQUIPMENT_KINDS)


def test_it_follows_the_school_and_what_was_read():
    method = METHODS["liquid-limit"]
    trials = {"trials": [{"tin": "T-1", "mass_tin_wet_g": 30.0}]}
    assert needed(method, trials, method.Settings()) == ["balance", "cup", "grooving tool", "oven"]
    by_cone = method.Settings.model_validate({"school": "fall-cone", "tins_dried": "microwave"})
    assert needed(method, trials, by_cone) == ["balance", "cone"]
    assert needed(method, {}, method.Settings()) == []


def test_what_nobody_named_is_said_until_somebody_does(client, database):
    with Session(open_database(database)) as session:
        test = session.get(Test, UNCONFINED_U2)
        gauge = next(piece for piece in test.uses if piece.kind == "gauge")
        test.uses = [piece for piece in test.uses if piece.kind == "balance"]
        session.add(test)
        session.commit()
        number, left = gauge.id, [piece.id for piece in test.uses]
    said = printed(client, UNCONFINED_U2)
    assert "Equipment not named: gauge, load ring, press" in said
    assert client.get(f"/api/tests/{UNCONFINED_U2}/review").json()["not_named"] == ["gauge", "load ring", "press"]
    sheet = client.get(f"/api/tests/{UNCONFINED_U2}/sheet").json()
    assert sheet["notNamed"] == ["gauge", "load ring", "press"]
    client.post(f"/api/tests/{UNCONFINED_U2}/move", json={"action": "reopen", "reason": "equipment"})
    revision = client.get(f"/api/tests/{UNCONFINED_U2}/sheet").json()["revision"]
    change = {"base_revision": revision, "uses": [*left, number], "save_key": "gauge-named"}
    reply = client.post(f"/api/tests/{UNCONFINED_U2}/save", json=change)
    assert reply.status_code == 200, reply.text
    assert reply.json()["notNamed"] == ["load ring", "press"]


def test_the_number_of_the_certificate_stands_beside_the_piece(client, database):
    with Session(open_database(database)) as session:
        balance = session.exec(select(Equipment.id).where(Equipment.name == "Balance 2")).one()
    told = {"on": "2026-11-01", "due": "2027-11-01", "uncertainty": "0,02", "certificate_number": "K-207/26"}
    assert client.post(f"/equipment/{balance}/calibrations", data=told, follow_redirects=False).status_code == 303
    said = printed(client, COMPACTION_G1)
    assert re.search(r"Balance \d \(balance\), certificate K-\d+/26, calibrated 2026-\d\d-\d\d, until 2027", said)
    assert "Press 1 (press)" in printed(client, UNCONFINED_U2), "what measures nothing needs no certificate"


def test_what_measures_and_was_never_calibrated_says_so(client, database):
    with Session(open_database(database)) as session:
        scale = Equipment(name="Balance 9", kind="balance")
        session.add(scale)
        test = session.get(Test, UNCONFINED_U2)
        test.uses = [*test.uses, scale]
        session.add(test)
        session.commit()
    assert "Balance 9 (balance), no calibration of its mass on record" in printed(client, UNCONFINED_U2)


@pytest.mark.parametrize(("of_mould", "volume"), [("volume_mould_cm3 949", "949"), ("mass_mould_g 2113", "")])
def test_worksheets_open_beside_a_compaction_whose_mould_is_in_the_register(client, database, of_mould, volume):
    """The volume stands with the mould, not among the readings: the calculator of mixes takes it from there."""
    client.post("/equipment", data={"name": "Mould 44", "kind": "mould", "constants": of_mould})
    with Session(open_database(database)) as session:
        mould = session.exec(select(Equipment.id).where(Equipment.name == "Mould 44")).one()
    sheet = client.get(f"/api/tests/{COMPACTION_G1}/sheet").json()
    change = {"base_revision": sheet["revision"], "save_key": "of-the-register", "uses": [*sheet["uses"], mould]}
    saved = client.post(f"/api/tests/{COMPACTION_G1}/save", json=change | {"cells": {"volume_mould_cm3": ""}}).json()
    assert saved["verdict"]["reportable"] == bool(volume)
    shown = client.get(f"/tests/{COMPACTION_G1}")
    assert shown.status_code == 200
    assert re.search(r'id="mix-volume_cm3".*?value="([^"]*)"', shown.text, re.S)[1] == volume


def test_a_tin_that_holds_two_soils_at_once_is_asked_about(client):
    """Two tests under way at one bench: the number of a tin is read wrong in one of them."""
    sheet = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()
    row = len(client.get(f"/tests/{LIQUID_LIMIT_U2}/bench.json").json()["readings"]["trials"])
    cells = {f"trials.{row}.tin": "T-60", f"trials.{row}.mass_tin_wet_g": "33.1"}
    change = {"base_revision": sheet["revision"], "cells": cells, "save_key": "first-tin"}
    first = client.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=change).json()
    assert "also stands in" not in json.dumps(first)
    other = client.get(f"/api/tests/{PLASTIC_LIMIT_U2}/sheet").json()
    rows = client.get(f"/tests/{PLASTIC_LIMIT_U2}/bench.json").json()["readings"]
    table, there = next((name, len(kept)) for name, kept in rows.items() if isinstance(kept, list))
    preview = {"cells": {f"{table}.{there}.tin": "T-60", f"{table}.{there}.mass_tin_wet_g": "29.4"}}
    change = {"base_revision": other["revision"], "save_key": "second-tin"} | preview
    said = json.dumps(client.post(f"/api/tests/{PLASTIC_LIMIT_U2}/save", json=change).json())
    assert f"Tin T-60 also stands in liquid limit of TP4 U2 (test {LIQUID_LIMIT_U2})" in said
    unknown = {f"{table}.{there}.tin": "X-99"}
    shown = client.post(f"/api/tests/{PLASTIC_LIMIT_U2}/preview", json={"cells": unknown}).json()
    assert "Tin X-99 is not in the register." in json.dumps(shown)

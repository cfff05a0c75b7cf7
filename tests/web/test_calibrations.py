"""Calibrations: the one in force on the test's day, what ran out, and the sheets a wrong one touches."""

import re
from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest
from sqlmodel import Session, select

from tests.laboratory import CBR_LAB_G1_1, LIME_DEMAND_G1_1, LIQUID_LIMIT_U2
from vadum.records.calibrations import calibrations_of, in_force, why_not
from vadum.records.certificates import known
from vadum.records.database import open_database
from vadum.records.tables import Calibration, Equipment, Revision, Test, TestUse
from vadum.soil.bench.plunger.residuals import residual_figure
from vadum.soil.physics.water import water_density

MOULD = CBR_LAB_G1_1  # a CBR in the mould of the demonstration laboratory
TODAY = datetime.now(UTC).date()


def ahead(days):
    """Return the day so many days from now, which need not be the one on which the tests were gathered."""
    return str(datetime.now(UTC).date() + timedelta(days=days))


def on(days, due=None, **more):
    return Calibration(
        equipment_id=1,
        on=TODAY + timedelta(days=days),
        due=None if due is None else TODAY + timedelta(days=due),
        who="m",
        **more,
    )


@pytest.mark.parametrize(
    ("every", "day", "chosen", "words"),
    [
        ([], 0, None, "never calibrated"),
        ([on(-400, -35), on(-30, 335)], 0, 1, ""),
        ([on(-400, -35), on(-30, 335)], -100, 0, ""),
        ([on(-400, -35)], 0, 0, "ran out on"),
        ([on(-400, 0)], 0, 0, ""),
        ([on(5, 300)], 0, None, "after this test's day"),
        ([on(-400)], 0, 0, ""),
    ],
)
def test_the_one_in_force(every, day, chosen, words):
    at = TODAY + timedelta(days=day)
    assert in_force(every, at) is (None if chosen is None else every[chosen])
    assert words in why_not(every, at)
    assert bool(why_not(every, at)) == bool(words)


@pytest.fixture
def ring(database, client):
    """The ring of the register, used by the mould's test whose first reading was ten days ago."""
    with Session(open_database(database)) as session:
        ring = session.exec(select(Equipment).where(Equipment.name == "Ring 20")).one()
        session.add(TestUse(test_id=MOULD, equipment_id=ring.id))
        first = session.exec(select(Revision).where(Revision.test_id == MOULD, Revision.number == 1)).one()
        first.at = datetime.now(UTC) - timedelta(days=10)
        session.add(first)
        session.commit()
        return ring.id, ring.calibration


def cbr(client):
    return client.get(f"/api/tests/{MOULD}/sheet").json()["verdict"]["headline"]["text"]


def record(client, piece, **form):
    return client.post(f"/equipment/{piece}/calibrations", data=form, follow_redirects=False)


def twice(table):
    return "; ".join(f"{d} {2 * f}" for d, f in table)


def test_a_test_keeps_the_factor_of_its_day(client, ring):
    piece, table = ring
    sheet = client.post(f"/api/tests/{MOULD}/move", json={"action": "reopen", "reason": "by the register"}).json()
    body = {"base_revision": sheet["revision"], "save_key": "by-the-register", "cells": {"ring_factor_n_div": ""}}
    assert client.post(f"/api/tests/{MOULD}/save", json=body).status_code == 200
    before = cbr(client)
    assert record(client, piece, on=ahead(-2), due=ahead(300), table=twice(table)).status_code == 303
    assert cbr(client) == before, "calibrated after its day"
    assert record(client, piece, on=ahead(-11), due=ahead(300), table=twice(table)).status_code == 303
    assert float(cbr(client)) > 1.5 * float(before), "calibrated the day before it"


def test_what_ran_out_is_a_finding_a_line_on_the_board_and_on_the_sheet(client, database):
    with Session(open_database(database)) as session:
        balance = session.exec(select(Equipment).where(Equipment.name == "Balance 2")).one()
        (valid,) = calibrations_of(session, balance)
        valid.due = date.fromisoformat(ahead(-3))
        session.add(valid)
        session.commit()
        number = balance.id
    findings = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()["findings"]
    assert any(
        f["code"] == "equipment-out-of-date" and "Balance 2: its calibration ran out on" in f["message"]
        for f in findings
    )
    assert f'href="/equipment/{number}"' in client.get("/board").text
    assert "its calibration ran out" in client.get("/equipment").text
    # The bench file carries it, so that the command line says the same.
    file = client.get(f"/tests/{LIQUID_LIMIT_U2}/bench.json").json()
    codes = [f["code"] for f in client.post("/api/reduce", json=file).json()["findings"]]
    assert "equipment-out-of-date" in codes


def test_the_sheets_a_wrong_piece_touches(client, ring):
    piece, _ = ring
    assert f'href="/tests/{MOULD}"' in client.get(f"/equipment/{piece}").text
    since = client.get(f"/equipment/{piece}", params={"since": ahead(-9)}).text
    assert f'href="/tests/{MOULD}"' not in since
    assert client.get("/equipment/9999").status_code == 404
    assert client.get(f"/equipment/{piece}", params={"since": "yesterday"}).status_code == 422


def test_a_certificate_is_kept_as_it_came(client, ring):
    piece, _ = ring
    data = b"%PDF-1.7 made up"
    reply = client.post(
        f"/equipment/{piece}/calibrations",
        data={"on": ahead(0), "due": "", "certificate_number": "K-20/26"},
        files={"certificate": ("ring 20.pdf", data)},
        follow_redirects=False,
    )
    assert reply.status_code == 303
    page = client.get(f"/equipment/{piece}").text
    assert re.search(r"K-20/26\s*<a", page)
    number = page.split('href="/certificates/')[1].split('"')[0]
    kept = client.get(f"/certificates/{number}")
    assert kept.content == data
    assert kept.headers["content-disposition"] == 'attachment; filename="ring 20.pdf"'
    assert kept.headers["content-type"] == "application/octet-stream"


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"on": ""}, "on"),
        ({"on": "March"}, "on"),
        ({"on": "2026-03-02", "due": "2026-03-01"}, "it runs out after its day"),
        ({"on": "2026-03-02", "table": "0 0; 100"}, "in pairs"),
        ({"on": "2026-03-02", "table": "0 0; 100 1; 90 2"}, "both columns rising"),
        ({"on": "2026-03-02", "constants": "width 3"}, "constants"),
    ],
)
def test_a_calibration_that_is_none_is_refused(client, ring, form, words):
    piece, _ = ring
    reply = record(client, piece, **form)
    assert reply.status_code == 422
    assert words in reply.text


def test_residuals_are_what_one_factor_leaves():
    table = [(0.0, 0.0), (100.0, 1.0), (200.0, 2.1), (300.0, 3.0)]
    drawn = residual_figure(table)
    d, f = np.array(table).T
    slope, level = np.polyfit(d, f, 1)
    expected = 100 * (f - slope * d - level) / 3.0
    assert [m.y for m in drawn.series[0].marks] == pytest.approx(expected.tolist())
    assert f"{1000 * slope:.3f} N" in drawn.description


def test_days_are_days():
    assert why_not([on(0, 10)], date.max) != ""


def test_the_uncertainty_of_a_certificate_counts_for_what_the_piece_read(client, database):
    """A pH meter whose certificate says U = 0.10 (k = 2) leaves at least 0.05 in every pH."""

    def results():
        return {one["key"]: one for one in client.get(f"/api/tests/{LIME_DEMAND_G1_1}/uncertainty").json()["results"]}

    before = results()["highest_ph"]["standard"]
    made = client.post("/equipment", data={"name": "pH 4", "kind": "pH meter"}, follow_redirects=False)
    assert made.status_code == 303
    with Session(open_database(database)) as session:
        meter = session.exec(select(Equipment).where(Equipment.name == "pH 4")).one()
        lime = session.get(Test, 57)
        # Of two meters nothing tells which read what: this one takes the other's place.
        lime.uses = [*(piece for piece in lime.uses if piece.kind != "pH meter"), meter]
        session.commit()
        number = meter.id
    form = {"on": "2026-01-05", "due": "2027-01-05", "uncertainty": "0,10"}
    assert client.post(f"/equipment/{number}/calibrations", data=form, follow_redirects=False).status_code == 303
    after = results()["highest_ph"]
    assert after["standard"] == pytest.approx((before**2 + 0.05**2) ** 0.5, rel=0.05)
    assert after["leading"][0]["label"] == "calibration of pH 4"
    assert re.search(r"U\s+0\.1", client.get(f"/equipment/{number}").text)
    wrong = client.post(f"/equipment/{number}/calibrations", data=form | {"uncertainty": "-1"})
    assert wrong.status_code == 422


def test_a_flask_is_calibrated_once_and_weighed_full_of_water_no_more(client):
    """Empty mass and volume of a flask stand in the register; a pycnometer's rows name the flask and leave them out."""
    form = {"name": "P-31", "kind": "pycnometer", "constants": "mass_empty_g 150; volume_cm3 498,8"}
    assert client.post("/equipment", data=form, follow_redirects=False).status_code == 303
    made = client.post("/samples/8/tests", data={"method": "particle-density"}, follow_redirects=False)
    test = int(made.headers["location"].rsplit("/", 1)[1])
    row = {"pycnometer": "P-31", "mass_soil_water_g": "679.03", "temperature_c": "20", "mass_dry_g": "50"}
    cells = {f"determinations.{i}.{name}": text for i in range(2) for name, text in row.items()}
    body = {"base_revision": 0, "save_key": "two-flasks", "cells": cells}
    view = client.post(f"/api/tests/{test}/save", json=body).json()
    volume = 498.8 - (679.03 - 150 - 50) / water_density(20.0)  # what the grains take of the flask
    assert float(view["verdict"]["headline"]["text"]) == pytest.approx(50 / volume / water_density(20.0), abs=0.006)
    assert not [f for f in view["findings"] if f["code"] == "missing-reading"]
    assert "P-31 150 g 498.8 cm³" in view["verdict"]["school"]  # printed on the sheet below what was followed
    bench = client.get(f"/tests/{test}/bench.json").json()
    again = client.post("/api/reduce", json=bench).json()
    assert "P-31 150 g 498.8 cm³" in again["school"]


def test_the_register_knows_an_instrument_in_whatever_capitals_of_whatever_alphabet(database):
    """A database compares capitals of plain letters only: the certificate of “Waage Ä” was not found."""
    with Session(open_database(database)) as session:
        session.add_all(Equipment(name=name, kind="balance") for name in ("Waage Ä", "WAAGE B", "Waage B"))
        session.flush()
        numbers = {one.name: one.id for one in session.exec(select(Equipment).where(Equipment.kind == "balance"))}
        for name in ("Waage Ä", "Waage B"):
            session.add(Calibration(equipment_id=numbers[name], on=TODAY, who="m", certificate_number=f"of {name}"))
        session.flush()
        assert known(session, "waage ä").certificate == "of Waage Ä"
        assert known(session, "Waage B").certificate == "of Waage B", "not of the piece in other capitals"
        assert known(session, "Waage C") is None

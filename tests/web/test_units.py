"""A project shown and printed in other units: its page, sheets, files, lists; what it reads and sends stays."""

import csv
import io
import re

import pytest
from openpyxl import load_workbook
from sqlmodel import Session

from tests.laboratory import CBR_LAB_G1_1, COMPACTION_G1, LIQUID_LIMIT_B1, UNCONFINED_U2
from tests.printed import words_of
from vadum.records.database import open_database
from vadum.records.tables import Project, Test
from vadum.soil.numbers.unit_sets import SETS

DIRECT_SHEAR_G1 = 52


@pytest.fixture
def shown(client):
    """Return what shows the project in a set of units from now on."""

    def choose(units, mark="."):
        asked = {"units": units, "decimal_mark": mark}
        assert client.post("/projects/1/units", data=asked, follow_redirects=False).status_code == 303
        return client

    return choose


def printed(client, test, query=""):
    return words_of(client.get(f"/tests/{test}/sheet.pdf{query}").content)


def strip(client, test):
    verdict = client.get(f"/api/tests/{test}/sheet").json()["verdict"]
    return {part["symbol"]: (part["text"], part["unit"]) for part in [verdict["headline"], *verdict["others"]]}


def test_a_sheet_is_printed_in_the_set_and_its_readings_in_their_columns(client, shown):
    """1 g/cm³ is 62.428 lb/ft³ (NIST SP 811): the maximum dry density of the demonstration's gravel."""
    before = strip(client, COMPACTION_G1)
    text, unit = before["ρd max"]
    assert unit == "g/cm³"
    shown("US customary")
    after = strip(client, COMPACTION_G1)
    assert after["ρd max"][1] == "lb/ft³"
    assert float(after["ρd max"][0]) == pytest.approx(62.42796 * float(text), abs=0.06)
    assert after["w opt"] == before["w opt"]
    said = printed(client, COMPACTION_G1)
    assert f"{after['ρd max'][0]} lb/ft³" in said
    assert "dry density, lb/ft³" in said
    assert "to the nearest 0.01 (g/cm³)" in said
    assert "volume of mould, cm³ 944" in said, "readings stay as they were read"


def test_the_pages_of_a_projects_ground_speak_its_units(client):
    """The density of one place in lb/ft³ and rates in in/h (NIST SP 811: 62.428, and 25.4 mm to the inch)."""

    def shown(page):
        return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", client.get(f"/projects/1/{page}").text))

    before = re.findall(r"BP1 G1 ([\d.]+) ", shown("densities"))[0]
    mean = re.findall(r"geometric mean ([\d.]+) mm/h", shown("infiltration"))[0]
    client.post("/projects/1/units", data={"units": "US customary", "decimal_mark": ","})
    densities, infiltration = shown("densities"), shown("infiltration")
    assert "ρd, lb/ft³" in densities
    there = re.findall(r"BP1 G1 ([\d,]+) ", densities)[0]
    assert float(there.replace(",", ".")) == pytest.approx(float(before) * 62.428, abs=0.1)
    assert "g/cm³" not in densities
    inches = re.findall(r"geometric mean ([\d,]+) in/h", infiltration)[0]
    assert float(inches.replace(",", ".")) == pytest.approx(float(mean) / 25.4, rel=0.01)
    assert "in/h, 20 °C" in infiltration
    # What is asked is typed in the laboratory's own unit.
    assert infiltration.count("mm/h") == infiltration.count("rate required, mm/h")
    positions = shown("positions")
    assert "in/h" in positions
    assert not re.search(r"mm/h|g/cm³|kPa|MPa", positions)


def test_a_decimal_comma_is_printed_everywhere_and_never_read_from_a_file(client, shown):
    shown("kgf/cm²", ",")
    said = printed(client, UNCONFINED_U2, "?uncertainty=true")
    assert re.search(r"\d,\d+ kgf/cm²", said)
    body = said.replace("ISO/IEC", "").split("Cautions")[0]
    body = re.sub(r"(?:ISO|ASTM|EN|BS|NIST|SP) ?[\w./-]+(?:, \d[\d.]*)?", "", body)
    figures = re.sub(r"Sheet \d+\.\d+", "", body)
    assert not re.search(r"(?<![\d.–-])\d+\.\d+ (?:kgf|mm|g|%|°)", figures)
    lines = list(csv.DictReader(io.StringIO(client.get("/projects/1/results.csv").text.lstrip("\ufeff"))))
    qu = next(line for line in lines if line["test"] == str(UNCONFINED_U2) and line["symbol"] == "qu")
    assert qu["unit"] == "kgf/cm²"
    assert float(qu["reported"]) == pytest.approx(float(strip(client, UNCONFINED_U2)["qu"][0].replace(",", ".")))
    book = load_workbook(io.BytesIO(client.get("/projects/1/results.xlsx").content))
    assert any(cell.value == "kgf/cm²" for row in book["results"].iter_rows() for cell in row)


def test_the_record_and_the_other_formats_know_nothing_of_it(client, shown, database):
    def sent():
        transfer = client.get("/projects/1/results.ags").text
        return client.get(f"/tests/{UNCONFINED_U2}/bench.json").json(), re.sub(r"\d{14}", "", transfer)

    with Session(open_database(database)) as session:
        kept = session.get(Test, UNCONFINED_U2).summary
    before = sent()
    shown("US customary", ",")
    assert sent() == before
    with Session(open_database(database)) as session:
        assert session.get(Test, UNCONFINED_U2).summary == kept


def test_lists_cards_summary_and_log_follow(client, shown):
    shown("US customary")
    assert "lb/ft³" in client.get("/projects/1/summary").text
    assert "ksf" in client.get("/projects/1/summary").text
    page = client.get("/projects/1").text
    assert re.search(r"φ′\s[\d.]+|CBR\s\d+", page)
    assert "Shown and printed in US customary" in page


def test_a_set_nobody_knows_is_si(client, shown):
    shown("furlongs", ";")
    assert "Shown and printed in SI" in client.get("/projects/1").text


def test_a_handle_set_by_hand_is_kept_in_the_laboratorys_unit(client, shown):
    shown("US customary")
    sheet = client.get(f"/api/tests/{CBR_LAB_G1_1}/sheet").json()
    change = {"base_revision": sheet["revision"], "settings": {"tangent_top_mm": "0.0500 in"}, "save_key": "by-hand-1"}
    reply = client.post(f"/api/tests/{CBR_LAB_G1_1}/save", json=change)
    assert reply.status_code == 200, reply.text
    assert client.get(f"/tests/{CBR_LAB_G1_1}/bench.json").json()["settings"]["tangent_top_mm"] == pytest.approx(1.27)


@pytest.mark.parametrize("name", SETS)
def test_every_sheet_of_the_project_prints_in_every_set(client, shown, name):
    shown(name, ",")
    for test in (LIQUID_LIMIT_B1, CBR_LAB_G1_1, DIRECT_SHEAR_G1):
        assert client.get(f"/tests/{test}/sheet/1.png?uncertainty=true").status_code == 200


def test_a_reading_typed_in_another_unit_is_kept_as_it_was_typed(client):
    """The cell shows the column's unit; the sheet says what was typed, as long as that is what stands there."""
    client.post(f"/api/tests/{CBR_LAB_G1_1}/move", json={"action": "reopen", "reason": "a reading in inches"})

    def save(revision, key, text):
        change = {"base_revision": revision, "cells": {"height_specimen_mm": text}, "save_key": key}
        reply = client.post(f"/api/tests/{CBR_LAB_G1_1}/save", json=change)
        assert reply.status_code == 200, reply.text
        return reply.json()

    revision = client.get(f"/api/tests/{CBR_LAB_G1_1}/sheet").json()["revision"]
    shown = save(revision, "in-inches", "4.58 in")
    assert shown["origins"]["height_specimen_mm"] == {"typed": "4.58 in"}
    assert client.get(f"/tests/{CBR_LAB_G1_1}/bench.json").json()["readings"]["height_specimen_mm"] == pytest.approx(
        116.332
    )
    assert "height of soil was typed as 4.58 in" in printed(client, CBR_LAB_G1_1)
    shown = save(shown["revision"], "in-millimetres", "116 mm")
    assert "height_specimen_mm" not in shown["origins"], "its own unit is no other"
    assert "typed as" not in printed(client, CBR_LAB_G1_1)


def test_a_force_typed_where_a_pressure_stands_is_one_on_the_plate(client):
    """12 kN on a round plate of 300 mm: 12 / (pi/4 0.3^2) = 169.8 kPa, shown with what was typed."""
    made = client.post("/locations/1/tests", data={"method": "plate-static"}, follow_redirects=False)
    test = int(made.headers["location"].rsplit("/", 1)[1])
    cells = {"stages.0.pressure_kpa": "12 kN", "stages.1.pressure_kpa": "2,7 kip", "stages.2.pressure_kpa": "3 kg"}
    shown = client.post(f"/api/tests/{test}/preview", json={"cells": cells}).json()
    table = next(one for one in shown["tables"] if one["name"] == "stages")
    texts = [row["cells"]["pressure_kpa"] for row in table["rows"][:3]]
    assert [float(one["text"]) for one in texts[:2]] == pytest.approx([169.77, 169.91], abs=0.06)
    assert texts[2]["error"], "a mass is no pressure"
    change = {"base_revision": 0, "cells": cells, "save_key": "forces-1"}
    kept = client.post(f"/api/tests/{test}/save", json=change).json()
    assert kept["origins"]["stages.0.pressure_kpa"] == {"typed": "12 kN"}
    assert "was typed as 12 kN" in printed(client, test)


def test_new_projects_begin_in_the_units_of_the_laboratory(client, database):
    client.post("/units", data={"units": "US customary", "decimal_mark": ","})
    place = client.post("/projects", data={"name": "Mill Causeway"}, follow_redirects=False).headers["location"]
    with Session(open_database(database)) as session:
        project = session.get(Project, int(place.rsplit("/", 1)[1]))
        assert (project.units, project.decimal_mark) == ("US customary", ",")
        assert session.get(Project, 1).units == "SI"

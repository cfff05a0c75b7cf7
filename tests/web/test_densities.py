"""A day's field densities: judged by the project's requirement, kept with it, by those who may."""

import io
import json
import zipfile

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.laboratory import COMPACTION_G1, RING_DENSITY_U2
from tests.web.hands import signed_in
from vadum.records.database import open_database
from vadum.records.saving import Change, save
from vadum.records.tables import Location, Project, Test
from vadum.web.app import create_app

PAGE = "/projects/1/densities"
ASKED = {"compaction": str(COMPACTION_G1), "least_percent": "95", "drier_percent": "2", "wetter_percent": "2"}


@pytest.fixture
def client(database):
    return TestClient(create_app(database))


@pytest.fixture
def gauge(database, client):
    """Three places of a lift read by a gauge: dense, loose, wet."""
    with Session(open_database(database)) as session:
        compaction = session.get(Test, COMPACTION_G1).summary["parameters"]
        place = session.exec(select(Location).where(Location.name == "BP1")).one()
        test = Test(method="density-gauge", location_id=place.id)
        session.add(test)
        session.flush()
        most, best = (compaction[k]["reported"] for k in ("maximum_dry_density", "optimum_water_content"))
        spots = [("dense", 0.98, 0.0), ("loose", 0.90, 0.0), ("wet", 0.93, 3.0)]
        cells = {"standard_count": "yes", "permitted": "yes", "density_offset_g_cm3": "0", "finished": "yes"}
        for i, (name, degree, off) in enumerate(spots):
            water = best + off
            cells |= {f"spots.{i}.place": name, f"spots.{i}.rod_mm": "150", f"spots.{i}.water_percent": f"{water:.1f}"}
            cells[f"spots.{i}.bulk_density_g_cm3"] = f"{degree * most * (1 + water / 100):.3f}"
        save(session, test, Change(base_revision=0, who="technician 1", cells=cells))
        test.state = "reduced"
        session.commit()
        assert test.summary["reportable"], json.dumps(test.summary)
        return test.id


def test_without_a_requirement_the_densities_stand_there_and_nothing_is_judged(client, gauge):
    page = client.get(PAGE).text
    assert "BP1 dense" in page
    assert "Name the compaction test" in page
    assert "rework" not in page


def test_each_place_passes_or_says_what_to_do(client, gauge):
    assert client.post(PAGE, data=ASKED, follow_redirects=False).status_code == 303
    page = client.get(PAGE, params={"day": "all"}).text
    assert "rework: roll more" in page
    assert "rework: too wet" in page
    dense = page[page.index("BP1 dense") : page.index("BP1 loose")]
    assert ">98.0<" in dense
    assert "pass" in dense
    assert "Asked: at least 95 %" in page


def test_a_place_that_passes_by_less_than_its_uncertainty_is_not_shown(client, gauge):
    client.post(PAGE, data=ASKED)
    assert "within the uncertainty" not in client.get(PAGE, params={"day": "all"}).text
    client.post("/projects/1/units", data={"units": "SI", "decimal_mark": ".", "limits": "guarded"})
    page = client.get(PAGE, params={"day": "all"}).text
    assert "with its uncertainty to spare" in page
    assert "±" in page
    assert "rework: roll more" in page


def test_a_requirement_that_cannot_be_stands_beside_its_field_and_is_not_kept(client, gauge, database):
    refused = client.post(PAGE, data=ASKED | {"least_percent": "9500"})
    assert refused.status_code == 422
    assert 'value="9500"' in refused.text
    other = client.post(PAGE, data=ASKED | {"compaction": str(gauge)})
    assert "choose a compaction test" in other.text
    with Session(open_database(database)) as session:
        assert session.get(Project, 1).lift_rule == {}


def test_a_day_that_had_none_shows_the_newest(client, gauge):
    assert "BP1 dense" in client.get(PAGE, params={"day": "1999-01-01"}).text


def test_who_may_ask(app):
    assert signed_in(app, "technician").post(PAGE, data=ASKED).status_code == 403
    assert signed_in(app, "technician").get(PAGE).status_code == 200


def test_the_requirement_goes_with_the_project(client, gauge, tmp_path):
    client.post(PAGE, data=ASKED)
    archive = client.get("/projects/1/archive.zip")
    assert archive.status_code == 200
    assert b"lift_rule" in _project(archive.content)


def _project(data):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return archive.read("project.json")


@pytest.fixture
def lighter(database):
    """A compaction test of another soil, with a maximum of 1.80 g/cm³."""
    with Session(open_database(database)) as session:
        twin = Test(**session.get(Test, COMPACTION_G1).model_dump(exclude={"id"}))
        twin.summary = json.loads(json.dumps(twin.summary))
        twin.summary["parameters"]["maximum_dry_density"] |= {"reported": 1.80, "text": "1.80"}
        session.add(twin)
        session.commit()
        return twin.id


def chosen(page, test):
    """Return what a density is held against, as its form says."""
    form = page[page.index(f'id="a-{test}"') :]
    return form[: form.index("</select>")].split("selected>")[1].split("</option>")[0].split()


def test_natural_ground_is_no_lift(client, gauge):
    """A clay taken in a tube was told “rework: too wet” against the maximum of the gravel that a bank is built of."""
    client.post(PAGE, data=ASKED)
    page = client.get(PAGE, params={"day": "all"}).text
    tube = page[page.index("<td>TP4 U2</td>") :].split("</tr>")[0]
    assert "natural ground" in tube
    assert "rework" not in tube
    assert chosen(page, RING_DENSITY_U2) == ["nothing:", "natural", "ground"]
    assert chosen(page, gauge)[:2] == ["BP1", "G1,"]


def test_a_density_is_held_against_the_maximum_of_its_own_soil(client, gauge, lighter):
    client.post(PAGE, data=ASKED)
    where = f"{PAGE}/{gauge}"
    assert client.post(where, data={"compaction": "7777"}).status_code == 422
    kept = client.post(f"{where}?day=all", data={"compaction": str(lighter)}, follow_redirects=False)
    assert (kept.status_code, kept.headers["location"]) == (303, f"{PAGE}?day=all")
    page = client.get(PAGE, params={"day": "all"}).text
    loose = page[page.index("BP1 loose") :].split("</tr>")[0]
    assert "pass" in loose
    assert "density of BP1 (test" in page  # who chose it is on record
    assert page.count("Lift against requirement") >= 2  # each soil in its own accepted field
    client.post(where, data={"compaction": "0"})
    assert "rework" not in client.get(PAGE, params={"day": "all"}).text.split("BP1 loose")[1].split("</tr>")[0]


def test_another_requirement_leaves_what_each_density_is_held_against(client, gauge):
    client.post(PAGE, data=ASKED)
    client.post(f"{PAGE}/{gauge}", data={"compaction": "0"})
    client.post(PAGE, data=ASKED | {"least_percent": "98"})
    assert chosen(client.get(PAGE).text, gauge) == ["nothing:", "natural", "ground"]


def test_a_choice_that_somebody_overtook_is_asked_about(client, gauge, lighter):
    client.post(PAGE, data=ASKED)
    client.post(f"{PAGE}/{gauge}", data={"compaction": "0", "seen": "0"})
    late = client.post(f"{PAGE}/{gauge}", data={"compaction": str(lighter), "seen": "0"})
    assert late.status_code == 422
    assert "meanwhile" in late.text
    # Who only looked leaves what another chose.
    client.post(f"{PAGE}/{gauge}", data={"compaction": str(COMPACTION_G1), "seen": "0"})
    assert chosen(client.get(PAGE).text, gauge) == ["nothing:", "natural", "ground"]


def test_a_test_without_a_density_has_nothing_to_hold(client, gauge):
    client.post(PAGE, data=ASKED)
    assert client.post(f"{PAGE}/{COMPACTION_G1}", data={"compaction": "0"}).status_code == 404

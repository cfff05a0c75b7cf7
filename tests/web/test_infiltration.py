"""The page of a site's infiltration: places by class, their mean with its band, the verdict, and who may ask."""

import re

import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session

from tests.web.hands import signed_in
from vadum.records.database import open_database
from vadum.records.infiltration import places_of, rule_of
from vadum.records.tables import Project
from vadum.soil.physics.water import water_viscosity
from vadum.soil.site.infiltration import By, Demand, Kind, class_of, outcome
from vadum.web.app import create_app

PAGE = "/projects/1/infiltration"
ASKED = {"kind": "infiltration", "required_mm_h": "8", "by": "mean", "safety_factor": "2", "design_c": ""}


@pytest.fixture
def client(database):
    return TestClient(create_app(database))


def read(page):
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", "", page))


def test_mean_and_band_are_of_logarithms_with_students_t():
    from scipy import stats  # takes a second to load, and every worker collects

    values = [12.0, 30.0, 21.0, 18.0]
    made = outcome(values)
    logs = np.log(values)
    low, high = stats.t.interval(0.95, 3, loc=logs.mean(), scale=stats.sem(logs))
    assert made.mean == pytest.approx(stats.gmean(values))
    assert made.band == pytest.approx((np.exp(low), np.exp(high)))
    assert (made.value(By.MEAN), made.value(By.LEAST), made.value(By.BAND)) == (made.mean, 12.0, made.band[0])
    assert not made.apart
    assert outcome([]) is None
    one = outcome([5.0])
    assert (one.band, one.factor, one.value(By.BAND)) == (None, None, None)
    assert outcome([5.0, 16.0]).apart


@pytest.mark.parametrize(
    ("um_s", "name"),
    [
        (0.005, "very low"),
        (0.05, "low"),
        (0.5, "moderately low"),
        (5, "moderately high"),
        (50, "high"),
        (500, "very high"),
    ],
)
def test_classes_end_at_powers_of_ten_in_micrometres_a_second(um_s, name):
    assert class_of(3.6 * um_s) == name


def test_a_demand_is_held_against_colder_water_and_the_factor():
    demand = Demand(8.0, By.MEAN, 2.0, 4.0)
    assert demand.design(30.0) == pytest.approx(30.0 * float(water_viscosity(20) / water_viscosity(4)) / 2)
    assert demand.words == "8 mm/h by the geometric mean, over a factor of 2, in water of 4 °C"


def test_places_of_two_kinds_are_never_averaged_together(client, database):
    with Session(open_database(database)) as session:
        project = session.get(Project, 1)
        places = places_of(project)
        kinds = {one.kind for one in places}
        assert kinds == {Kind.CONDUCTIVITY, Kind.INFILTRATION}
        # Three cylinders and a hole; rings, a hole and a pit at four places.
        assert len([one for one in places if one.kind == Kind.CONDUCTIVITY]) == 4
        shown = [one for one in places if one.kind == Kind.INFILTRATION]
        assert [one.name for one in shown] == ["W2", "W3", "W4", "W5"]
        made = outcome([one.rate_mm_h for one in shown])
        assert rule_of(project).by == By.BAND
    page = read(client.get(PAGE).text)
    assert "geometric mean 25.0 mm/h, 95 % band 17.2 to 36.4" in page
    assert (made.mean, *made.band) == pytest.approx((25.0, 17.2, 36.4), abs=0.06)
    assert "4 places of another kind are not averaged" in page


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({}, "meets 8 mm/h"),
        ({"required_mm_h": "20"}, "does not meet 20 mm/h"),
        ({"safety_factor": "6"}, "does not meet 8 mm/h"),
        ({"design_c": "1", "safety_factor": "2.4"}, "does not meet 8 mm/h"),
        ({"by": "least"}, "meets 8 mm/h"),
        ({"kind": "conductivity"}, "places of conductivity at saturation"),
    ],
)
def test_the_verdict_follows_what_is_asked(client, asked, said):
    assert client.post(PAGE, data=ASKED | asked, follow_redirects=False).status_code == 303
    page = read(client.get(PAGE).text)
    verdict = page[page.index("What the project asks") :]
    assert said in verdict
    if said.startswith("meets"):
        assert "does not meet" not in verdict


def test_places_below_the_rate_are_named(client):
    client.post(PAGE, data=ASKED | {"required_mm_h": "12"})
    page = client.get(PAGE).text
    row = page[page.index("<td>W3</td>") : page.index("</tr>", page.index("<td>W3</td>"))]
    assert "below" in row
    fast = page[page.index("<td>W4</td>") : page.index("</tr>", page.index("<td>W4</td>"))]
    assert "below" not in fast


def test_without_a_demand_nothing_is_judged_and_without_a_place_it_says_so(client):
    client.post(PAGE, data=ASKED | {"required_mm_h": ""})
    page = read(client.get(PAGE).text)
    assert "Type the rate that the design needs" in page
    assert "meets" not in page
    assert "No place that takes water is done" in client.get("/projects/2/infiltration").text


@pytest.mark.parametrize(
    ("field", "typed"), [("required_mm_h", "ten"), ("safety_factor", "0.2"), ("design_c", "95"), ("kind", "soup")]
)
def test_what_cannot_be_asked_stands_beside_its_field_and_is_not_kept(client, database, field, typed):
    refused = client.post(PAGE, data=ASKED | {field: typed})
    assert refused.status_code == 422
    with Session(open_database(database)) as session:
        assert session.get(Project, 1).infiltration_rule["required_mm_h"] == 8.0
        assert session.get(Project, 1).infiltration_rule["by"] == "band"


def test_who_may_ask(app):
    assert signed_in(app, "technician").post(PAGE, data=ASKED).status_code == 403
    assert signed_in(app, "checker").post(PAGE, data=ASKED, follow_redirects=False).status_code == 303
    assert signed_in(app, "technician").get(PAGE).status_code == 200


def test_positions_lead_there(client):
    page = client.get("/projects/1/positions").text
    assert 'href="/projects/1/infiltration"' in page
    assert "spread a factor of" in page

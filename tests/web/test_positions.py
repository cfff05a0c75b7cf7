"""Positions of tests: the plan, the site's mean, GeoJSON, the receiver."""

import re

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from tests.laboratory import FALLING_HEAD_W1_1, FALLING_HEAD_W1_2, LIME_DEMAND_G1_2, WELL_PERMEAMETER_W1
from tests.web.hands import save, take
from vadum.soil.bench.position import Position, positions_in
from vadum.soil.site.map import Sited, plan_figure
from vadum.web.app import create_app

PROJECT, CYLINDERS, HOLE, FALLING = 1, FALLING_HEAD_W1_1, WELL_PERMEAMETER_W1, FALLING_HEAD_W1_2


@pytest.fixture
def lab(database, line):
    with TestClient(create_app(database, line.port)) as client:
        yield client


def test_metres_by_hand():
    # One minute of latitude is a nautical mile, 1852 m within 0.1 %; at 60 degrees one of longitude is half of it.
    east, north = Position(60.0, 1 / 60).metres_from(Position(60.0, 0.0))
    assert (round(north), pytest.approx(926, rel=0.002)) == (0, east)
    assert Position(60 + 1 / 60, 0.0).metres_from(Position(60.0, 0.0))[1] == pytest.approx(1852, rel=0.002)


@given(st.lists(st.tuples(st.floats(-0.002, 0.002), st.floats(-0.002, 0.002)), min_size=1, max_size=8))
def test_the_plan_keeps_all_places_inside_and_to_one_scale(offsets):
    sited = [Sited(Position(52 + a, -1 + b), "x") for a, b in offsets]
    plan = plan_figure(sited)
    assert plan.equal
    for mark in plan.series[0].marks:
        assert plan.x.low <= mark.x <= plan.x.high
        assert plan.y.low <= mark.y <= plan.y.high
    assert min(m.x for m in plan.series[0].marks) == pytest.approx(0.0, abs=1e-6)


def test_positions_of_a_test_and_of_its_rows():
    own = {"latitude_deg": 52.1, "longitude_deg": -1.2, "rows": [{"a": 1}]}
    rows = {"cylinders": [{"latitude_deg": 52.1}, {"latitude_deg": 52.2, "longitude_deg": 0.0}]}
    assert positions_in(own) == [("", Position(52.1, -1.2))]
    assert positions_in(rows) == [("cylinders.1", Position(52.2, 0.0))]
    assert positions_in({}) == []


def test_geojson_has_every_place_with_its_own_results(lab):
    reply = lab.get(f"/projects/{PROJECT}/positions.geojson")
    assert reply.headers["content-type"] == "application/geo+json"
    found = reply.json()
    assert found["type"] == "FeatureCollection"
    by_id = {f["id"]: f for f in found["features"]}
    assert len(by_id) == len(found["features"])
    for k in range(3):
        feature = by_id[f"{CYLINDERS}/cylinders.{k}"]
        longitude, latitude = feature["geometry"]["coordinates"]
        row = lab.get(f"/tests/{CYLINDERS}/bench.json").json()["readings"]["cylinders"][k]
        assert (latitude, longitude) == (row["latitude_deg"], row["longitude_deg"])
        assert feature["properties"][f"ks_{k + 1}_unit"] == "mm/h"
        assert "ks_site" not in feature["properties"]
    assert isinstance(by_id[f"{HOLE}"]["properties"]["kfs"], float)
    # A test without a position of its own stands where its location does.
    assert by_id["6"]["geometry"]["coordinates"] == [-1.2061, 52.1036]


def _counts(test):
    return test["reportable"] and test["state"] in ("reduced", "checked", "issued")


def test_the_page_of_positions_gives_the_sites_mean(lab):
    page = lab.get(f"/projects/{PROJECT}/positions").text
    features = lab.get(f"/projects/{PROJECT}/positions.geojson").json()["features"]
    found = [f["properties"] for f in features if _counts(f["properties"])]
    rates = [r for one in found for key, r in one.items() if key in ("kfs", "ks_1", "ks_2", "ks_3")]
    mean = np.exp(np.mean(np.log(rates)))
    words = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", "", page))
    # Conductivities and infiltration rates are two things: one mean holds only one of them.
    assert f"Infiltration of {len(rates)} places (conductivity at saturation): geometric mean {mean:.3g} mm/h" in words
    assert "TP4, " in page
    assert lab.get("/projects/99/positions").status_code == 404


def test_a_project_without_positions_says_how_to_get_one(lab):
    lab.post("/projects", data={"name": "Elsewhere"})
    number = max(int(n) for n in __import__("re").findall(r'/projects/(\d+)"', lab.get("/").text))
    assert "No test has a position yet" in lab.get(f"/projects/{number}/positions").text
    assert lab.get(f"/projects/{number}/positions.geojson").json()["features"] == []


@pytest.mark.parametrize(
    ("latitude", "longitude", "status"), [("52.1", "-1.2", 303), ("", "", 303), ("52.1", "", 422), ("98", "-1.2", 422)]
)
def test_a_location_has_both_coordinates_or_neither(lab, latitude, longitude, status):
    form = {"name": "W9", "depth_m": "1", "latitude_deg": latitude, "longitude_deg": longitude}
    assert lab.post(f"/projects/{PROJECT}/locations", data=form, follow_redirects=False).status_code == status


def test_the_receiver_fills_latitude_and_longitude(lab):
    columns = {c["column"]: c["offers"] for c in lab.get(f"/api/tests/{FALLING}/instruments").json()["columns"]}
    assert columns["cylinders.latitude_deg"] == ["position receiver / latitude"]
    assert columns["cylinders.longitude_deg"] == ["position receiver / longitude"]
    save(lab, FALLING, bindings={name: offers[0] for name, offers in columns.items() if "_deg" in name})
    got = take(lab, FALLING, "cylinders.3.latitude_deg", "cylinders.3.longitude_deg")
    assert got["troubles"] == {}
    assert float(got["cells"]["cylinders.3.latitude_deg"]) == pytest.approx(52.1043, abs=2e-6)
    assert float(got["cells"]["cylinders.3.longitude_deg"]) == pytest.approx(-1.2048, abs=2e-6)


def test_a_ph_meter_fills_ph_and_temperature_of_a_bottle(lab):
    columns = {
        c["column"]: c["offers"] for c in lab.get(f"/api/tests/{LIME_DEMAND_G1_2}/instruments").json()["columns"]
    }
    assert columns["bottles.ph"] == ["pH meter / ph"]
    assert columns["bottles.temperature_c"] == ["pH meter / temperature"]
    assert columns["calibration.shown_ph"] == ["pH meter / ph"]

"""A location: its layers typed and put right, its water, and two that are one place."""

import re
from itertools import pairwise

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, VANE_BH2
from vadum.records.corrections import corrections_of
from vadum.records.database import open_database
from vadum.records.tables import Location, Project, Sample, Stratum, Test


@pytest.fixture
def hole(client, database):
    """A new hole of the first project: nothing leans on it."""
    client.post("/projects/1/locations", data={"name": "TP77", "kind": "test pit", "depth_m": "3"})
    with Session(open_database(database)) as session:
        return session.exec(select(Location.id).where(Location.name == "TP77")).one()


def layers(client, hole, *lines, **more):
    data = {"top": [a for a, _, _ in lines], "base": [b for _, b, _ in lines], "description": [c for *_, c in lines]}
    return client.post(f"/locations/{hole}/layers", data=data | more, follow_redirects=False)


def logged(database, hole):
    with Session(open_database(database)) as session:
        found = session.exec(select(Stratum).where(Stratum.location_id == hole).order_by(Stratum.top_m)).all()
        return [(one.top_m, one.base_m, one.description) for one in found]


def test_layers_are_typed_in_any_order_and_put_right_later(client, database, hole):
    typed = (("0,3", "1.10", "soft brown silt"), ("0", "30 cm", "topsoil"), ("", "", ""))
    assert layers(client, hole, *typed).status_code == 303
    assert logged(database, hole) == [(0.0, 0.3, "topsoil"), (0.3, 1.1, "soft brown silt")]
    assert layers(client, hole, ("0", "0.4", "topsoil")).status_code == 303
    assert logged(database, hole) == [(0.0, 0.4, "topsoil")]
    with Session(open_database(database)) as session:
        newest, _ = corrections_of(session, session.get(Location, hole))
        assert newest.changed["layers"] == ["0–0.3 m topsoil; 0.3–1.1 m soft brown silt", "0–0.4 m topsoil"]
    assert "0–0.4 m: topsoil" in client.get(f"/locations/{hole}").text


def test_layers_that_two_put_right_at_once_are_told_with_both(client, database, hole):
    layers(client, hole, ("0", "0.3", "topsoil"), seen="0")
    refused = layers(client, hole, ("0", "0.5", "made ground"), seen="0")
    assert refused.status_code == 422
    assert "changed this meanwhile: layers blank → 0–0.3 m topsoil" in refused.text
    assert 'value="made ground"' in refused.text
    assert logged(database, hole) == [(0.0, 0.3, "topsoil")]


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        ([("0", "x", "silt")], "layer 1"),
        ([("0", "1", "silt"), ("2", "1.5", "clay")], "layer 2: from 2 m down to 1.5 m cannot be"),
        ([("0", "3.5", "silt")], "the hole is 3 m deep"),
        ([("0", "1", "silt"), ("0.8", "2", "clay")], "from 0.8 m begins within the one down to 1 m"),
    ],
)
def test_layers_that_cannot_be_are_refused_and_what_was_typed_stands(client, database, hole, lines, said):
    reply = layers(client, hole, *lines)
    assert reply.status_code == 422
    assert said in reply.text
    assert 'value="silt"' in reply.text
    assert logged(database, hole) == []


def test_layers_under_a_checked_test_need_a_reason(client, database):
    with Session(open_database(database)) as session:
        place = session.get(Test, LIQUID_LIMIT_B1).sample.location_id
    before = logged(database, place)
    assert before
    assert "say why: checked tests print this" in layers(client, place, ("0", "1", "silt")).text
    assert logged(database, place) == before
    assert layers(client, place, ("0", "1", "silt"), reason="read again with a lamp").status_code == 303


def test_water_is_typed_drawn_and_printed(client, hole):
    data = {"name": "TP77", "depth_m": "3", "water_struck_m": "2.4", "water_m": "1,9", "kind": "test pit"}
    client.post(f"/locations/{hole}", data=data)
    page = client.get(f"/locations/{hole}").text
    assert "Water struck at 2.40 m" in page
    assert "Water stands at 1.90 m" in page
    below = client.post(f"/locations/{hole}", data=data | {"water_m": "4"})
    assert below.status_code == 422
    assert "water below 3 m was not met in this hole" in below.text
    half = client.post(f"/locations/{hole}", data=data | {"easting_m": "431000"})
    assert "give easting and northing, or neither" in half.text


def test_two_locations_that_are_one_become_one(client, database, hole):
    client.post("/projects/1/locations", data={"name": "TP-77", "kind": "test pit", "depth_m": "2.5"})
    with Session(open_database(database)) as session:
        twin = session.exec(select(Location.id).where(Location.name == "TP-77")).one()
    client.post(f"/locations/{twin}/samples", data={"name": "B1", "top_m": "0.5", "base_m": "0.8"})
    layers(client, twin, ("0", "2.5", "silt"))
    client.post(f"/locations/{twin}", data={"name": "TP-77", "kind": "test pit", "depth_m": "2.6"})
    test = client.post(f"/locations/{twin}/tests", data={"method": "vane"}).url.path
    reply = client.post(f"/locations/{twin}/merge", data={"into": hole}, follow_redirects=False)
    assert reply.headers["location"] == f"/locations/{hole}"
    with Session(open_database(database)) as session:
        kept = session.get(Location, hole)
        assert session.get(Location, twin) is None
        assert [sample.name for sample in kept.samples] == ["B1"]
        assert [one.description for one in kept.strata] == ["silt"]
        assert f"/tests/{kept.tests[0].id}" == test
        merged, *of_the_twin = corrections_of(session, kept)
        assert merged.changed == {"merged": ["", "TP-77: B1, 1 tests in the ground"]}
        # What was put right of the other is told of the one that both are.
        assert [one.changed for one in of_the_twin] == [
            {"TP-77: depth_m": [2.5, 2.6]},
            {"TP-77: layers": ["", "0–2.5 m silt"]},
        ]


def test_what_cannot_be_one_stays_two(client, database, hole):
    client.post("/projects/1/locations", data={"name": "TP78", "kind": "test pit", "depth_m": "5"})
    with Session(open_database(database)) as session:
        twin = session.exec(select(Location.id).where(Location.name == "TP78")).one()
    for place in (hole, twin):
        client.post(f"/locations/{place}/samples", data={"name": "B1", "top_m": "0.5", "base_m": "0.8"})

    def said(into=hole):
        reply = client.post(f"/locations/{twin}/merge", data={"into": into})
        assert reply.status_code == 422
        return reply.text

    assert "TP77 has its own B1: rename one first" in said()
    assert "choose another location" in said(twin)
    with Session(open_database(database)) as session:
        deep = session.exec(select(Sample).where(Sample.location_id == twin)).one()
        deep.name, deep.top_m, deep.base_m = "B2", 4.0, 4.4
        session.add(deep)
        session.commit()
    assert "TP77 is 3 m deep, a sample reaches 4.4 m" in said()


def test_a_tested_location_is_not_merged_without_a_reason(client, database, hole):
    with Session(open_database(database)) as session:
        checked = session.get(Test, VANE_BH2)
        checked.state = "checked"
        session.add(checked)
        into = client_location(session, checked)
        place = checked.location_id
        session.commit()
    reply = client.post(f"/locations/{place}/merge", data={"into": into})
    assert reply.status_code == 422
    assert "say why: checked tests print this" in reply.text


def client_location(session, test):
    """A deep enough location beside the test's, without layers or samples."""
    project = test.location.project_id
    session.add(Location(project_id=project, name="BH2 again", depth_m=60))
    for old in test.location.strata:
        session.delete(old)
    session.flush()
    return session.exec(select(Location.id).where(Location.name == "BH2 again")).one()


def test_thirty_samples_in_a_hole_each_have_a_line_of_their_own(client, database, hole):
    with Session(open_database(database)) as session:
        for i in range(30):
            session.add(Sample(location_id=hole, name=f"D{i}", top_m=2.0 + i / 100, base_m=2.05 + i / 100))
        session.commit()
    page = client.get(f"/locations/{hole}").text
    pins = re.findall(r'class="gc-pin.*?y="([\d.]+)" width="[\d.]+" height="24"', page)
    assert len(pins) == 30
    tops = [float(y) for y in pins]
    assert min(b - a for a, b in pairwise(tops)) >= 17 - 0.2
    tall = float(re.search(r'class="gc" viewBox="0 0 300 ([\d.]+)"', page)[1])
    assert tops[0] >= 0
    assert tops[-1] + 24 <= tall + 5
    assert 'data-narrows="#samples"' in page


def test_a_project_of_many_locations_is_a_list_to_look_through(client, database):
    with Session(open_database(database)) as session:
        wide = Project(name="Long Causeway")
        session.add(wide)
        session.flush()
        session.add_all(Location(project_id=wide.id, name=f"CP{i}", depth_m=5) for i in range(60))
        session.commit()
        number = wide.id
    page = client.get(f"/projects/{number}").text
    assert page.count('href="/locations/') == 60
    assert "<svg" not in page.split("<main")[1].split("</main>")[0]
    assert 'data-narrows="#locations"' in page


@pytest.mark.parametrize("looks_the_same", ["TP77\u200b", "\ufeffTP77", "\u202eTP77", "tp77", " TP77 "])
def test_a_name_that_looks_like_one_that_stands_is_the_same(client, database, hole, looks_the_same):
    reply = client.post("/projects/1/locations", data={"name": looks_the_same, "kind": "test pit", "depth_m": "3"})
    assert reply.status_code == 422
    assert "TP77" in reply.text
    with Session(open_database(database)) as session:
        assert len([one for one in session.exec(select(Location.name)) if "77" in one]) == 1


def test_spaces_that_a_page_does_not_show_make_no_second_name(client, database, hole):
    for name, status in (("Pond  north", 303), ("Pond north", 422), ("Pond\tnorth", 422)):
        data = {"name": name, "kind": "test pit", "depth_m": "3"}
        assert client.post("/projects/1/locations", data=data, follow_redirects=False).status_code == status
    with Session(open_database(database)) as session:
        assert session.exec(select(Location.name).where(Location.name.startswith("Pond"))).all() == ["Pond north"]

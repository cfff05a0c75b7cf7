"""What was typed of projects, locations and samples is corrected: with what stood there, who, and why where it
counts."""

import re

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_D2
from tests.printed import words_of
from tests.web.hands import save, signed_in
from vadum.records.corrections import corrections_of, needs_reason
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.tables import Equipment, Location, Person, Project, Sample, Test


def row(database, test, kind=Sample):
    with Session(open_database(database)) as session:
        sample = session.get(Test, test).sample
        return (sample if kind is Sample else sample.location).model_dump()


def asked(found, names=("name", "kind", "top_m", "base_m", "mass_g", "largest_particle_mm", "description"), **other):
    return {name: "" if found[name] is None else str(found[name]) for name in names} | other


def post(client, address, data):
    return client.post(address, data=data, follow_redirects=False)


def test_a_depth_under_a_checked_test_needs_a_reason_and_keeps_what_stood_there(client, database):
    sample = row(database, LIQUID_LIMIT_B1)
    address = f"/samples/{sample['id']}"
    deeper = asked(sample, top_m="0,70", base_m="1.00")
    refused = post(client, address, deeper)
    assert refused.status_code == 422
    assert "say why: checked tests print this" in refused.text
    assert 'value="0,70"' in refused.text, "what was typed stands"
    assert row(database, LIQUID_LIMIT_B1) == sample
    assert post(client, address, deeper | {"reason": "read off the wrong line of the log"}).status_code == 303
    with Session(open_database(database)) as session:
        kept = session.get(Sample, sample["id"])
        assert (kept.top_m, kept.base_m) == (0.7, 1.0)
        (one,) = corrections_of(session, kept)
        assert one.changed == {"top_m": [0.6, 0.7], "base_m": [0.9, 1.0]}
        assert one.reason == "read off the wrong line of the log"
    page = re.sub(r"\s+", " ", client.get(address).text)
    assert "top 0.6 → 0.7, base 0.9 → 1.0; read off the wrong line of the log" in page
    sheet = words_of(client.get(f"/tests/{LIQUID_LIMIT_B1}/sheet.pdf").content)
    assert "0.70–1.00 m" in sheet


def test_before_anything_is_checked_no_reason_is_asked_for(client, database):
    sample = row(database, LIQUID_LIMIT_D2)
    with Session(open_database(database)) as session:
        assert not needs_reason(session.get(Sample, sample["id"]))
    assert post(client, f"/samples/{sample['id']}", asked(sample, description="brown silt")).status_code == 303
    assert row(database, LIQUID_LIMIT_D2)["description"] == "brown silt"
    assert post(client, f"/samples/{sample['id']}", asked(sample, description="brown silt")).status_code == 303
    with Session(open_database(database)) as session:
        assert len(corrections_of(session, session.get(Sample, sample["id"]))) == 1, "nothing changed, nothing kept"


@pytest.mark.parametrize(
    ("other", "field"),
    [({"base_m": "90"}, "m deep"), ({"top_m": "3.9", "base_m": "1"}, "above the upper"), ({"name": ""}, "sample")],
)
def test_what_cannot_be_is_refused(client, database, other, field):
    sample = row(database, LIQUID_LIMIT_D2)
    reply = post(client, f"/samples/{sample['id']}", asked(sample, **other))
    assert reply.status_code == 422
    assert field in reply.text
    assert row(database, LIQUID_LIMIT_D2) == sample


def test_names_are_given_once_within_their_place(client, database):
    sample, place = row(database, LIQUID_LIMIT_B1), row(database, LIQUID_LIMIT_B1, Location)
    new = {"name": "b1", "top_m": "0.1", "base_m": "0.2"}
    again = post(client, f"/locations/{place['id']}/samples", new)
    assert again.status_code == 422
    assert "there is “B1” already" in again.text
    twin = post(client, f"/projects/{place['project_id']}/locations", {"name": "tp4", "depth_m": "3"})
    assert twin.status_code == 422
    assert "there is “TP4” already" in twin.text
    renamed = post(client, f"/samples/{sample['id']}", asked(sample, name="U2", reason="mixed up"))
    assert renamed.status_code == 422
    assert post(client, f"/samples/{sample['id']}", asked(sample, name="b1", reason="as labelled")).status_code == 303


def test_a_hole_is_not_less_deep_than_its_samples(client, database):
    place = row(database, LIQUID_LIMIT_B1, Location)
    names = ("name", "kind", "depth_m", "level_m", "latitude_deg", "longitude_deg")
    shallow = post(client, f"/locations/{place['id']}", asked(place, names, depth_m="1.0", reason="measured again"))
    assert shallow.status_code == 422
    assert re.search(r"is from \d", shallow.text)
    deep = asked(place, names, depth_m="4.60", kind="borehole", reason="measured again")
    assert post(client, f"/locations/{place['id']}", deep).status_code == 303
    assert row(database, LIQUID_LIMIT_B1, Location) == place | {"depth_m": 4.6, "kind": "borehole"}


def test_what_nothing_leans_on_is_taken_away_and_nothing_else(app):
    checker, technician = signed_in(app, "checker"), signed_in(app, "technician")
    with Session(app.state.engine) as session:
        tested = session.get(Test, LIQUID_LIMIT_B1).sample
        sample, place, project = tested.id, tested.location_id, tested.location.project_id
    said = post(checker, f"/samples/{sample}/remove", {})
    assert said.status_code == 422
    assert "has tests: it stays" in said.text
    assert "has tests: it stays" in post(checker, f"/locations/{place}/remove", {}).text
    post(technician, f"/projects/{project}/locations", {"name": "TP99", "depth_m": "2", "kind": "test pit"})
    with Session(app.state.engine) as session:
        empty = session.exec(select(Location.id).where(Location.name == "TP99")).one()
    post(technician, f"/locations/{empty}/samples", {"name": "B1", "top_m": "0.1", "base_m": "0.2"})
    assert "has samples or layers" in post(checker, f"/locations/{empty}/remove", {}).text
    with Session(app.state.engine) as session:
        untested = session.exec(select(Sample.id).where(Sample.location_id == empty)).one()
    assert post(technician, f"/samples/{untested}/remove", {}).status_code == 403
    assert post(checker, f"/samples/{untested}/remove", {}).status_code == 303
    assert post(checker, f"/locations/{empty}/remove", {}).status_code == 303
    with Session(app.state.engine) as session:
        assert session.get(Location, empty) is None
        assert session.get(Project, project) is not None


def piece(app, name):
    with Session(app.state.engine) as session:
        return session.exec(select(Equipment).where(Equipment.name == name)).one().id


def test_a_piece_is_called_right_with_a_reason_where_checked_tests_print_it(app):
    manager = signed_in(app, "manager")
    balance = piece(app, "Balance 2")
    refused = post(manager, f"/equipment/{balance}", {"name": "Balance 3", "note": "310 g"})
    assert refused.status_code == 422
    assert "say why: checked tests print this" in refused.text
    right = {"name": "Balance 3", "note": "310 g", "reason": "the plate says so"}
    assert post(manager, f"/equipment/{balance}", right).status_code == 303
    page = re.sub(r"\s+", " ", manager.get(f"/equipment/{balance}").text)
    assert "name Balance 2 → Balance 3; the plate says so" in page
    assert "there is “Balance 5” already" in post(manager, f"/equipment/{balance}", right | {"name": "balance 5"}).text
    assert post(signed_in(app, "technician"), f"/equipment/{balance}", right).status_code == 403


def test_a_tin_that_readings_name_keeps_its_number(app):
    manager = signed_in(app, "manager")
    tin = piece(app, "T-11")
    assert "tests name this tin: its number stays" in post(manager, f"/equipment/{tin}", {"name": "T-111"}).text
    manager.post("/equipment", data={"name": "X-1", "kind": "tin", "tare_g": "17.2"})
    free = piece(app, "X-1")
    assert post(manager, f"/equipment/{free}", {"name": "X-2"}).status_code == 303
    assert "it stays" in post(manager, f"/equipment/{tin}/remove", {}).text
    assert post(manager, f"/equipment/{free}/remove", {}).status_code == 303
    with Session(app.state.engine) as session:
        assert session.get(Equipment, free) is None


def test_a_person_who_signed_nothing_is_called_right_and_nobody_else(app):
    manager = signed_in(app, "manager")
    data = {"name": "techncian 9", "role": "technician", "password": "long enough for all"}
    manager.post("/people", data=data)
    with Session(app.state.engine) as session:
        number = {person.name: person.id for person in session.exec(select(Person))}
    assert post(manager, f"/people/{number['techncian 9']}/name", {"name": "technician 9"}).status_code == 303
    assert signed_in(app, "technician 9").get("/board").status_code == 200
    save(signed_in(app, "technician"), LIQUID_LIMIT_D2, cells={"state": "natural"})
    said = post(manager, f"/people/{number['technician']}/name", {"name": "technician 1"})
    assert "Records are signed technician: the name stays" in said.text


def seen_on(client, address):
    """Return what a form drawn now says that its hand saw."""
    (said, *_) = re.findall(r'name="seen"\s+value="(\d+)"', client.get(address).text)
    return said


def test_a_form_drawn_before_somebody_else_corrected_takes_nothing_of_it_back(client, database):
    sample = row(database, LIQUID_LIMIT_D2)
    address = f"/samples/{sample['id']}"
    drawn = seen_on(client, address)
    assert post(client, address, asked(sample, description="brown silt", seen=drawn)).status_code == 303
    # A second form, drawn as early: another field of it was changed.
    assert post(client, address, asked(sample, mass_g="900", seen=drawn)).status_code == 303
    now = row(database, LIQUID_LIMIT_D2)
    assert (now["description"], now["mass_g"]) == ("brown silt", 900)


def test_the_same_field_changed_by_two_is_told_with_both_and_asked_again(client, database):
    sample = row(database, LIQUID_LIMIT_D2)
    address = f"/samples/{sample['id']}"
    drawn, stood = seen_on(client, address), sample["description"] or "blank"
    post(client, address, asked(sample, description="brown silt", seen=drawn))
    second = asked(sample, description="grey silt", seen=drawn)
    refused = post(client, address, second)
    assert refused.status_code == 422
    said = re.sub(r"\s+", " ", refused.text)
    assert f"changed this meanwhile: description {stood} → brown silt. Yours stands here" in said
    assert "grey silt" in said
    assert row(database, LIQUID_LIMIT_D2)["description"] == "brown silt"
    # Looked at and saved again it is theirs who looked.
    assert post(client, address, second | {"seen": seen_on(client, address)}).status_code == 303
    assert row(database, LIQUID_LIMIT_D2)["description"] == "grey silt"
    # The same by both is no matter.
    assert post(client, address, asked(sample, description="grey silt", seen=drawn)).status_code == 303


@pytest.mark.parametrize("address", ["/projects/1", "/samples/3", "/locations/1", "/equipment/1"])
def test_every_form_that_corrects_says_what_its_hand_saw(client, address):
    assert seen_on(client, address).isdecimal()


def told_of(database, table, name):
    with Session(open_database(database)) as session:
        found = session.exec(select(table).where(table.name == name)).one()
        return found.id, [one.changed for one in corrections_of(session, found)]


def test_what_was_corrected_of_a_thing_that_is_gone_is_not_told_of_what_comes_after_it(client, database):
    """A database gives a new row the key of the one that was taken away last."""
    client.cookies.set("vadum_who", "checker")
    post(client, "/projects/1/locations", {"name": "TP97", "kind": "test pit", "depth_m": "2"})
    pit, _ = told_of(database, Location, "TP97")
    post(client, f"/locations/{pit}", {"name": "TP97", "kind": "test pit", "depth_m": "2.5"})
    post(client, f"/locations/{pit}/samples", {"name": "B97", "top_m": "0.1", "base_m": "0.2"})
    bag, _ = told_of(database, Sample, "B97")
    post(client, f"/samples/{bag}", {"name": "B97", "kind": "bag", "top_m": "0.1", "base_m": "0.3"})
    assert post(client, f"/samples/{bag}/remove", {}).status_code == 303
    assert told_of(database, Location, "TP97") == (pit, [{"removed": ["B97, 0.1–0.3 m", ""]}, {"depth_m": [2.0, 2.5]}])
    assert post(client, f"/locations/{pit}/remove", {}).status_code == 303
    _, of_the_project = told_of(database, Project, first_project(database))
    assert of_the_project[0] == {"removed": ["TP97, 2.5 m", ""]}
    post(client, "/projects/1/locations", {"name": "TP96", "kind": "test pit", "depth_m": "2"})
    other, told = told_of(database, Location, "TP96")
    assert (other, told) == (pit, [])
    post(client, f"/locations/{other}/samples", {"name": "B96", "top_m": "0.1", "base_m": "0.2"})
    assert told_of(database, Sample, "B96") == (bag, [])


def first_project(database):
    with Session(open_database(database)) as session:
        return session.get(Project, 1).name


def words(client, address):
    return re.sub(r"\s+", " ", re.sub(r"<[^>]*>", "", client.get(address).text))


def test_every_correction_is_told_however_many(client, database):
    pit = {"name": "TP95", "kind": "test pit"}
    post(client, "/projects/1/locations", pit | {"depth_m": "2"})
    page = f"/locations/{told_of(database, Location, 'TP95')[0]}"
    for depth in range(21, 28):
        post(client, page, pit | {"depth_m": f"{depth / 10}"})
    told = words(client, page)
    assert "depth 2.6 → 2.7" in told
    assert "and 2 earlier" in told
    assert "depth 2.0 → 2.1" in told


def test_a_piece_is_put_into_the_register_by_somebody_and_once_in_whatever_capitals(client, database):
    """Whose tare stands in every test of a tin was not on record, and “x-1” came beside the X-1 that a pasted list and
    a correction refuse."""
    client.cookies.set("vadum_who", "checker")
    assert post(client, "/equipment", {"name": "X-1", "kind": "tin", "tare_g": "17,2"}).status_code == 303
    with Session(open_database(database)) as session:
        newest = corrections_of(session, None)[0]
    assert (newest.who, newest.changed) == ("checker", {"register: added": ["", "X-1, tin, 17.2 g"]})
    assert f"{newest.at:%Y-%m-%d}, checker: register: added X-1, tin, 17.2 g" in words(client, "/equipment")
    again = post(client, "/equipment", {"name": "x-1", "kind": "tin", "tare_g": "19"})
    assert again.status_code == 422
    assert "“X-1” is in the register already" in again.text
    assert 'value="19"' in again.text, "what was typed stands"
    with Session(open_database(database)) as session:
        assert corrections_of(session, None)[0].id == newest.id


def test_a_piece_that_is_taken_out_is_told_by_whom(client, database):
    client.cookies.set("vadum_who", "checker")
    post(client, "/equipment", {"name": "Balance 99", "kind": "balance"})
    number, _ = told_of(database, Equipment, "Balance 99")
    post(client, f"/equipment/{number}", {"name": "Balance 98", "note": ""})
    assert post(client, f"/equipment/{number}/remove", {}).status_code == 303
    with Session(open_database(database)) as session:
        newest = corrections_of(session, None)[0]
        assert (newest.who, newest.changed) == ("checker", {"register: removed": ["Balance 98, balance", ""]})
    assert f"{newest.at:%Y-%m-%d}, checker: register: removed Balance 98, balance" in words(client, "/equipment")
    post(client, "/equipment", {"name": "Balance 97", "kind": "balance"})
    assert told_of(database, Equipment, "Balance 97") == (number, [])


@pytest.mark.parametrize("checked", [False, True])
def test_what_leans_on_a_sample_is_worked_out_again_when_it_is_corrected(client, database, checked):
    """Coarser soil than was said needs more of it: lists said that a water content was fit to report, and a check went
    on standing on ground that had moved."""
    with Session(open_database(database)) as session:
        test = session.exec(select(Test).where(Test.method == "water-content", Test.state == "reduced")).first()
        number, sample = test.id, test.sample.model_dump()
        assert test.summary["reportable"]
    client.cookies.set("vadum_who", "checker")
    if checked:
        assert client.post(f"/api/tests/{number}/move", json={"action": "check"}).status_code == 200
    coarse = asked(sample, largest_particle_mm="63", reason="sieved")
    assert post(client, f"/samples/{sample['id']}", coarse).status_code == 303
    with Session(open_database(database)) as session:
        assert list(troubles(session)) == []
        test = session.get(Test, number)
        assert bool(test.moved) == checked
        if not checked:
            assert "63" in test.summary["next_action"]

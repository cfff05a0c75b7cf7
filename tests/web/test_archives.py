"""A project as one file: the same after a round trip, all or nothing on the way in, nothing taken on trust."""

import io
import json
import zipfile
from contextlib import suppress
from datetime import date

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlmodel import Session, col, func, select

from tests.command_line import vadum
from tests.laboratory import COMPACTION_G1, LIQUID_LIMIT_B3, RING_DENSITY_U2, UNCONFINED_U5
from tests.records.small_laboratory import copy_of
from tests.web.hands import picture
from vadum.demo.builder import Builder
from vadum.demo.soils import LEAN_CLAY, SOFT_GROUND, VANE
from vadum.records.archive import ArchiveError, bring_in, export, preview
from vadum.records.backup import backup
from vadum.records.corrections import corrections_of
from vadum.records.database import open_database
from vadum.records.dependents import renew, renew_users
from vadum.records.doctor import troubles
from vadum.records.lift import against_by_test, requirement_of, rule_of
from vadum.records.states import moved_now
from vadum.records.tables import (
    Attachment,
    Calibration,
    Equipment,
    IssuedSheet,
    Location,
    Project,
    Revision,
    Sample,
    Test,
)
from vadum.web.app import create_app

SHEET = LIQUID_LIMIT_B3


@pytest.fixture(scope="module")
def full(demo_database, tmp_path_factory):
    """The first project with a photograph and an issued sheet."""
    path = tmp_path_factory.mktemp("full") / "lab.sqlite"
    backup(demo_database, path)
    with TestClient(create_app(path)) as client:
        client.post(
            f"/api/tests/{UNCONFINED_U5}/photographs",
            files={"file": ("p.jpg", picture())},
            data={"caption": "specimen 1"},
        )
        density = {"compaction": str(COMPACTION_G1), "least_percent": "95", "drier_percent": "2", "wetter_percent": "2"}
        for least in ("95", "97"):
            client.post("/projects/1/densities", data=density | {"least_percent": least})
        client.post(f"/projects/1/densities/{RING_DENSITY_U2}", data={"compaction": str(COMPACTION_G1)})
        why = {"reason": "measured again"}
        with Session(open_database(path)) as session:
            place = session.exec(select(Location).where(Location.name == "TP4")).one()
            bag = next(sample for sample in place.samples if sample.name == "B4")
            pit = {"name": "TP4", "kind": place.kind, "depth_m": str(place.depth_m + 0.5)}
            heavier = {"name": "B4", "kind": bag.kind, "top_m": bag.top_m, "base_m": bag.base_m, "mass_g": "4321"}
        assert client.post(f"/locations/{place.id}", data=pit | why, follow_redirects=False).status_code == 303
        assert client.post(f"/samples/{bag.id}", data=heavier | why, follow_redirects=False).status_code == 303
        client.cookies.set("vadum_who", "checker")
        for action in ("check", "issue"):
            assert client.post(f"/api/tests/{SHEET}/move", json={"action": action}).status_code == 200
        return client.get("/projects/1/archive.zip").content


def parts(data):
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def packed(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def changed(data, change):
    files = parts(data)
    plain = json.loads(files["project.json"])
    change(plain)
    return packed(files | {"project.json": json.dumps(plain)})


def first_test(plain):
    return next(t for place in plain["locations"] for s in place["samples"] for t in s["tests"])


def rows(session):
    return [session.exec(select(func.count()).select_from(t)).one() for t in (Project, Test, Revision, Attachment)]


def test_a_round_trip_into_an_empty_laboratory_changes_nothing(full, tmp_path):
    with Session(open_database(tmp_path / "other.sqlite")) as session:
        project = bring_in(session, full)
        assert list(troubles(session)) == []
        assert session.exec(select(func.count()).select_from(IssuedSheet)).one() == 1
        again = export(session, project)
    assert parts(again) == parts(full)


def test_who_put_what_right_goes_with_the_project(full, client, database):
    """Beside itself, where every key is another one."""

    def told(session, project):
        place = next(place for place in project.locations if place.name == "TP4")
        rows = (project, place, next(sample for sample in place.samples if sample.name == "B4"))
        return [[(one.at, one.who, one.reason, one.changed) for one in corrections_of(session, row)] for row in rows]

    with Session(open_database(database)) as session:
        there = session.get(Project, bring_in(session, full).id)
        of_project, of_place, of_sample = told(session, there)
    assert [changed for *_, changed in of_project] == [
        {
            f"density of TP4 U2 (test {RING_DENSITY_U2}): compaction test": [
                "natural ground",
                f"BP1 G1 (test {COMPACTION_G1})",
            ]
        },
        {"required density: at least": ["95", "97"]},
        {"required density: compaction test": ["", f"BP1 G1 (test {COMPACTION_G1})"]},
    ]
    assert [(who, reason) for _, who, reason, _ in of_place] == [("technician 1", "measured again")]
    assert [changed for *_, changed in of_sample] == [{"mass_g": [*of_sample[0][-1]["mass_g"][:1], 4321.0]}]


def test_what_is_asked_of_its_lifts_goes_by_its_own_compaction_test(full, database):
    with Session(open_database(database)) as session:
        project = bring_in(session, full)
        asked = rule_of(project)
        assert asked.least_percent == 97
        assert session.get(Test, asked.compaction).sample.location.project_id == project.id
        assert requirement_of(project) is not None
        [(tube, by)] = against_by_test(project).items()
        assert session.get(Test, tube).place == "TP4 U2"
        assert by == asked.compaction


def test_an_archive_of_an_earlier_release_names_no_compaction_test_of_another_laboratory(full, database):
    """It said the key that the test had there."""

    def as_before(plain):
        del plain["required_by"]
        plain["project"]["lift_rule"]["compaction"] = COMPACTION_G1

    older = changed(full, as_before)
    with Session(open_database(database)) as session:
        assert "by which compaction test" in " ".join(preview(session, older).notes)
        assert "by which compaction test" not in " ".join(preview(session, full).notes)
        project = bring_in(session, older)
        assert rule_of(project).compaction is None
        assert rule_of(project).least_percent == 97


def test_calibrations_go_with_a_piece_and_a_known_piece_keeps_its_own(database, tmp_path):
    def calibrations(engine):
        with Session(engine) as session:
            rows = session.exec(select(Calibration).join(Equipment).where(Equipment.name == "Ring 20")).all()
            return [(c.on, c.due, c.table[-1], c.certificate, c.who) for c in rows]

    with Session(open_database(database)) as session:
        ring = session.exec(select(Equipment).where(Equipment.name == "Ring 20")).one()
        session.add(
            Calibration(
                equipment_id=ring.id,
                on=date(2026, 3, 2),
                due=date(2027, 3, 2),
                table=[(0.0, 0.0), (200.0, 1.03)],
                who="a",
                certificate_name="c.pdf",
                certificate=b"%PDF certificate",
            )
        )
        session.flush()
        renew_users(session, ring)
        session.commit()
        data = export(session, session.get(Project, 1))
    other = open_database(tmp_path / "other.sqlite")
    with Session(other) as session:
        bring_in(session, data)
    brought = calibrations(other)
    assert (date(2026, 3, 2), date(2027, 3, 2), [200, 1.03], b"%PDF certificate", "a") in brought
    with Session(other) as session:
        assert parts(export(session, session.get(Project, 1))) == parts(data)
        bring_in(session, data)
    assert calibrations(other) == brought, "the ring was known the second time"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    """A project with a vane profile and a bag whose tins the register knows."""
    path = tmp_path_factory.mktemp("one hole") / "lab.sqlite"
    with Session(open_database(path)) as session:
        lab = Builder(session)
        lab.laboratory()
        hole = lab.location(lab.add(Project(name="Mill race")), "BH1", "borehole", 4.0, ((4.0, "soft clay"),))
        lab.test(lab.sample(hole, "B1", "bag", 1.0, 1.3, 9000, "grey clay"), "water-content", LEAN_CLAY)
        lab.test(hole, "vane", SOFT_GROUND, tools=("Vane 65",), drop=tuple(VANE))
    return path


@pytest.fixture
def one_hole(built, tmp_path):
    return copy_of(built, tmp_path)


def _vane(session, project):
    query = select(Test).join(Location).where(Location.project_id == project.id, Test.method == "vane")
    return session.exec(query).one()


def _elsewhere(path, **piece):
    """A laboratory that has another vane of the same name."""
    session = Session(open_database(path))
    session.add(Equipment(kind="vane", name="Vane 65", **piece))
    session.commit()
    return session


@pytest.mark.parametrize("action", ["", "check"])
def test_a_piece_of_the_same_name_that_measures_otherwise_changes_no_number(one_hole, tmp_path, action):
    with Session(open_database(one_hole)) as session:
        number = _vane(session, session.get(Project, 1)).id
    with TestClient(create_app(one_hole)) as client:
        client.cookies.set("vadum_who", "checker")
        if action:
            assert client.post(f"/api/tests/{number}/move", json={"action": action}).status_code == 200
        data = client.get("/projects/1/archive.zip").content
    with Session(open_database(one_hole)) as session:
        then = session.get(Test, number).summary
    heavier = {"constant": 2.45, "full_scale": 100.0, "diameter_mm": 65.0, "height_mm": 130.0}
    with _elsewhere(tmp_path / "other.sqlite", constants=heavier) as session:
        assert any("Vane 65 (archive)" in note for note in preview(session, data).notes)
        vane = _vane(session, bring_in(session, data))
        assert vane.summary == then
        assert (vane.moved, moved_now(session, vane)) == ([], [])
        assert [piece.name for piece in vane.uses if piece.kind == "vane"] == ["Vane 65 (archive)"]
        # What is theirs is known the second time.
        again = _vane(session, bring_in(session, data))
        assert again.uses == vane.uses
        assert session.exec(select(Equipment).where(Equipment.name == "Vane 65")).one().constants == heavier
        assert not list(troubles(session))


@pytest.mark.parametrize(
    ("here", "same"),
    [
        ([], False),
        ([date(2026, 3, 2)], True),
        # Calibrated anew after all that the archive tells of: it is the same piece, some time later.
        ([date(2026, 3, 2), date(2099, 1, 5)], True),
        ([date(2026, 3, 2), date(2026, 4, 6)], False),
    ],
)
def test_a_piece_is_the_same_while_what_counted_on_a_day_of_theirs_counts_here(one_hole, tmp_path, here, same):
    constants = {"constant": 2.33, "full_scale": 100.0, "diameter_mm": 65.0, "height_mm": 130.0}

    def calibrated(session, days):
        vane = session.exec(select(Equipment).where(Equipment.name == "Vane 65")).one()
        session.add_all(Calibration(equipment_id=vane.id, on=day, constants=constants, who="a") for day in days)
        session.commit()

    with Session(open_database(one_hole)) as session:
        calibrated(session, [date(2026, 3, 2)])
        data = export(session, session.get(Project, 1))
    with _elsewhere(tmp_path / "other.sqlite", constants=constants) as session:
        calibrated(session, here)
        vane = _vane(session, bring_in(session, data))
        (name,) = (piece.name for piece in vane.uses if piece.kind == "vane")
        assert name == ("Vane 65" if same else "Vane 65 (archive)")


def test_a_tin_that_was_weighed_again_there_brings_the_tare_of_the_tests_day(one_hole, tmp_path):
    def leaning(session, project):
        places = select(Sample.id).join(Location).where(Location.project_id == project.id)
        query = select(Test).where(Test.method == "water-content", Test.state == "reduced")
        return session.exec(query.where(col(Test.sample_id).in_(places))).first()

    with Session(open_database(one_hole)) as session:
        test = leaning(session, session.get(Project, 1))
        name = test.kept["determinations"][0]["tin"]
        tin = session.exec(select(Equipment).where(Equipment.name == name)).one()
        first = tin.tare_g
        weighed = {date(2020, 1, 7): first, date(2025, 1, 7): first + 0.5}
        session.add_all(
            Calibration(equipment_id=tin.id, on=day, constants={"tare_g": tare}, who="a")
            for day, tare in weighed.items()
        )
        session.flush()
        renew_users(session, tin)
        renew(session, [test])
        session.commit()
        then, data = test.summary, export(session, session.get(Project, 1))
    with Session(open_database(tmp_path / "other.sqlite")) as session:
        session.add(Equipment(kind="tin", name=name, tare_g=first))
        session.commit()
        assert any(f"Other tares here: {name}" in note for note in preview(session, data).notes)
        brought = leaning(session, bring_in(session, data))
        assert brought.summary["parameters"] == then["parameters"]
        assert brought.kept["determinations"][0]["mass_tin_g"] == pytest.approx(first + 0.5)


def test_beside_itself_it_comes_as_a_second_project(full, client):
    reply = client.post("/archives", files={"file": ("a.zip", full)})
    assert "is here already" in reply.text
    assert "locations" in reply.text
    sha = reply.text.split("seen_sha256=")[1].split('"')[0]
    before = client.get("/").text.count("Harrow Mere bypass")
    assert client.post("/archives", files={"file": ("a.zip", full)}).status_code == 200
    assert client.get("/").text.count("Harrow Mere bypass") == before, "looking changes nothing"
    reply = client.post(f"/archives?seen_sha256={sha}", files={"file": ("a.zip", full)}, follow_redirects=False)
    assert reply.status_code == 303
    assert "Harrow Mere bypass" in client.get(reply.headers["location"]).text
    assert client.get("/projects/1/archive.zip").content[:2] == b"PK"
    # Another file than the one that was seen is only looked at.
    other = changed(full, lambda p: p["project"].update(name="Elsewhere"))
    reply = client.post(f"/archives?seen_sha256={sha}", files={"file": ("a.zip", other)}, follow_redirects=False)
    assert reply.status_code == 200
    assert "Elsewhere" in reply.text


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda p: p.update(format="other/2"), "not of the format"),
        (lambda p: first_test(p)["test"].update(method="palpation"), "method that is not known"),
        (lambda p: first_test(p)["test"]["readings"].update(nonsense=1), "Readings that cannot be taken"),
        (
            lambda p: p["locations"][0]["location"].update(depth="deep"),
            "depth: is not a field here; check the spelling",
        ),
        (lambda p: p.pop("locations"), "not whole"),
        (lambda p: first_test(p).update(uses=["Balance 99"]), "not whole"),
        (lambda p: first_test(p)["revisions"][0].update(at="yesterday"), "not whole"),
    ],
)
def test_what_is_wrong_inside_is_said_and_nothing_comes(full, tmp_path, change, words):
    data = changed(full, change)
    with Session(open_database(tmp_path / "other.sqlite")) as session:
        with pytest.raises(ArchiveError, match=words):
            bring_in(session, data)
        assert rows(session) == [0, 0, 0, 0]


def test_a_file_that_was_changed_or_is_missing_is_noticed(full, tmp_path):
    files = parts(full)
    name = next(n for n in files if n.startswith("files/"))
    with Session(open_database(tmp_path / "other.sqlite")) as session:
        with pytest.raises(ArchiveError, match="was changed"):
            bring_in(session, packed(files | {name: files[name] + b"x"}))
        with pytest.raises(ArchiveError, match="missing"):
            bring_in(session, packed({n: c for n, c in files.items() if not n.startswith("files/")}))
        assert rows(session) == [0, 0, 0, 0]


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(cut=st.floats(0, 0.999), at=st.floats(0, 1), byte=st.integers(0, 255))
def test_truncated_and_spoilt_archives_end_in_a_plain_message(small_archive, empty, cut, at, byte):
    spoilt = bytearray(small_archive)
    spoilt[min(int(at * len(spoilt)), len(spoilt) - 1)] = byte
    with Session(empty) as session:
        for data in (small_archive[: int(cut * len(small_archive))], bytes(spoilt)):
            # Anything but a plain message fails the test.
            with suppress(ArchiveError):
                preview(session, data)


@pytest.fixture(scope="module")
def empty(tmp_path_factory):
    return open_database(tmp_path_factory.mktemp("empty") / "other.sqlite")


@pytest.fixture(scope="module")
def small_archive(demo_database):
    with Session(open_database(demo_database)) as session:
        return export(session, session.get(Project, 2))


def test_an_archive_that_unpacks_to_too_much_is_refused(monkeypatch, small_archive, tmp_path):
    monkeypatch.setattr("vadum.records.archive.opening.MOST_UNPACKED", 1000)
    with (
        Session(open_database(tmp_path / "other.sqlite")) as session,
        pytest.raises(ArchiveError, match="unpacks to more"),
    ):
        preview(session, small_archive)


def test_no_archive_at_all_is_said_on_the_page(client):
    reply = client.post("/archives", files={"file": ("notes.txt", b"no archive")})
    assert reply.status_code == 422
    assert "notes.txt: This is no archive of a project" in reply.text


def test_from_the_command_line(database, tmp_path):
    file, other = tmp_path / "p.zip", tmp_path / "other.sqlite"
    assert vadum("export", 2, file, database=database).returncode == 0
    assert vadum("import", file, database=other).stdout.endswith("Quill Lane water tower is project 1.\n")
    again = vadum("import", file, database=other).stdout
    assert "A project called Quill Lane water tower is here already" in again
    assert vadum("export", 99, file, database=database).returncode == 2

"""Tins from a pasted list: read whatever the list looks like, seen first, and a test keeps the tare of its day."""

from datetime import date, timedelta

import pytest
from sqlmodel import Session, select

from tests.laboratory import WATER_CONTENT_U1_1
from tests.web.hands import save, signed_in
from vadum.records.database import open_database
from vadum.records.tables import Calibration, Equipment, Revision
from vadum.records.tares import tares
from vadum.records.tins import look

TODAY = date(2026, 11, 28)


@pytest.fixture
def session(database):
    with Session(open_database(database)) as session:
        yield session


@pytest.mark.parametrize(
    ("line", "name", "tare", "on"),
    [
        ("N-1 21.43", "N-1", 21.43, TODAY),
        ("N-1\t21,43\t2026-11-02", "N-1", 21.43, date(2026, 11, 2)),
        ("N-1;21,43;2.11.2026", "N-1", 21.43, date(2026, 11, 2)),
        ("N-1,21.43", "N-1", 21.43, TODAY),
        ("tin 7 blue 21.43 g", "tin 7 blue", 21.43, TODAY),
        ("  N-1   0.02143 kg  2026-11-02 ", "N-1", 21.43, date(2026, 11, 2)),
    ],
)
def test_a_line_is_read_as_people_write_it(session, line, name, tare, on):
    (one,) = look(session, line, TODAY).tins
    assert (one.name, one.on) == (name, on)
    assert one.tare_g == pytest.approx(tare)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("N-1", "Line 1: “N-1” needs a number and a tare."),
        ("N-1 light", "Line 1: "),
        ("N-1 21.43\nN-1 21.50", "Line 2: N-1 stands more than once."),
        ("N-1 21.43\nn-1 21.50", "Line 2: n-1 stands more than once."),
        ("t-11 21.43", "Line 1: the register calls t-11 T-11: write it so."),
        ("N-1 0", "0 g is no mass of a tin"),
        ("N-1 21.43 2027-01-01", "2027-01-01 lies ahead"),
        ("N-1 21.43 2026-02-30", "2026-02-30 is no day"),
        ("Cup 1 21.43", "Cup 1 is a cup of the register"),
        ("N-1 5 psi", "Line 1: "),
        ("x" * 60 + " 21.4", "is too long"),
    ],
)
def test_a_line_that_cannot_be_read_says_why(session, text, words):
    assert any(words in fault for fault in look(session, text, TODAY).faults)


def test_two_tins_that_an_earlier_list_made_of_one_are_both_weighed_again(session):
    session.add(Equipment(name="t-11", kind="tin", tare_g=17.9))
    session.commit()
    seen = look(session, "T-11 17.92", TODAY), look(session, "t-11 17.92", TODAY)
    assert [[one.name for one in each.tins] for each in seen] == [["T-11"], ["t-11"]]


def test_a_heading_and_empty_lines_are_passed_over(session):
    seen = look(session, "tin;tare, g\n\nN-1;21.43\n\n", TODAY)
    assert [one.name for one in seen.tins] == ["N-1"]
    assert seen.faults == []


def test_with_one_bad_line_nothing_is_kept(app):
    manager = signed_in(app, "manager")
    reply = manager.post("/equipment/tins", data={"text": "N-1 21.43\nN-2 heavy", "keeps": "yes"})
    assert reply.status_code == 422
    assert "Nothing can be kept yet" in reply.text
    assert "N-1 21.43\nN-2 heavy" in reply.text, "what was typed stands there"
    with Session(app.state.engine) as session:
        assert session.exec(select(Equipment).where(Equipment.name == "N-1")).first() is None


def test_a_list_is_seen_first_and_then_kept(app):
    manager = signed_in(app, "manager")
    seen = manager.post("/equipment/tins", data={"text": "N-1 21.43\nT-01 99.9", "days": "180"})
    assert "new" in seen.text
    assert "another tin, or a number misread?" in seen.text
    with Session(app.state.engine) as session:
        assert session.exec(select(Equipment).where(Equipment.name == "N-1")).first() is None
    manager.post("/equipment/tins", data={"text": "N-1 21.43", "days": "180", "keeps": "yes"})
    with Session(app.state.engine) as session:
        tin = session.exec(select(Equipment).where(Equipment.name == "N-1")).one()
        (weighed,) = session.exec(select(Calibration).where(Calibration.equipment_id == tin.id)).all()
    assert (tin.kind, tin.tare_g, weighed.who) == ("tin", 21.43, "manager")
    assert weighed.due == weighed.on + timedelta(days=180)
    assert "N-1" in manager.get("/equipment").text


def test_a_test_keeps_the_tare_of_its_day(client, database, session):
    """T-01 was lighter when the test was weighed; today it is heavier, and only today's tests know that."""
    before = session.exec(select(Equipment).where(Equipment.name == "T-01")).one().tare_g
    cells = {f"determinations.0.{key}": text for key, text in (("tin", "T-01"), ("mass_tin_wet_g", "60"))}
    save(client, WATER_CONTENT_U1_1, cells=cells | {"determinations.0.mass_tin_dry_g": "50"})

    def water():
        sheet = client.get(f"/api/tests/{WATER_CONTENT_U1_1}/sheet").json()
        row = sheet["tables"][0]["rows"][0]
        return row["computed"]["water_content_percent"] if "computed" in row else str(row)

    first = water()
    for revision in session.exec(select(Revision).where(Revision.test_id == WATER_CONTENT_U1_1)):
        revision.at -= timedelta(days=40)
        session.add(revision)
    session.commit()
    text = f"T-01 {before + 1:.2f} {date.today().isoformat()}"
    client.post("/equipment/tins", data={"text": text, "keeps": "yes", "days": ""})
    assert water() == first
    assert tares(session, date.today)["T-01"] == pytest.approx(before + 1)
    assert tares(session, lambda: date.today() - timedelta(days=30))["T-01"] == pytest.approx(before)
    assert session.exec(select(Equipment).where(Equipment.name == "T-01")).one().tare_g == pytest.approx(before + 1)


def test_a_tin_that_is_due_is_said_in_the_register(client, session):
    long_ago = (date.today() - timedelta(days=400)).isoformat()
    client.post("/equipment/tins", data={"text": f"N-9 21.4 {long_ago}", "days": "365", "keeps": "yes"})
    assert "1 to be weighed again" in client.get("/equipment").text


def test_who_may_not_add_is_not_shown_the_way(app):
    hand = signed_in(app, "technician")
    assert 'href="/equipment/tins"' not in hand.get("/equipment").text
    assert hand.post("/equipment/tins", data={"text": "N-1 21.4", "keeps": "yes"}).status_code == 403

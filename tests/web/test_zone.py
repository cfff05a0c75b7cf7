"""Days and hours as the laboratory reads them: sheets, history, cups and boards in one zone; the record keeps UTC."""

from datetime import UTC, date, datetime

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, WATER_CONTENT_B1
from tests.printed import words_of
from tests.web.hands import signed_in
from vadum.records.calibrations import day_of
from vadum.records.context import inspection_states
from vadum.records.database import open_database
from vadum.records.tables import Check, Equipment, Revision, Test
from vadum.records.zone import ZoneError, keep_zone, local, stamp, today, zone_of


def printed(client, test):
    return words_of(client.get(f"/tests/{test}/sheet.pdf").content)


@pytest.fixture
def session(database):
    with Session(open_database(database)) as open_session:
        yield open_session


def test_summer_time_is_the_zones_own(session):
    """Lisbon is at UTC in winter and an hour ahead from the last Sunday in March on (29 March 2026, 01:00 UTC)."""
    keep_zone(session, "Europe/Lisbon")
    assert stamp(session, datetime(2026, 3, 29, 0, 59, tzinfo=UTC)) == "2026-03-29 00:59 WET"
    assert stamp(session, datetime(2026, 3, 29, 1, 0, tzinfo=UTC)) == "2026-03-29 02:00 WEST"
    keep_zone(session, "America/Sao_Paulo")
    assert stamp(session, datetime(2026, 7, 1, 1, 0, tzinfo=UTC)) == "2026-06-30 22:00 UTC-03"


def test_a_zone_nobody_knows_is_refused(session):
    with pytest.raises(ZoneError, match="no zone “Mars/Base”"):
        keep_zone(session, "Mars/Base")
    keep_zone(session, "Pacific/Auckland")
    keep_zone(session, "")
    assert local(session, datetime(2026, 1, 1, tzinfo=UTC)).utcoffset() == datetime.now().astimezone().utcoffset()


def test_the_day_of_a_test_is_the_laboratorys(session):
    """Read at 23:30 UTC on the second: the third in Auckland, still the second in Lisbon."""
    test = session.get(Test, WATER_CONTENT_B1)
    first = session.exec(select(Revision).where(Revision.test_id == test.id).order_by(Revision.at)).first()
    first.at = datetime(2026, 11, 2, 23, 30, tzinfo=UTC)
    session.add(first)
    session.commit()
    for zone, day in (("Europe/Lisbon", date(2026, 11, 2)), ("Pacific/Auckland", date(2026, 11, 3))):
        keep_zone(session, zone)
        assert day_of(session, test) == day


def test_a_cup_looked_at_in_the_morning_is_fit_all_day_in_the_laboratory(session):
    """Inspected at 07:00 in Auckland (18:00 UTC the day before) and used at 16:00 there, when UTC has a new day."""
    keep_zone(session, "Pacific/Auckland")
    cup = session.exec(select(Equipment).where(Equipment.name == "Cup 1")).one()
    for test in session.exec(select(Test).where(Test.equipment_id == cup.id)):
        test.updated_at = datetime(2026, 11, 1, 18, 0, tzinfo=UTC)
        session.add(test)
    session.commit()
    used = datetime(2026, 11, 2, 3, 0, tzinfo=UTC).astimezone(zone_of(session)).date()
    assert inspection_states(session, [cup], used)[cup.id] == "fit"
    keep_zone(session, "UTC")
    used = datetime(2026, 11, 2, 3, 0, tzinfo=UTC).date()
    assert inspection_states(session, [cup], used)[cup.id] == "overdue"


def test_sheets_and_pages_are_of_the_zone_that_the_manager_chose(app):
    manager = signed_in(app, "manager")
    with Session(app.state.engine) as session:
        at = session.exec(select(Check.at).where(Check.test_id == LIQUID_LIMIT_B1)).one()
    assert f"{at:%Y-%m-%d %H:%M} UTC" in printed(manager, LIQUID_LIMIT_B1)
    assert manager.post("/zone", data={"zone": "Asia/Kolkata"}, follow_redirects=False).status_code == 303
    with Session(app.state.engine) as session:
        there = local(session, at)
        assert today(session) == datetime.now(zone_of(session)).date()
    assert f"{there:%Y-%m-%d %H:%M} IST" in printed(manager, LIQUID_LIMIT_B1)
    assert 'data-zone="Asia/Kolkata"' in manager.get("/board").text
    refused = manager.post("/zone", data={"zone": "Mars/Base"})
    assert refused.status_code == 422
    assert "There is no zone “Mars/Base”" in refused.text
    assert signed_in(app, "technician").post("/zone", data={"zone": "UTC"}).status_code == 403

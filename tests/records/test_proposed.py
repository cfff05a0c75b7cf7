"""Equipment of a new test is proposed from the last one, said once a day by each person, and never printed in
silence."""

from datetime import timedelta

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_D2
from tests.web.hands import save
from vadum.records import proposed as proposals
from vadum.records.database import open_database
from vadum.records.tables import Equipment, Test
from vadum.records.zone import today
from vadum.report.sheet import PROPOSED, sheet_of


def planned(client, sample=1, method="liquid-limit"):
    reply = client.post(f"/samples/{sample}/tests", data={"method": method, "anyway": "1"}, follow_redirects=False)
    return int(reply.headers["location"].rsplit("/", 1)[1])


def asked(client, test):
    return '"proposed": true' in client.get(f"/tests/{test}").text


def printed(database, test):
    with Session(open_database(database)) as session:
        return sheet_of(session, session.get(Test, test)).data["equipment"]


@pytest.fixture
def uses(client, database):
    """A first test of the method, with its equipment said by the one who works."""
    first = planned(client)
    save(client, first, uses=pieces(database, "Balance 2", "Cup 1"))
    return first


def pieces(database, *names):
    with Session(open_database(database)) as session:
        return [session.exec(select(Equipment.id).where(Equipment.name == name)).one() for name in names]


def test_what_is_proposed_is_asked_and_printed_as_proposed_until_somebody_says_it(client, database):
    test = planned(client)
    assert asked(client, test)
    save(client, test, cells={"trials.0.blows": "25"})
    assert printed(database, test)[-1] == PROPOSED or PROPOSED in printed(database, test)
    sheet = client.get(f"/api/tests/{test}/sheet").json()
    save(client, test, uses=sheet["uses"])
    assert not asked(client, test)
    assert PROPOSED not in printed(database, test)


def test_a_person_says_it_once_a_day(client, database, uses):
    second = planned(client, sample=2)
    assert not asked(client, second)
    save(client, second, cells={"trials.0.blows": "25"})
    assert PROPOSED not in printed(database, second)
    with Session(open_database(database)) as session:
        assert session.get(Test, second).uses_said == session.get(Test, uses).uses_said


def test_another_person_another_day_and_other_equipment_are_asked_again(client, database, uses, monkeypatch):
    second = planned(client, sample=2)
    with Session(open_database(database)) as session:
        test = session.get(Test, second)
        assert not proposals.asks(session, test, "technician 1")
        assert proposals.asks(session, test, "technician 2")
        tomorrow = today(session) + timedelta(days=1)
        monkeypatch.setattr(proposals, "today", lambda _: tomorrow)
        assert proposals.asks(session, test, "technician 1")
        monkeypatch.undo()
        test.uses = test.uses[:1]
        assert proposals.asks(session, test, "technician 1")


def test_tests_of_earlier_releases_are_printed_as_before(client, database):
    assert not asked(client, LIQUID_LIMIT_D2)
    assert PROPOSED not in printed(database, LIQUID_LIMIT_B1)

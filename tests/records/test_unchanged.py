"""What a preview leans on is gathered once, and again as soon as anything was written, by whomever."""

import sqlite3
from collections import OrderedDict
from contextlib import closing

import pytest
from sqlmodel import select

from vadum.records import unchanged
from vadum.records.context import Beside
from vadum.records.database import open_database, session_on
from vadum.records.tables import Equipment, Project, Sample, Test
from vadum.records.together import has, places_of


@pytest.fixture
def asked(database, monkeypatch):
    """Ask for the ground of test 7 on a fresh session; the second value counts how often it was gathered."""
    engine, counted, gather = open_database(database), [], unchanged.footing

    def counting(session, test):
        counted.append(test.id)
        return gather(session, test)

    monkeypatch.setattr(unchanged, "footing", counting)

    def ask():
        with session_on(engine) as session:
            return unchanged.hold(engine, ("under", 7), lambda: unchanged.under(session, session.get(Test, 7))).context

    yield engine, ask, counted
    engine.dispose()


def test_asked_again_it_is_not_gathered_again(asked):
    _, ask, counted = asked
    assert ask() == ask() == ask()
    assert counted == [7]


def test_a_tin_weighed_again_reaches_the_next_preview(asked):
    engine, ask, counted = asked
    before = ask()["tins"]["T-11"]
    with session_on(engine) as session:
        tin = session.exec(select(Equipment).where(Equipment.name == "T-11")).one()
        tin.tare_g = before + 1
        session.add(tin)
        session.commit()
    assert ask()["tins"]["T-11"] == pytest.approx(before + 1)
    assert counted == [7, 7]


def test_what_another_process_writes_reaches_it_too(asked, database):
    _, ask, _ = asked
    before = ask()["tins"]["T-11"]
    with closing(sqlite3.connect(database)) as connection, connection:
        connection.execute("update equipment set tare_g = tare_g + 2 where name = 'T-11'")
    assert ask()["tins"]["T-11"] == pytest.approx(before + 2)


def test_a_write_puts_what_is_held_in_the_place_of_what_was(database, monkeypatch):
    """What was held before a write was kept until it was crowded out: a server grew by it."""
    monkeypatch.setattr(unchanged, "_held", OrderedDict())
    engine = open_database(database)
    for number in range(20):
        with session_on(engine) as session:
            session.add(Equipment(name=f"Shelf {number}", kind="other"))
            session.commit()
        assert unchanged.hold(engine, "shelves", lambda number=number: number) == number
        assert unchanged.held(engine, "shelves") == number
    assert len(unchanged._held) == 1
    engine.dispose()


def test_a_sample_says_the_same_of_its_tests_whether_they_were_read_or_not(database):
    engine = open_database(database)
    with session_on(engine) as read, session_on(engine) as asked:
        places = [place for project in read.exec(select(Project)).all() for place in places_of(read, project)]
        samples = [sample for place in places for sample in place.samples]
        assert samples
        for sample in samples:
            assert has(sample, "tests")
            own, other = Beside(read, sample), Beside(asked, asked.get_one(Sample, sample.id))
            assert [test.id for test in own._tests] == [test.id for test in other._tests]
    engine.dispose()

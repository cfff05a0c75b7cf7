"""What was typed without a line says when it was typed, not only when it arrived."""

from datetime import timedelta

import pytest
from sqlmodel import Session, select

from tests.laboratory import WATER_CONTENT_U1_1
from vadum.records.archive import bring_in, export
from vadum.records.database import open_database
from vadum.records.saving import Change, save
from vadum.records.tables import OperationTime, Project, Revision, Test, now

WET = {"determinations.0.tin": "A1", "determinations.0.mass_tin_g": "20", "determinations.0.mass_tin_wet_g": "60"}


def typed(session, ago, key="typed-in-the-pit"):
    test = session.get(Test, WATER_CONTENT_U1_1)
    at = now() - ago
    save(session, test, Change(test.revision, "technician 1", cells=WET, save_key=key, typed_at=at))
    return session.exec(select(Revision).where(Revision.test_id == test.id, Revision.save_key == key)).one(), at


def test_the_revision_and_the_clock_of_the_test_count_from_the_typing(database):
    with Session(open_database(database)) as session:
        revision, at = typed(session, timedelta(hours=3))
        assert revision.typed_at == at
        assert revision.at - at >= timedelta(hours=3)
        into_oven = session.exec(
            select(OperationTime).where(OperationTime.test_id == revision.test_id, OperationTime.key == "oven-in")
        ).one()
        assert into_oven.at == at


@pytest.mark.parametrize(
    "ago", [timedelta(seconds=2), timedelta(hours=-1), timedelta(days=400)], ids=["at once", "to come", "last year"]
)
def test_what_did_not_wait_or_comes_from_a_wrong_clock_counts_from_its_arrival(database, ago):
    with Session(open_database(database)) as session:
        revision, _ = typed(session, ago)
        assert revision.typed_at is None


def test_an_archive_takes_the_time_of_typing_along(database):
    with Session(open_database(database)) as session:
        _, at = typed(session, timedelta(hours=3))
        project = session.get(Test, WATER_CONTENT_U1_1).ground.project_id
        brought = bring_in(session, export(session, session.get(Project, project)))
        times = session.exec(
            select(Revision.typed_at)
            .join(Test, Test.id == Revision.test_id)
            .where(Revision.save_key == "typed-in-the-pit", Test.id != WATER_CONTENT_U1_1)
        ).all()
        assert brought.id != project
        assert times == [at]

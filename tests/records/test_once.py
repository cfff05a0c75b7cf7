"""What is read once within a request is never older than what the request itself has written."""

from datetime import date

from sqlmodel import Session, col, delete, select

from vadum.records.calibrations import begun_of, calibrations_by_piece
from vadum.records.database import writing
from vadum.records.kept_settings import keep_setting, setting
from vadum.records.once import each_once, once
from vadum.records.tables import Calibration, Equipment, Test


def test_what_was_read_is_not_read_again(session):
    asked = []

    def read(keys):
        asked.append(keys)
        return {key: key * 2 for key in keys}

    assert each_once(session, "twice", [1, 2], read) == {1: 2, 2: 4}
    assert each_once(session, "twice", [2, 3, 3], read) == {2: 4, 3: 6}
    assert each_once(session, "twice", [], read) == {}
    assert asked == [[1, 2], [3]]


def test_who_goes_through_many_keeps_the_last(session):
    asked = []

    def read(keys):
        asked.extend(keys)
        return dict.fromkeys(keys, "read")

    for key in range(5):
        each_once(session, "few", [key], read, most=2)
    assert each_once(session, "few", [4, 1], read, most=2) == {4: "read", 1: "read"}
    assert asked == [0, 1, 2, 3, 4, 1]


def test_nothing_is_something_that_was_read(session):
    asked = []
    assert once(session, "none", lambda: asked.append(1)) is None
    assert once(session, "none", lambda: asked.append(1)) is None
    assert asked == [1]


def test_a_kept_value_is_the_new_one(session):
    assert setting(session, "colour") is None
    keep_setting(session, "colour", "red")
    assert setting(session, "colour") == "red"
    keep_setting(session, "colour", "blue")
    assert setting(session, "colour") == "blue"


def test_what_is_about_to_be_written_counts_and_what_goes_back_does_not(session):
    piece = session.exec(select(Equipment)).first()
    before = len(calibrations_by_piece(session, [piece]).get(piece.id, []))
    session.add(Calibration(equipment_id=piece.id, on=date(2026, 3, 1), by="us", who="manager"))
    assert len(calibrations_by_piece(session, [piece])[piece.id]) == before + 1
    session.rollback()
    assert len(calibrations_by_piece(session, [piece]).get(piece.id, [])) == before


def test_rows_removed_at_once_are_gone(session):
    piece = session.exec(select(Equipment)).first()
    session.add(Calibration(equipment_id=piece.id, on=date(2026, 3, 1), by="us", who="manager"))
    assert calibrations_by_piece(session, [piece])
    session.exec(delete(Calibration).where(col(Calibration.equipment_id) == piece.id))
    assert not calibrations_by_piece(session, [piece])


def test_a_test_without_readings_has_not_begun(session):
    test = Test(method="water-content")
    session.add(test)
    session.commit()
    assert begun_of(session, [test]) == {test.id: None}
    assert begun_of(session, [Test(method="water-content")]) == {}


def test_who_waited_for_another_writer_reads_anew(session):
    assert setting(session, "colour") is None
    with Session(session.get_bind()) as other:
        keep_setting(other, "colour", "green")
    assert setting(session, "colour") is None
    with writing(session):
        assert setting(session, "colour") == "green"

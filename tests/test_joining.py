"""A file beside what a table holds: one file per specimen, added or in its place, with what stands in every row."""

import pytest

from tests.grids import text
from vadum.exchange.joining import held, joined, next_number, too_many
from vadum.exchange.readings_import import propose, targets
from vadum.exchange.spreadsheet import read_grid
from vadum.soil.registry import METHODS

BOX, HEADS = METHODS["direct-shear"].Readings, METHODS["falling-head"].Readings
ONE = text(("travel [mm]", "force [N]"), *((str(i / 10), str(5 * i)) for i in range(30)))


def target(name, model=BOX):
    return next(t for t in targets(model) if t.name == name)


def read(data, readings, name="record", *, append, said=None, model=BOX):
    """Return what a file brings to readings, as the page and the API have it."""
    found = propose(
        model, read_grid(data), name, None, lambda t: next_number(t, readings, append=append) | (said or {})
    )
    assert found.faults == []
    return found


def rows_after(readings, data, **how):
    proposal = read(data, readings, append=how["append"], said=how.get("said"))
    cells, _ = joined(proposal, readings, "frame.csv", append=how["append"])
    rows = [dict(row) for row in readings.get("record", [])]
    for path, value in cells.items():
        _, i, key = path.split(".")
        rows += [{} for _ in range(int(i) + 1 - len(rows))]
        rows[int(i)] = (rows[int(i)] | {key: value}) if value else {k: v for k, v in rows[int(i)].items() if k != key}
    return rows


def test_the_second_file_is_the_second_specimen():
    readings = {"record": []}
    for number in (1, 2, 3):
        rows = rows_after(readings, ONE, append=True)
        assert [row["specimen"] for row in rows[-30:]] == [str(number)] * 30
        readings = {"record": [{k: float(v) for k, v in row.items()} for row in rows]}
    assert len(readings["record"]) == 90
    assert [row["force_n"] for row in readings["record"][:30]] == [5.0 * i for i in range(30)]


def test_in_its_place_the_file_is_the_first_specimen_and_nothing_old_is_left():
    old = {"record": [{"specimen": 1, "horizontal_mm": 9.0, "force_n": 9.0, "vertical_mm": 9.0}] * 40}
    rows = rows_after(old, ONE, append=False)
    assert [row for row in rows[30:] if row] == []
    assert {row["specimen"] for row in rows[:30]} == {"1"}
    assert not any("vertical_mm" in row for row in rows)


def test_a_blank_number_counts_as_the_first_specimen():
    """What was typed without a number is specimen 1: the file beside it is the second."""
    old = {"record": [{"horizontal_mm": 0.0, "force_n": 0.0}]}
    assert next_number(target("record"), old, append=True) == {"specimen": "2"}
    assert next_number(target("record"), {}, append=True) == {"specimen": "1"}


def test_a_number_in_the_file_leads_over_what_is_said():
    data = text(("specimen", "travel [mm]", "force [N]"), *(("5", str(i / 10), str(5 * i)) for i in range(6)))
    assert {row["specimen"] for row in read(data, {}, append=True, said={"specimen": "2"}).rows} == {5}


def test_what_is_said_of_every_row_is_read_as_the_column_reads_it():
    data = text(("suction", "mass [g]"), ("10", "2390"), ("20", "2389"))
    model = METHODS["retention"].Readings
    found = propose(model, read_grid(data), "weighings", None, lambda _: {"device": "kPa", "day": "36 h"})
    assert [(row["device"], row["day"]) for row in found.rows] == [("kilopascal", 1.5)] * 2
    bad = propose(model, read_grid(data), "weighings", None, lambda _: {"day": "tomorrow"})
    assert [fault.row for fault in bad.faults] == [0]
    assert "day" in bad.faults[0].column


def test_a_log_without_numbers_is_joined_to_the_log_before():
    data = text(("time [min]", "head [mm]"), *((str(i), str(200 - i)) for i in range(60)))
    first = read(data, {}, "log", append=False, model=HEADS)
    _, kept = joined(first, {}, "a.csv", append=False)
    assert set(kept["log"]["cylinder"]) == {1.0}
    second = read(data, kept, "log", append=True, model=HEADS)
    _, both = joined(second, kept, "b.csv", append=True)
    assert both["log"]["cylinder"] == [1.0] * 60 + [2.0] * 60
    assert both["log"]["head_mm"][60:] == both["log"]["head_mm"][:60]
    assert both["log"]["file"] == "a.csv, b.csv"
    assert held(target("log", HEADS), both) == 120


def test_more_rows_than_the_table_takes_are_refused_before_anything_is_kept():
    old = {"record": [{"specimen": 1, "horizontal_mm": 0.0, "force_n": 0.0}] * 890}
    proposal = read(ONE, old, append=True)
    (fault,) = too_many(proposal, old, BOX)
    assert fault.message == "920 rows with those it holds; this table takes 900"
    assert too_many(proposal, {"record": old["record"][:800]}, BOX) == []


@pytest.mark.parametrize("name", ["specimens", "after"])
def test_a_table_without_numbers_has_none_proposed(name):
    assert next_number(target(name), {}, append=True) == {}


def test_a_column_that_the_school_does_not_read_is_not_filled():
    """Of a box read in N divisions are not taken, and one read in divisions says that newtons are none."""
    settings = METHODS["direct-shear"].Settings
    newtons, divisions = settings(force_read="newtons"), settings(force_read="divisions")
    dial = text(("travel [mm]", "divisions"), *((str(i / 10), str(2 * i)) for i in range(6)))
    assert set(propose(BOX, read_grid(dial), "record", settings=divisions).rows[1]) == {"horizontal_mm", "force_div"}
    assert set(propose(BOX, read_grid(dial), "record", settings=newtons).rows[1]) == {"horizontal_mm"}
    assert set(propose(BOX, read_grid(ONE), "record", settings=newtons).rows[1]) == {"horizontal_mm", "force_n"}
    (fault,) = propose(BOX, read_grid(ONE), "record", settings=divisions).faults
    assert fault.column == "force [N]"

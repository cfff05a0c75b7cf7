"""A laboratory of the release before, in which a double ring and a percolation hole were arrangements of the well
permeameter: both are methods of their own now, with everything that was written and checked."""

import gzip
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from sqlmodel import Session, select

from vadum.exchange.bench_file import from_data
from vadum.records.archive import bring_in
from vadum.records.changes import state_of, states_of
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.presets import Presets
from vadum.records.standing import result_of
from vadum.records.tables import Check, Project, Test
from vadum.soil.earlier import became, renewed
from vadum.soil.registry import METHODS

_HERE = Path(__file__).parent
OLD, ARCHIVE = _HERE / "laboratory-0016.sql.gz", _HERE / "project-0016.zip"


@pytest.fixture(scope="module")
def lab(tmp_path_factory):
    path = tmp_path_factory.mktemp("old") / "old.sqlite"
    with closing(sqlite3.connect(path)) as made:
        made.executescript(gzip.decompress(OLD.read_bytes()).decode())
    with Session(open_database(path)) as session:
        yield session


def the(session, method):
    return session.exec(select(Test).where(Test.method == method)).one()


def test_each_is_of_its_own_method_and_nothing_is_out_of_order(lab):
    assert {test.method for test in lab.exec(select(Test))} >= {"double-ring", "percolation", "well-permeameter"}
    assert list(troubles(lab)) == []
    for test in lab.exec(select(Test).where(Test.method.in_(["double-ring", "percolation", "well-permeameter"]))):
        METHODS[test.method].Readings.model_validate(test.readings)
        METHODS[test.method].Settings.model_validate(test.settings)
        assert "arrangement" not in test.settings


def test_what_was_checked_is_said_as_it_was(lab):
    """The frozen result stands; reduced anew from the moved readings the rate is the same."""
    ring = the(lab, "double-ring")
    assert ring.state == "checked"
    check = lab.exec(select(Check).where(Check.test_id == ring.id)).one()
    frozen = result_of(lab, ring).parameter("rate")
    assert frozen.text == "35.7"
    again = METHODS["double-ring"].reduce_raw(check.kept, check.settings)
    assert again.parameter("rate").text == frozen.text
    assert check.kept["ring_cm2"] == 400.0
    assert check.kept["inner_tube_cm2"] == 35.22
    assert check.kept["water_table_m"] == 2.8


def test_every_filling_up_of_a_hole_is_a_fill_of_its_own(lab):
    hole = the(lab, "percolation")
    levels = hole.readings["levels"]
    assert [row["fill"] for row in levels if "fill" in row] == [2]
    assert hole.readings["fills"][0]["temperature_c"] > 0
    now = METHODS["percolation"].reduce_raw(hole.readings, hole.settings)
    # Where the base stood on the scale nobody had to say: the fall is known, the rate through the wall is not.
    assert now.parameter("fall_mm_h").text == "35.5"
    assert now.parameter("rate") is None
    assert "only-fall" in now.codes()
    assert hole.offered["parameters"]["rate"]["text"] == "35.5", "what the release before said is shown beside it"


def test_every_revision_leaves_what_it_left(lab):
    for method in ("double-ring", "percolation", "well-permeameter"):
        test = the(lab, method)
        last = [state for _, state in states_of(lab, test)][-1]
        assert last == state_of(test)
    hole = the(lab, "percolation")
    unread = [state.unread for _, state in states_of(lab, hole) if state.unread]
    assert unread == [{"levels.2.level_mm": "not read"}], "a text that was no reading stands in the history"
    assert all("utilities" not in state.readings for _, state in states_of(lab, hole))


def test_a_preset_of_an_arrangement_there_is_not_is_passed_over(lab):
    project = lab.exec(select(Project)).first()
    assert Presets.of(lab, project).chosen(METHODS["well-permeameter"]) == {"safety_factor": 3.0}


def test_an_archive_of_that_release_comes_in_the_same(tmp_path):
    with Session(open_database(tmp_path / "new.sqlite")) as session:
        bring_in(session, ARCHIVE.read_bytes())
        ring = the(session, "double-ring")
        assert result_of(session, ring).parameter("rate").text == "35.7"
        assert ring.readings["inner_tube_cm2"] == 35.22
        assert the(session, "percolation").readings["levels"][16]["fill"] == 2
        assert list(troubles(session)) == []


@pytest.mark.parametrize("said", ["double-ring", "double ring"])
def test_a_bench_file_of_that_release_is_read(said):
    levels = [{"elapsed_min": 10.0 * k, "level_mm": 900.0 - 20 * k} for k in range(7)]
    readings = {"ring_cm2": 400, "reservoir": "combined", "combined_cm2": 35.22, "inner_cm2": 2.15, "levels": levels}
    file = {
        "format": "vadum-bench/1",
        "method": "well-permeameter",
        "settings": {"arrangement": said, "scale": "falls"},
        "readings": readings | {"temperature_c": 20.0, "utilities": "yes"},
    }
    read = from_data(file)
    assert read.method.code == "double-ring"
    # 2 mm/min of a tube of 35.22 cm2 on 400 cm2 is 10.566 mm/h.
    assert read.reduce().parameter("rate").value == pytest.approx(60 * 2 * 35.22 / 400)


def test_other_tests_are_left_as_they_are():
    state = {"readings": {"levels": []}, "settings": {"school": "x"}}
    assert renewed("liquid-limit", became("liquid-limit", state["settings"]), state) is state
    well = {"readings": {"ring_cm2": 1.0, "head_1_mm": 50.0}, "settings": {"arrangement": "well", "soil": "loam"}}
    assert renewed("well-permeameter", became("well-permeameter", well["settings"]), well) == {
        "readings": {"head_1_mm": 50.0},
        "settings": {"soil": "loam"},
    }

"""Revisions keep what changed: whatever was typed can be had again, and a save costs what was typed."""

import json
import sqlite3
from contextlib import closing

from hypothesis import given
from hypothesis import strategies as st

from tests.records.small_laboratory import SECOND, TECHNICIAN, equipment
from vadum.records.changes import State, difference, is_content, states
from vadum.records.history import state_at
from vadum.records.logs import LogContent
from vadum.records.saving import Change, save
from vadum.records.tables import Location, Revision, Test

ROWS = 3000
MOST_A_SAVE = 2000

numbers = st.one_of(st.floats(-1e6, 1e6), st.integers(-5, 5), st.booleans(), st.text(max_size=4))
row = st.dictionaries(st.sampled_from(["tin", "mass_g", "left_out"]), numbers, max_size=3)
readings = st.dictionaries(
    st.sampled_from(["points", "trials"]), st.lists(row, min_size=1, max_size=4), max_size=2
).flatmap(lambda tables: st.dictionaries(st.sampled_from(["mould_cm3", "note"]), numbers).map(lambda one: tables | one))
flat = st.dictionaries(st.sampled_from(["points.0.mass_g", "school", "note"]), st.text(max_size=3))
state = st.builds(
    State,
    readings=readings,
    unread=flat,
    settings=flat,
    setting_origins=flat,
    uses=st.lists(st.text(max_size=3)),
    version=st.sampled_from(["", "1"]),
)


@given(st.lists(state, min_size=1, max_size=6))
def test_every_state_can_be_had_again_from_the_changes(many):
    before, kept = State(), []
    for i, after in enumerate(many, 1):
        changed = json.loads(json.dumps(difference(before, after)))
        kept.append(Revision(number=i, who="a", what="", save_key=str(i), state="running", changed=changed))
        before = after
    again = [found for _, found in states(kept)]
    assert [repr(_sorted(one)) for one in again] == [repr(_sorted(one)) for one in many]


def _sorted(found):
    """Return a state as text in one order; 1, 1.0 and True are told apart."""
    return json.dumps(found.__dict__, sort_keys=True)


def test_nothing_changed_is_no_content():
    same = State(readings={"points": [{"mass_g": 1.0}]})
    assert difference(same, same) == {}
    assert not is_content({})
    assert is_content(difference(same, State(readings={"points": [{"mass_g": 1.1}]})))
    assert not is_content(difference(State(bindings={"a": "b"}), State()))


def log_of(rows):
    return {
        "file": "logger.csv",
        "cylinder": [1.0] * rows,
        "elapsed_min": [0.5 * i for i in range(rows)],
        "head_mm": [round(180 * 0.9996**i, 1) for i in range(rows)],
    }


def logged(session, rows=ROWS):
    place = session.get(Location, 1)
    test = Test(method="falling-head", location_id=place.id)
    session.add(test)
    session.commit()
    save(session, test, Change(0, TECHNICIAN, logs={"log": log_of(rows)}))
    return test


def size(session):
    """Return how many bytes the pages of the database hold, once its log is written back."""
    path = session.bind.url.database
    with closing(sqlite3.connect(path)) as opened:
        opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        pages, free, each = (
            opened.execute(f"PRAGMA {n}").fetchone()[0] for n in ("page_count", "freelist_count", "page_size")
        )
    return (pages - free) * each


def test_a_save_beside_a_long_log_costs_what_was_typed(session):
    test = logged(session)
    before, saves = size(session), 100
    for i in range(saves):
        save(session, test, Change(test.revision, TECHNICIAN, cells={"radius_mm": f"{50 + i % 40}"}))
    grown = (size(session) - before) / saves
    assert grown < MOST_A_SAVE, f"{grown:.0f} bytes a save"
    assert len(test.readings["log"]["head_mm"]) == ROWS
    assert len(session.query(LogContent).all()) == 1


def test_a_log_taken_out_and_put_back_is_kept_once(session):
    test = logged(session)
    save(session, test, Change(test.revision, SECOND, logs={"log": None}))
    assert "log" not in test.readings
    assert state_at(session, test, 1).readings["log"] == state_at(session, test, 1).readings["log"]
    save(session, test, Change(test.revision, SECOND, logs={"log": log_of(ROWS)}))
    assert test.readings["log"] == log_of(ROWS)
    assert len(session.query(LogContent).all()) == 1
    save(session, test, Change(test.revision, SECOND, uses=[equipment(session, "Balance 2").id]))
    assert state_at(session, test, 4).uses == ["Balance 2"]
    assert state_at(session, test, 2).uses == []

"""A laboratory of the release before opens with everything it held, frozen where it was checked; a kill in between
harms nothing."""

import gzip
import importlib.util
import io
import json
import sqlite3
import subprocess
import sys
import textwrap
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
import sqlalchemy as sa
from sqlmodel import Session, select

from tests import THOROUGH
from vadum.records import migrations
from vadum.records.archive import bring_in, export
from vadum.records.backup import verify
from vadum.records.changes import states_of
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.history import state_at
from vadum.records.logs import LogContent, with_logs
from vadum.records.standing import result_of
from vadum.records.states import recorders
from vadum.records.tables import Check, Project, Revision, Test
from vadum.soil.contract.cells import coded
from vadum.soil.registry import METHODS

_OLD = Path(__file__).with_name("laboratory-0009.sql.gz")
_WORDS = Path(__file__).with_name("laboratory-0010.sql.gz")


def laboratory(dump, folder):
    path = folder / "old.sqlite"
    with closing(sqlite3.connect(path)) as made:
        made.executescript(gzip.decompress(dump.read_bytes()).decode())
    return path


@pytest.fixture
def worded(tmp_path):
    """A laboratory whose choices are kept as words: a plastic limit that could not be had, a bearing ratio that was
    checked, a compaction."""
    return laboratory(_WORDS, tmp_path)


@pytest.fixture
def old(tmp_path):
    """A laboratory of the release before: a limit edited after a plastic limit on it was checked, a logger's test, an
    issued sheet."""
    return laboratory(_OLD, tmp_path)


def as_it_was(path):
    with closing(sqlite3.connect(path)) as opened:
        rows = opened.execute("SELECT test_id, number, readings, unread, who FROM revision ORDER BY test_id, number")
        return rows.fetchall()


def test_every_revision_holds_what_it_held(old):
    before = as_it_was(old)
    with Session(open_database(old)) as session:
        again = [
            (test.id, revision.number, with_logs(session, state.readings), state.unread, revision.who)
            for test in session.exec(select(Test).order_by(Test.id))
            for revision, state in states_of(session, test)
        ]
        kept = {test.id: METHODS[test.method].Readings for test in session.exec(select(Test))}
        assert again == [
            (t, n, coded(kept[t], json.loads(readings)), json.loads(unread), who)
            for t, n, readings, unread, who in before
        ]
        assert session.exec(select(LogContent)).one().sha256
        logged = session.exec(select(Test).where(Test.method == "falling-head")).one()
        assert len(logged.readings["log"]["head_mm"]) == 400
        assert recorders(session, logged) == {"technician 1", "technician 2"}, "who changed the equipment counts"
    verify(old)


def test_settings_are_written_out_as_they_were_by_default(old):
    with Session(open_database(old)) as session:
        for test in session.exec(select(Test).where(Test.revision > 0)):
            assert test.version == "1"
            assert test.settings.keys() == test.setting_origins.keys()
            assert state_at(session, test, test.revision).settings == test.settings
        one_point = [t for t in session.exec(select(Test)) if t.settings.get("school") == "one-point"]
        assert one_point
        assert "default" not in {t.setting_origins["school"] for t in one_point}


def test_what_was_checked_is_frozen_and_what_changed_since_is_said(old):
    with Session(open_database(old)) as session:
        plastic = session.exec(select(Test).where(Test.method == "plastic-limit", Test.state == "checked")).first()
        # The limit it leant on was edited into one that is not reportable: it feeds nothing any more.
        assert "PI is not known by its readings and ground now, was kept as 38 before" in plastic.moved
        assert session.exec(select(Check).where(Check.test_id == plastic.id)).one().who == "checker"
        assert result_of(session, plastic).parameter("plasticity_index") is None
        assert list(troubles(session)) == []
        project = session.get(Project, 1)
        other = bring_in(session, export(session, project))
        assert other.id != project.id
        assert list(troubles(session)) == []


def test_a_copy_was_made_before(old):
    open_database(old).dispose()
    [copy] = (old.parent / "copies").iterdir()
    with closing(sqlite3.connect(copy)) as opened:
        assert opened.execute("SELECT version_num FROM alembic_version").fetchone() == ("0009",)
    verify(copy)


_KILLED = textwrap.dedent("""
    import os, signal, sqlite3, sys
    from pathlib import Path
    from sqlalchemy import event
    from sqlalchemy.engine import Engine

    left = int(sys.argv[2])

    @event.listens_for(Engine, "before_cursor_execute")
    def count(conn, cursor, statement, parameters, context, many):
        global left
        left -= 1
        if left < 0:
            os.kill(os.getpid(), signal.SIGKILL)

    from vadum.records.database import open_database
    open_database(Path(sys.argv[1]))
    print(int(sys.argv[2]) - left)
""")
_POINTS = 150 if THOROUGH else 2


def opened_until(path, statement):
    """Open a laboratory in a process of its own, which is killed before a statement."""
    command = [sys.executable, "-c", _KILLED, str(path), str(statement)]
    return subprocess.run(command, capture_output=True, text=True, check=False)


@pytest.fixture(scope="module")
def statements(tmp_path_factory):
    """How many statements it takes to open the old laboratory."""
    path = laboratory(_OLD, tmp_path_factory.mktemp("counted"))
    return int(opened_until(path, 10**6).stdout)


@pytest.mark.parametrize("point", range(_POINTS))
def test_killed_at_any_statement_it_opens_and_goes_on(old, statements, point):
    before = as_it_was(old)
    killed = opened_until(old, point * statements // _POINTS)
    assert killed.returncode == -9, killed.stdout + killed.stderr
    with Session(open_database(old)) as session:
        assert len(session.exec(select(Revision)).all()) == len(before)
        assert list(troubles(session)) == []
    verify(old)


def test_lists_that_went_stale_in_the_release_before_are_renewed_once(old):
    """An open test went on showing what a void test had fed it: the first opening works it out again."""
    with closing(sqlite3.connect(old)) as opened, opened:
        stale = (
            '{"parameters": {"liquidity_index": {"text": "-0.04"}}, "complete": true, "reportable": true, "curve": []}'
        )
        opened.execute("UPDATE test SET summary = ? WHERE method = 'plastic-limit' AND state = 'reduced'", (stale,))
        assert opened.total_changes
    with Session(open_database(old)) as session:
        assert list(troubles(session)) == []


def test_words_of_choices_become_codes_everywhere_and_say_the_same(worded):
    with closing(sqlite3.connect(worded)) as opened:
        before = {
            key: (summary, moved) for key, summary, moved in opened.execute("SELECT id, summary, moved FROM test")
        }
        [(result,)] = opened.execute("SELECT result FROM checked_test").fetchall()
    with Session(open_database(worded)) as session:
        tests = {test.method: test for test in session.exec(select(Test))}
        limit, ratio, compaction = (tests[code] for code in ("plastic-limit", "cbr-lab", "compaction"))
        assert limit.kept == {"not_determinable": "not-rolled"}
        said = [state.readings["not_determinable"] for _, state in states_of(session, limit)]
        assert said[:2] == ["crumbles", "not-rolled"]
        assert (ratio.settings["scheme"], ratio.settings["school"]) == ("56x5-4.5kg", "mpa")
        assert ratio.kept["finished"] == "both"
        assert compaction.settings["scheme"] == "heavy-1l"
        assert state_at(session, ratio, ratio.revision).settings == ratio.settings
        check = session.exec(select(Check)).one()
        assert (check.kept, check.settings) == (ratio.kept, ratio.settings)
        assert check.result == json.loads(result), "what was checked says what it said"
        for test in tests.values():
            kept = json.loads(before[test.id][0])["parameters"]
            now = {p.key: p.text for p in result_of(session, test).parameters}
            assert now == {key: value["text"] for key, value in kept.items()}
            assert test.moved == json.loads(before[test.id][1])
        assert list(troubles(session)) == []


def test_how_far_off_the_line_becomes_a_share_of_the_limit():
    """Two percent of water were written into every limit as the default; they are four percent of one about fifty."""
    file = Path(migrations.__file__).parent / "versions" / "0013_off_line_of_limit.py"
    spec = importlib.util.spec_from_file_location("off_line_of_limit", file)
    migration = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(migration)
    kept = [{"off_line_percent": 2.0, "school": "multipoint"}, {"off_line_percent": 15}, {"school": "one-point"}]
    typed = {"set": {"settings:off_line_percent": 1.5, "readings:trials.0.blows": 2.0}, "gone": []}
    with sa.create_engine("sqlite://").begin() as bind:
        for table, column, rows in (("test", "settings", kept), ("revision", "changed", [typed])):
            bind.execute(sa.text(f"CREATE TABLE {table} (id INTEGER PRIMARY KEY, {column} TEXT)"))
            for row in rows:
                bind.execute(sa.text(f"INSERT INTO {table} ({column}) VALUES (:c)"), {"c": json.dumps(row)})
        migration._carry_over(bind, "test", "settings", "1 = 1", "", "off_line_percent")
        migration._carry_over(bind, "revision", "changed", "1 = 1", "set", "settings:off_line_percent")
        tests = [json.loads(row) for (row,) in bind.execute(sa.text("SELECT settings FROM test ORDER BY id"))]
        [(revision,)] = bind.execute(sa.text("SELECT changed FROM revision")).fetchall()
    # Carried over in proportion, up to the most that the setting takes; the rest stays as it was.
    assert tests == [
        {"off_line_percent": 4.0, "school": "multipoint"},
        {"off_line_percent": 20.0},
        {"school": "one-point"},
    ]
    changed = json.loads(revision)
    assert changed == {"set": {"settings:off_line_percent": 3.0, "readings:trials.0.blows": 2.0}, "gone": []}


def test_an_archive_in_words_comes_in_as_codes(worded):
    """The archive of a release that kept words: taken apart, the words put back, and brought in."""
    words = json.loads((Path(migrations.__file__).parent / "versions" / "0011_choices.json").read_text("utf-8"))
    back = {
        code: word for fields in words["cbr-lab"].values() for map_ in fields.values() for word, code in map_.items()
    }
    with Session(open_database(worded)) as session:
        with zipfile.ZipFile(io.BytesIO(export(session, session.get(Project, 1)))) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        name = next(name for name in parts if name.endswith(".json"))
        plain = parts[name].decode()
        for code in ("56x5-4.5kg", "mpa", "both", "soaked"):
            plain = plain.replace(f'"{code}"', json.dumps(back[code]))
        assert "56 blows x 5, 4.5 kg" in plain
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            for part, data in (parts | {name: plain.encode()}).items():
                archive.writestr(part, data)
        brought = bring_in(session, packed.getvalue())
        [ratio] = [t for t in brought.locations[0].samples[0].tests if t.method == "cbr-lab"]
        assert (ratio.settings["scheme"], ratio.kept["finished"]) == ("56x5-4.5kg", "both")
        assert all("blows" not in json.dumps(state.settings) for _, state in states_of(session, ratio))
        assert session.exec(select(Check).where(Check.test_id == ratio.id)).one().settings == ratio.settings
        assert list(troubles(session)) == []


def test_what_was_corrected_of_a_thing_that_is_gone_goes_with_it(worded):
    open_database(worded).dispose()
    with closing(sqlite3.connect(worded)) as opened, opened:
        (sample,) = opened.execute("SELECT min(id) FROM sample").fetchone()
        columns = '"of", row_id, at, who, reason, changed'
        line = f"INSERT INTO correction ({columns}) VALUES (?, ?, '2026-11-02', 'x', '', '{{}}')"
        opened.executemany(line, [("sample", sample), ("sample", 7001), ("location", 7001), ("laboratory", 0)])
        opened.execute("UPDATE alembic_version SET version_num = '0031'")
    open_database(worded).dispose()
    with closing(sqlite3.connect(worded)) as opened:
        left = opened.execute('SELECT "of", row_id FROM correction ORDER BY id').fetchall()
    assert left == [("sample", sample), ("laboratory", 0)]

"""Every test reduced again: what would change is said with why, and nothing is written."""

import gzip
import hashlib
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from sqlmodel import Session, select

from tests.command_line import vadum
from vadum.records.backup import BackupError
from vadum.records.database import open_database
from vadum.records.recompute import recompute
from vadum.records.tables import Test

OLD = Path(__file__).with_name("laboratory-0009.sql.gz")


@pytest.fixture
def laboratory(demo_database, tmp_path):
    """A whole copy of the demonstration, in one file."""
    path = tmp_path / "lab.sqlite"
    with closing(sqlite3.connect(demo_database)) as source, closing(sqlite3.connect(path)) as copy:
        source.backup(copy)
    return path


def spoil(path, state, text="999"):
    """Let a test say another headline than its readings give; return its number, symbol and true text."""
    engine = open_database(path)
    with Session(engine) as session:
        test = session.exec(select(Test).where(Test.method == "liquid-limit", Test.state == state)).first()
        summary = dict(test.summary)
        parameters = dict(summary["parameters"])
        true = parameters["liquid_limit"]["text"]
        parameters["liquid_limit"] = parameters["liquid_limit"] | {"text": text}
        test.summary = summary | {"parameters": parameters}
        session.add(test)
        session.commit()
        number = test.id
    engine.dispose()
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return number, true


def content(path):
    return hashlib.sha256(path.read_bytes()).hexdigest()


def test_of_a_sound_laboratory_nothing_would_change(laboratory):
    found = recompute(laboratory)
    assert found.changed == []
    assert found.count > 70


@pytest.mark.parametrize("state", ["checked", "reduced"])
def test_what_would_change_is_said_and_nothing_is_written(laboratory, state):
    number, true = spoil(laboratory, state)
    before = content(laboratory)
    (one,) = recompute(laboratory).changed
    assert one.results == (("LL", "999", true),)
    assert f"test {number}, Liquid limit of " in one.words
    assert f"({state}): LL 999 -> {true}. version " in one.words
    assert content(laboratory) == before


def test_a_laboratory_of_an_earlier_release_is_looked_at_and_not_brought_up(tmp_path):
    path = tmp_path / "old.sqlite"
    with closing(sqlite3.connect(path)) as made:
        made.executescript(gzip.decompress(OLD.read_bytes()).decode())
    before = content(path)
    assert recompute(path).count
    assert content(path) == before
    with closing(sqlite3.connect(path)) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0009",)


def test_the_command_ends_with_one_when_a_number_would_change(laboratory):
    assert "0 would change" in vadum("recompute", "--database", laboratory).stdout
    spoil(laboratory, "reduced")
    said = vadum("recompute", "--database", laboratory)
    assert said.returncode == 1
    assert "1 would change" in said.stdout


def test_only_when_asked_lists_are_renewed(laboratory):
    number, true = spoil(laboratory, "reduced")
    said = vadum("recompute", "--renew", "--database", laboratory)
    assert said.returncode == 0
    with Session(open_database(laboratory)) as session:
        assert session.get(Test, number).summary["parameters"]["liquid_limit"]["text"] == true


def test_what_is_no_laboratory_is_said(tmp_path):
    with pytest.raises(BackupError, match="there is no such database"):
        recompute(tmp_path / "none.sqlite")
    shutil.copy(__file__, tmp_path / "text.sqlite")
    assert vadum("recompute", "--database", tmp_path / "text.sqlite").returncode == 2

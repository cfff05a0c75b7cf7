"""Copies, restoring, and a look through the records: what is damaged is said, and nothing is put in place unseen."""

import os
import shutil
import sqlite3
import threading
from contextlib import closing
from datetime import date, timedelta

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event
from sqlmodel import Session

from tests.command_line import vadum
from vadum.records.backup import KEPT_COPIES, BackupError, backup, daily_copies, daily_copy, restore, verify
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.lock import HeldError, held
from vadum.records.tables import Attachment, Revision, Test
from vadum.web.app import create_app

SHEET = 7


def save(client, number, **more):
    sheet = client.get(f"/api/tests/{SHEET}/sheet").json()
    body = {
        "base_revision": sheet["revision"],
        "save_key": f"key-{sheet['revision']:05}",
        "cells": {"trials.0.blows": str(number)},
    }
    return client.post(f"/api/tests/{SHEET}/save", json=body | more)


def blows(path):
    with Session(open_database(path)) as session:
        return session.get(Test, SHEET).readings["trials"][0]["blows"]


def damage(path):
    for suffix in ("-wal", "-shm"):
        path.with_name(path.name + suffix).unlink(missing_ok=True)
    with path.open("r+b") as file:
        file.seek(path.stat().st_size // 3)
        file.write(os.urandom(60_000))


def test_a_copy_made_while_others_write_is_whole(database, tmp_path):
    stop = threading.Event()
    with TestClient(create_app(database)) as client:

        def hand():
            number = 10
            while not stop.is_set():
                number = number % 40 + 1
                assert save(client, number).status_code == 200

        writing = threading.Thread(target=hand)
        writing.start()
        try:
            for k in range(3):
                backup(database, tmp_path / f"copy-{k}.sqlite")
        finally:
            stop.set()
            writing.join()
    for k in range(3):
        with Session(open_database(tmp_path / f"copy-{k}.sqlite")) as session:
            assert list(troubles(session)) == []
    assert not list(tmp_path.glob("*.unfinished"))


def test_a_restored_laboratory_is_that_of_the_copy_and_the_other_is_kept(database, tmp_path):
    with TestClient(create_app(database)) as client:
        save(client, 21)
        backup(database, tmp_path / "copy.sqlite")
        save(client, 35)
    aside = restore(tmp_path / "copy.sqlite", database)
    assert blows(database) == 21
    assert blows(aside) == 35


@pytest.mark.parametrize(
    ("content", "words"),
    [(b"", "no laboratory"), (b"not a database at all", "cannot be opened"), (None, "no such copy")],
)
def test_what_is_no_copy_is_not_put_in_place(database, tmp_path, content, words):
    copy = tmp_path / "copy.sqlite"
    if content is not None:
        copy.write_bytes(content)
    before = blows(database)
    with pytest.raises(BackupError, match=words):
        restore(copy, database)
    assert blows(database) == before


def test_a_damaged_database_is_neither_copied_nor_restored(database, tmp_path):
    backup(database, tmp_path / "copy.sqlite")
    shutil.copy(tmp_path / "copy.sqlite", tmp_path / "spoilt.sqlite")
    damage(tmp_path / "spoilt.sqlite")
    with pytest.raises(BackupError):
        verify(tmp_path / "spoilt.sqlite")
    with pytest.raises(BackupError):
        backup(tmp_path / "spoilt.sqlite", tmp_path / "again.sqlite")
    assert not (tmp_path / "again.sqlite").exists()
    # Restoring over a damaged one keeps its bytes aside.
    aside = restore(tmp_path / "copy.sqlite", tmp_path / "spoilt.sqlite")
    verify(tmp_path / "spoilt.sqlite")
    assert aside.exists()


def test_days_are_copied_once_and_the_oldest_go(database):
    first = date(2026, 5, 1)
    made = [daily_copy(database, first + timedelta(days=k)) for k in range(KEPT_COPIES + 3)]
    assert daily_copy(database, first + timedelta(days=KEPT_COPIES + 2)) is None
    kept = sorted((database.parent / "copies").iterdir())
    assert kept == made[3:]


@pytest.mark.parametrize("wrong", [date(1970, 1, 1), date(2099, 12, 31)])
def test_a_clock_that_was_wrong_for_a_day_costs_no_copy(database, wrong):
    """Copies go in the order in which they were made: neither is the newest one deleted nor does a false date stay for
    ever."""
    first = date(2026, 5, 1)
    for k in range(KEPT_COPIES):
        daily_copy(database, first + timedelta(days=k))
    odd = daily_copy(database, wrong)
    assert odd.exists()
    later = [daily_copy(database, first + timedelta(days=20 + k)) for k in range(KEPT_COPIES)]
    assert not odd.exists()
    assert daily_copies(database, database.parent / "copies") == later


def test_copies_of_an_older_release_go_first(database):
    folder = database.parent / "copies"
    folder.mkdir()
    for k in range(KEPT_COPIES):
        backup(database, folder / f"lab-2026-04-{k + 1:02d}.sqlite")
    new = daily_copy(database, date(2026, 5, 1))
    assert new.name == "lab-00001-2026-05-01.sqlite"
    kept = daily_copies(database, folder)
    assert (len(kept), kept[0].name, kept[-1]) == (KEPT_COPIES, "lab-2026-04-02.sqlite", new)


def test_what_is_set_aside_is_numbered_and_goes_with_its_log(database, tmp_path):
    backup(database, tmp_path / "copy.sqlite")
    first, second = restore(tmp_path / "copy.sqlite", database), restore(tmp_path / "copy.sqlite", database)
    assert [p.name for p in (first, second)] == ["lab.sqlite.before-restore-1", "lab.sqlite.before-restore-2"]
    database.write_bytes(b"no database any more")
    database.with_name("lab.sqlite-wal").write_bytes(b"its log")
    third = restore(tmp_path / "copy.sqlite", database)
    assert third.read_bytes() == b"no database any more"
    assert third.with_name(third.name + "-wal").read_bytes() == b"its log"
    verify(database)


def test_a_laboratory_that_is_served_is_not_replaced_and_not_served_twice(database, tmp_path):
    backup(database, tmp_path / "copy.sqlite")
    with held(database):
        with pytest.raises(HeldError, match=f"process {os.getpid()} on "):
            restore(tmp_path / "copy.sqlite", database)
        done = vadum("serve", "--port", "8991", database=database)
        assert done.returncode == 2
        assert "Stop it first" in done.stderr
        done = vadum("restore", tmp_path / "copy.sqlite", database=database)
        assert done.returncode == 2
    # A process that died holds nothing, though its note is still there.
    assert database.with_name("lab.sqlite.lock").exists()
    restore(tmp_path / "copy.sqlite", database)


def test_a_copy_that_cannot_be_written_leaves_nothing_half_done(database, tmp_path):
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(BackupError, match="the copy was not made"):
        backup(database, tmp_path / "file" / "copy.sqlite")


@pytest.mark.parametrize(
    ("pragma", "words"), [("query_only=ON", "may not be written to"), ("max_page_count=1", "disk is full")]
)
def test_a_save_that_cannot_be_kept_is_said_and_comes_through_later(database, pragma, words):
    app = create_app(database)
    with TestClient(app, raise_server_exceptions=False) as client:
        before = client.get(f"/api/tests/{SHEET}/sheet").json()["revision"]

        def hinder(connection, _):
            connection.execute(f"PRAGMA {pragma}")

        event.listen(app.state.engine, "connect", hinder)
        app.state.engine.dispose()
        # A long reason needs new pages.
        reply = save(client, 24, reason="x" * 400)
        for _ in range(60):
            if reply.status_code == 507:
                break
            reply = save(client, 24, reason="x" * 400)
        assert reply.status_code == 507
        assert words in reply.json()["message"]
        assert "acknowledged before is safe" in reply.json()["message"]
        event.remove(app.state.engine, "connect", hinder)
        app.state.engine.dispose()
        reply = save(client, 25)
        assert reply.status_code == 200
        assert reply.json()["revision"] > before
    with Session(app.state.engine) as session:
        assert list(troubles(session)) == []


def test_the_doctor_names_what_does_not_hold_together(database):
    with Session(open_database(database)) as session:
        assert list(troubles(session)) == []
        session.add(
            Attachment(
                test_id=SHEET,
                kind="photograph",
                name="p.jpg",
                media_type="image/jpeg",
                sha256="0" * 64,
                size=1,
                data=b"x",
                who="a",
            )
        )
        test = session.get(Test, 9)
        test.kept = test.kept | {"trials": []}
        session.delete(session.get(Revision, 4))
        session.commit()
        found = "\n".join(troubles(session))
    assert "attachment 1 (p.jpg)" in found
    assert "test 9: its readings are not those of its newest revision" in found
    assert "revision" in found.splitlines()[0]


def test_from_the_command_line(database, tmp_path):
    copy = tmp_path / "copy.sqlite"
    assert "looked through" in vadum("backup", copy, database=database).stdout
    assert vadum("doctor", database=copy).stdout.endswith("all holds together.\n")
    damage(database)
    looked = vadum("doctor", database=database)
    assert looked.returncode == 1
    assert looked.stderr
    assert "is restored" in vadum("restore", copy, database=database).stdout
    assert vadum("doctor", database=tmp_path / "none.sqlite").returncode == 1


def test_a_database_that_cannot_be_opened_says_where_the_copies_are(tmp_path):
    path = tmp_path / "lab.sqlite"
    path.write_bytes(b"this was once a laboratory" * 400)
    started = vadum("serve", "--port", "8991", database=path)
    assert started.returncode == 2
    assert "cannot be opened: file is not a database" in started.stderr
    assert "vadum restore" in started.stderr
    with closing(sqlite3.connect(":memory:")) as memory:
        assert memory.execute("select 1").fetchone() == (1,)

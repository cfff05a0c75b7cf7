"""Real processes, killed in the middle: what stood before stands, nothing stands half, and the next one goes on."""

import os
import signal
import socket
import sqlite3
import subprocess
import sys
import textwrap
import threading
import time
from contextlib import closing, suppress

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, func, select

from tests import THOROUGH
from tests.laboratory import WATER_CONTENT_B1
from tests.records.small_laboratory import copy_of
from tests.waiting import until
from vadum.records import database as opening
from vadum.records.archive import export
from vadum.records.backup import backup, verify
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.tables import Project, Revision
from vadum.web.app import create_app

POINTS = 20 if THOROUGH else 2

_KILLED_AT = textwrap.dedent("""
    import os, signal, sys
    from pathlib import Path
    from sqlalchemy import event
    from sqlalchemy.engine import Engine
    from sqlmodel import Session
    from vadum.records.archive import bring_in
    from vadum.records.database import open_database

    engine = open_database(Path(sys.argv[1]))
    left = int(sys.argv[3])

    @event.listens_for(Engine, "before_cursor_execute")
    def count(*_):
        global left
        left -= 1
        if left < 0:
            os.kill(os.getpid(), signal.SIGKILL)

    with Session(engine) as session:
        bring_in(session, Path(sys.argv[2]).read_bytes())
    print(int(sys.argv[3]) - left)
""")


@pytest.fixture
def archived(small, tmp_path):
    """A laboratory, and an archive of its project."""
    path = copy_of(small, tmp_path)
    with Session(open_database(path)) as session:
        (tmp_path / "project.zip").write_bytes(export(session, session.get(Project, 1)))
    return path, tmp_path / "project.zip"


def brought(path, archive, statement):
    command = [sys.executable, "-c", _KILLED_AT, str(path), str(archive), str(statement)]
    return subprocess.run(command, capture_output=True, text=True, check=False)


def counts(path):
    with Session(open_database(path)) as session:
        assert list(troubles(session)) == []
        return [session.exec(select(func.count()).select_from(table)).one() for table in (Project, Revision)]


def test_an_import_killed_anywhere_brings_nothing_and_the_next_brings_all(archived):
    path, archive = archived
    before = counts(path)
    spare = path.with_name("counted.sqlite")
    backup(path, spare)
    statements = int(brought(spare, archive, 10**6).stdout)
    for point in range(POINTS):
        killed = brought(path, archive, point * (statements - 30) // POINTS)
        assert killed.returncode == -signal.SIGKILL, killed.stderr
        assert counts(path) == before
    verify(path)
    assert brought(path, archive, 10**6).returncode == 0
    assert counts(path) == [before[0] + 1, before[1] * 2 - 2], "all but the inspection, which the cup here has already"


_COPYING = textwrap.dedent("""
    import sys
    from pathlib import Path
    from vadum.records import backup

    backup._PAGES_AT_ONCE = 1
    while True:
        backup.backup(Path(sys.argv[1]), Path(sys.argv[2]))
        print("made", flush=True)
""")


def test_a_copy_killed_while_it_is_made_leaves_the_last_whole_one(small, tmp_path):
    path, target = copy_of(small, tmp_path), tmp_path / "copy.sqlite"
    for k in range(POINTS):
        copying = subprocess.Popen([sys.executable, "-c", _COPYING, str(path), str(target)], stdout=subprocess.PIPE)
        assert copying.stdout.readline() == b"made\n"
        time.sleep(0.013 * k)  # anywhere in the next one
        copying.kill()
        copying.wait()
        copying.stdout.close()
        verify(target)
    backup(path, target)
    assert not list(tmp_path.glob("*.unfinished"))


_HOLDING = textwrap.dedent("""
    import sqlite3, sys
    held = sqlite3.connect(sys.argv[1], isolation_level=None)
    held.execute("BEGIN IMMEDIATE")
    print("held", flush=True)
    sys.stdin.read()
""")


def test_a_database_held_by_another_program_is_said_and_comes_through_when_it_is_let_go(small, tmp_path, monkeypatch):
    """Longer than anybody waits: each save is refused in words, kept by the page, and taken when the lock is gone."""
    monkeypatch.setattr(opening, "_BUSY_MS", 30_000 if THOROUGH else 300)
    path = copy_of(small, tmp_path)
    with TestClient(create_app(path), raise_server_exceptions=False) as client:
        sheet = client.get(f"/api/tests/{WATER_CONTENT_B1}/sheet").json()
        body = {"base_revision": sheet["revision"], "save_key": "key-while-held", "cells": {"trials.0.blows": "31"}}
        holding = subprocess.Popen(
            [sys.executable, "-c", _HOLDING, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert holding.stdout.readline() == b"held\n"
        assert client.get(f"/api/tests/{WATER_CONTENT_B1}/sheet").status_code == 200, "reading goes on"
        refused = client.post(f"/api/tests/{WATER_CONTENT_B1}/save", json=body)
        assert refused.status_code == 507
        assert "held by another program" in refused.json()["message"]
        holding.communicate()
        assert client.post(f"/api/tests/{WATER_CONTENT_B1}/save", json=body).status_code == 200
        assert client.get(f"/api/tests/{WATER_CONTENT_B1}/sheet").json()["revision"] == sheet["revision"] + 1


def test_a_copy_made_under_load_is_whole(small, tmp_path):
    path = copy_of(small, tmp_path)
    stop = threading.Event()
    with TestClient(create_app(path)) as client:

        def hand():
            number = 10
            while not stop.is_set():
                number = number % 40 + 1
                sheet = client.get(f"/api/tests/{WATER_CONTENT_B1}/sheet").json()
                body = {
                    "base_revision": sheet["revision"],
                    "save_key": f"key-{sheet['revision']:06}",
                    "cells": {"trials.0.blows": str(number)},
                }
                assert client.post(f"/api/tests/{WATER_CONTENT_B1}/save", json=body).status_code == 200

        writing = threading.Thread(target=hand)
        writing.start()
        try:
            for k in range(POINTS):
                backup(path, tmp_path / f"copy-{k}.sqlite")
        finally:
            stop.set()
            writing.join()
    for k in range(POINTS):
        counts(tmp_path / f"copy-{k}.sqlite")


def free_port():
    with closing(socket.socket()) as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


def answers(port):
    with suppress(OSError), closing(socket.create_connection(("127.0.0.1", port), timeout=20)):
        return True
    return False


# Ended politely it has time for it: that it goes without is the harder one.
@pytest.mark.parametrize("how", [signal.SIGTERM, signal.SIGKILL] if THOROUGH else [signal.SIGKILL])
def test_a_demonstration_that_ends_takes_its_instruments_along(demo_database, tmp_path, how):
    path = copy_of(demo_database, tmp_path)
    port, bench = free_port(), free_port()
    log = tmp_path / "log"
    command = [
        sys.executable,
        "-m",
        "vadum",
        "demo",
        "--database",
        str(path),
        "--port",
        str(port),
        "--instruments",
        str(bench),
    ]
    demo = subprocess.Popen(command, stdout=log.open("w"), stderr=subprocess.STDOUT, start_new_session=True)
    try:
        until(lambda: answers(port) and answers(bench), demo, log)
        demo.send_signal(how)
        demo.wait(60)
        deadline = time.monotonic() + 180
        while answers(bench) and time.monotonic() < deadline:
            time.sleep(0.05)
        assert not answers(bench)
    finally:
        with suppress(ProcessLookupError):
            os.killpg(demo.pid, signal.SIGKILL)


def test_a_second_server_says_that_there_is_one_and_stops(small, tmp_path):
    path, log = copy_of(small, tmp_path), tmp_path / "log"
    command = [sys.executable, "-m", "vadum", "serve", "--database", str(path), "--port"]
    port = free_port()
    first = subprocess.Popen([*command, str(port)], stdout=log.open("w"), stderr=subprocess.STDOUT)
    try:
        until(lambda: answers(port), first, log)
        assert "one-time code" in log.read_text()
        second = subprocess.run([*command, str(free_port())], capture_output=True, text=True, check=False, timeout=180)
        assert second.returncode == 2
        assert f"served by process {first.pid} on" in second.stderr
    finally:
        first.kill()
        first.wait()
    third = subprocess.Popen([*command, str(port)], stdout=log.open("w"), stderr=subprocess.STDOUT)
    try:
        until(lambda: answers(port), third, log)
    finally:
        third.kill()
        third.wait()


def test_a_file_that_may_not_be_written_is_said(small, tmp_path):
    """Opened read-only by the system: pages are shown, a save is refused in words."""
    path = copy_of(small, tmp_path)
    with TestClient(create_app(path), raise_server_exceptions=False) as client:
        engine = client.app.state.engine
        with closing(sqlite3.connect(path)) as opened:
            opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        engine.dispose()
        read_only = f"file:{path}?mode=ro"
        monkey = opening.create_engine(f"sqlite:///{read_only}&uri=true", connect_args={"check_same_thread": False})
        client.app.state.engine = monkey
        sheet = client.get(f"/api/tests/{WATER_CONTENT_B1}/sheet")
        assert sheet.status_code == 200
        body = {
            "base_revision": sheet.json()["revision"],
            "save_key": "key-read-only",
            "cells": {"trials.0.blows": "31"},
        }
        refused = client.post(f"/api/tests/{WATER_CONTENT_B1}/save", json=body)
        assert refused.status_code == 507
        assert "may not be written to" in refused.json()["message"]
        monkey.dispose()

"""Fixtures: a demonstration laboratory built once, copied for each test that changes it."""

import asyncio
import fcntl
import json
import shutil
import sqlite3
import threading
import time
from contextlib import closing
from datetime import datetime, timedelta

import numpy as np
import pytest
import sqlalchemy
from fastapi.testclient import TestClient
from hypothesis import settings

from tests import THOROUGH
from tests.ports import free_port
from vadum.demo.laboratory import build
from vadum.heap import keep_for_good, look_seldom
from vadum.instruments import client as near_end
from vadum.instruments.catalogue import stand_ins
from vadum.instruments.client import BenchLine
from vadum.instruments.server import Bench, listen
from vadum.records import database as database_file
from vadum.records import people
from vadum.web import guard
from vadum.web.app import create_app

# Before the five thousand tests are collected.
look_seldom()

# How long one example takes says nothing on a busy machine; `make bench` guards speed.
# Property tests draw from a fixed seed, so that the suite is green twice; `make thorough` draws from the clock.
settings.register_profile("vadum", deadline=None, derandomize=True, database=None)
settings.register_profile("thorough", deadline=None, database=None)
settings.load_profile("thorough" if THOROUGH else "vadum")


def pytest_collection_finish():
    """Look for garbage as the server does: what was collected stays, and a thousand laboratories are made after it."""
    keep_for_good()


@pytest.fixture(scope="session", autouse=True)
def quick_hashing():
    """Hash passwords with the laboratory's own algorithm at its least cost: many are hashed here."""
    from pwdlib import PasswordHash
    from pwdlib.hashers.argon2 import Argon2Hasher

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(people, "_hasher", lambda: PasswordHash((Argon2Hasher(time_cost=1, memory_cost=64),)))
        yield


@pytest.fixture(scope="session", autouse=True)
def patient_lines():
    """Let an instrument that is on take its time: on a busy machine it answered no more within its second."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(near_end, "PATIENCE_S", 20.0)
        yield


@pytest.fixture(scope="session", autouse=True)
def the_name_of_test_clients():
    """Let the application answer to the name that test clients call it by."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(guard, "LOOPBACK", guard.LOOPBACK | {"testserver"})
        yield


@pytest.fixture(scope="session", autouse=True)
def statements_compiled_once():
    """Let every laboratory of this process use the statements that were compiled for another: a thousand are opened."""
    known = {}

    def create_engine(url, **options):
        engine = sqlalchemy.create_engine(url, **options)
        one = known.setdefault("engine", engine)
        engine.dialect, engine._compiled_cache = one.dialect, one._compiled_cache
        return engine

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(database_file, "create_engine", create_engine)
        yield


@pytest.fixture(scope="session", autouse=True)
def new_laboratories_copied(tmp_path_factory):
    """Copy an empty laboratory where a new one is asked for: sixty are, each made by every migration there has been."""
    migrate, empty = database_file.migrate, tmp_path_factory.mktemp("empty") / "lab.sqlite"

    def migrated(path):
        if path.stat().st_size:
            migrate(path)
        else:
            if not empty.exists():
                migrate(empty)
            shutil.copyfile(empty, path)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(database_file, "migrate", migrated)
        yield


@pytest.fixture(scope="session")
def demo_database(tmp_path_factory, worker_id):
    """The demonstration laboratory, built by the first worker that asks for it; the others wait and copy it."""
    shared = tmp_path_factory.getbasetemp().parent if worker_id != "master" else tmp_path_factory.mktemp("shared")
    first = shared / "demo.sqlite"
    with (shared / "demo.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not first.with_suffix(".built").exists():
            build(first)
            # Not the file's own time: SQLite may move its log into it much later.
            first.with_suffix(".built").write_text(str(time.time()))
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    for file in shared.glob("demo.[!l]*"):
        shutil.copy(file, path.parent)
    return path


@pytest.fixture
def database(demo_database, tmp_path):
    """The demonstration laboratory as if it had been built just now: its clocks run from the beginning of the test."""
    for suffix in ("", "-wal"):
        source = demo_database.with_name(demo_database.name + suffix)
        if source.exists():
            shutil.copy(source, tmp_path / f"lab.sqlite{suffix}")
    _shift(tmp_path / "lab.sqlite", time.time() - float(demo_database.with_suffix(".built").read_text()))
    return tmp_path / "lab.sqlite"


def _shift(path, seconds):
    """Move every time in a laboratory on by so many seconds."""
    moved = "strftime('%Y-%m-%d %H:%M:%f', {0}, ?) || '000'"
    with closing(sqlite3.connect(path)) as connection, connection:
        for table, column in (
            ("operation_time", "at"),
            ("revision", "at"),
            ("test", "created_at"),
            ("test", "updated_at"),
        ):
            connection.execute(f"update {table} set {column} = {moved.format(column)}", (f"{seconds:+f} seconds",))
        for table, column in (("test", "readings"), ("revision", "changed")):
            query = f"select id, {column} from {table} where {column} like '%started_at%'"
            for row, readings in connection.execute(query).fetchall():
                moved_on = json.dumps(_later(json.loads(readings), timedelta(seconds=seconds)))
                connection.execute(f"update {table} set {column} = ? where id = ?", (moved_on, row))


def _later(readings, by):
    """Return readings with every clock in them, of the test or of a row, moved on."""
    if isinstance(readings, list):
        return [_later(row, by) for row in readings]
    if not isinstance(readings, dict):
        return readings
    return {
        key: (datetime.fromisoformat(value) + by).isoformat()
        if key.endswith("started_at") and value
        else _later(value, by)
        for key, value in readings.items()
    }


@pytest.fixture
def client(database):
    # Anything the server fails to answer plainly must surface as a status, not as a Python exception.
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        yield client


@pytest.fixture
def bench():
    made = Bench(stand_ins(time.time(), seed=3))
    for one in made.instruments.values():
        one.noise_steps, one.rng = 0.0, np.random.default_rng(1)
    return made


@pytest.fixture
def line(bench):
    """The near end; the far end runs in a thread with a loop of its own, which ends every connection when it stops."""
    port, ready, over = free_port(), threading.Event(), threading.Event()

    async def serve():
        async with await listen(bench, "127.0.0.1", port):
            ready.set()
            while not over.is_set():
                await asyncio.sleep(0.02)

    thread = threading.Thread(target=lambda: asyncio.run(serve()), daemon=True)
    thread.start()
    ready.wait(60)
    yield BenchLine(port=port)
    over.set()
    thread.join(60)

"""Fixtures: a demonstration laboratory built once, copied for each test that changes it."""

import shutil
import sqlite3
import time
from contextlib import closing
from datetime import datetime, timedelta

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from vadum.demo.laboratory import build
from vadum.web.app import create_app

# How long one example takes says nothing on a busy machine; `make bench` guards speed.
settings.register_profile("vadum", deadline=None)
settings.load_profile("vadum")


@pytest.fixture(scope="session")
def demo_database(tmp_path_factory):
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    build(path)
    return path


@pytest.fixture
def database(demo_database, tmp_path):
    """The demonstration laboratory as if it had been built just now: its clocks run from the beginning of the test."""
    for suffix in ("", "-wal"):
        source = demo_database.with_name(demo_database.name + suffix)
        if source.exists():
            shutil.copy(source, tmp_path / f"lab.sqlite{suffix}")
    _shift(tmp_path / "lab.sqlite", time.time() - demo_database.stat().st_mtime)
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
        for key in ("started_at", "stage_started_at"):
            found = connection.execute(
                f"select id, json_extract(readings, '$.{key}') from test where json_extract(readings, '$.{key}') is not null"
            ).fetchall()
            for test, at in found:
                later = (datetime.fromisoformat(at) + timedelta(seconds=seconds)).isoformat()
                connection.execute(
                    f"update test set readings = json_set(readings, '$.{key}', ?) where id = ?", (later, test)
                )


@pytest.fixture
def client(database):
    # Anything the server fails to answer plainly must surface as a status, not as a Python exception.
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        yield client

"""Fixtures: a demonstration laboratory built once, copied for each test that changes it."""

import shutil

import pytest
from fastapi.testclient import TestClient

from vadum.demo.laboratory import build
from vadum.web.app import create_app


@pytest.fixture(scope="session")
def demo_database(tmp_path_factory):
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    build(path)
    return path


@pytest.fixture
def database(demo_database, tmp_path):
    for suffix in ("", "-wal"):
        source = demo_database.with_name(demo_database.name + suffix)
        if source.exists():
            shutil.copy(source, tmp_path / f"lab.sqlite{suffix}")
    return tmp_path / "lab.sqlite"


@pytest.fixture
def client(database):
    # Anything the server fails to answer plainly must surface as a status, not as a Python exception.
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        yield client

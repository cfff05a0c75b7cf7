"""A laboratory with people in it."""

import shutil

import pytest
from sqlmodel import Session

from tests.web.hands import PASSWORD
from vadum.records.database import open_database
from vadum.records.people import add_person
from vadum.web.app import create_app


@pytest.fixture(scope="module")
def staffed(demo_database, tmp_path_factory):
    """The demonstration laboratory with one person for every role, and a guest who sees the second project only."""
    path = tmp_path_factory.mktemp("staff") / "lab.sqlite"
    _copy(demo_database, path)
    with Session(open_database(path)) as session:
        add_person(session, "manager", "manager", PASSWORD)
        for role in ("technician", "checker", "reader"):
            add_person(session, role, role, PASSWORD)
        add_person(session, "guest", "technician", PASSWORD, projects=[2])
    return path


def _copy(source, target):
    for suffix in ("", "-wal"):
        if source.with_name(source.name + suffix).exists():
            shutil.copy(source.with_name(source.name + suffix), f"{target}{suffix}")


@pytest.fixture
def app(staffed, tmp_path):
    _copy(staffed, tmp_path / "lab.sqlite")
    return create_app(tmp_path / "lab.sqlite")

"""A small laboratory, built once and copied for each test."""

import pytest
from sqlmodel import Session

from tests.records import small_laboratory
from vadum.records.database import open_database


@pytest.fixture(scope="session")
def small(tmp_path_factory):
    path = tmp_path_factory.mktemp("small") / "small.sqlite"
    small_laboratory.build(path)
    return path


@pytest.fixture
def session(small, tmp_path):
    with Session(open_database(small_laboratory.copy_of(small, tmp_path)), expire_on_commit=False) as session:
        yield session

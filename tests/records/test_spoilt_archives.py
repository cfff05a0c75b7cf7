"""An archive with one value changed to something it cannot be: refused in words, or taken and harmless."""

import io
import json
import random
import zipfile

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, func, select

from tests import THOROUGH
from tests.records.small_laboratory import copy_of
from vadum.records.archive import ArchiveError, bring_in, export
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.tables import Project, Revision, Test
from vadum.web.app import create_app

ODD = [None, [], {}, "x", -1, 1e300, True, "\x01", [1], {"a": 1}, "2026-13-45", 10**30]
TRIES = 600 if THOROUGH else 25
_AT_ONCE = 12


@pytest.fixture(scope="module")
def parts(small, tmp_path_factory):
    folder = tmp_path_factory.mktemp("spoilt")
    with Session(open_database(copy_of(small, folder))) as session:
        data = export(session, session.get(Project, 1))
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def places(plain, path=()):
    """Yield the path of every value in plain data."""
    children = plain.items() if isinstance(plain, dict) else enumerate(plain) if isinstance(plain, list) else ()
    for key, value in children:
        yield (*path, key)
        yield from places(value, (*path, key))


def spoilt(parts, path, value):
    plain = json.loads(parts["project.json"])
    at = plain
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, content in (parts | {"project.json": json.dumps(plain)}).items():
            packed.writestr(name, content)
    return out.getvalue()


def test_one_odd_value_is_refused_in_words_or_does_no_harm(parts, small, tmp_path):
    found = list(places(json.loads(parts["project.json"])))
    # By what they are called, so that a name that occurs a thousand times is not tried a thousand times.
    named = {tuple(key for key in path if isinstance(key, str)): path for path in found}
    chance = random.Random(None if THOROUGH else 15)
    tries = [
        (path, chance.choice(ODD)) for path in chance.sample(sorted(named.values(), key=str), min(TRIES, len(named)))
    ]
    for k in range(0, len(tries), _AT_ONCE):
        # A laboratory that grows by every archive that does no harm would be looked through for longer and longer.
        try_on(copy_of(small, tmp_path), parts, tries[k : k + _AT_ONCE])


def try_on(path, parts, tries):
    with (
        TestClient(create_app(path), raise_server_exceptions=False) as client,
        Session(client.app.state.engine) as session,
    ):
        before = counts(session)
        for where, value in tries:
            project, said = brought(session, spoilt(parts, where, value))
            if project is None:
                assert said.endswith("."), (where, value)
                assert counts(session) == before, (where, value)
                continue
            for address in ("/", "/board", f"/projects/{project.id}", f"/projects/{project.id}/summary"):
                assert client.get(address).status_code == 200, (where, value, address)
            assert list(troubles(session)) == [], (where, value)
            before = counts(session)
    client.app.state.engine.dispose()


def brought(session, data):
    """Return the project, or None with what was said."""
    try:
        return bring_in(session, data), ""
    except ArchiveError as refused:
        return None, str(refused)


def counts(session):
    return [session.exec(select(func.count()).select_from(table)).one() for table in (Project, Test, Revision)]

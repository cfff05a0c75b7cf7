"""From state to state: what is done with a test is done with the sheet that was looked at, and once."""

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.laboratory import CLASSIFICATION_B3, LIQUID_LIMIT_B3
from vadum.records.database import open_database
from vadum.records.tables import Check, Revision
from vadum.web.app import create_app

KEY = "a-move-of-this-tab"


@pytest.fixture
def checker(database):
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        client.post("/who", data={"role": "checker"})
        yield client


def sheet(client):
    return client.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()


def move(client, action, revision, key=KEY, **more):
    body = {"action": action, "base_revision": revision, "save_key": key} | more
    return client.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json=body)


def change(client, revision, **more):
    cells = {"trials.0.mass_tin_dry_g": "26.11"}
    body = {"base_revision": revision, "save_key": "the-others-reading", "cells": cells} | more
    return client.post(f"/api/tests/{LIQUID_LIMIT_B3}/save", json=body)


def kept(database, table):
    with Session(open_database(database)) as session:
        return session.exec(select(table).where(table.test_id == LIQUID_LIMIT_B3)).all()


def test_a_sheet_that_changed_since_it_was_looked_at_is_not_checked(checker, database):
    looked_at = sheet(checker)["revision"]
    with TestClient(create_app(database)) as other:
        assert change(other, looked_at).status_code == 200
    refused = move(checker, "check", looked_at)
    assert refused.status_code == 409
    answer = refused.json()
    assert answer["message"] == "This sheet was changed in between."
    assert (answer["conflict"]["who"], answer["conflict"]["revision"]) == ("technician 1", looked_at + 1)
    assert answer["conflict"]["keys"] == ["the-others-reading"]
    assert sheet(checker)["state"] == "reduced"
    assert kept(database, Check) == []
    # Looked at as it is now it is checked.
    assert move(checker, "check", looked_at + 1).status_code == 200
    assert [check.revision for check in kept(database, Check)] == [looked_at + 2]


def test_a_move_whose_answer_was_lost_is_not_made_twice(checker, database):
    before = sheet(checker)["revision"]
    first, again = (move(checker, "check", before) for _ in range(2))
    assert (first.status_code, again.status_code) == (200, 200)
    assert again.json()["state"] == "checked"
    assert again.json()["revision"] == before + 1
    assert len(kept(database, Check)) == 1
    issued, again = (move(checker, "issue", before + 1, "another-move-of-it") for _ in range(2))
    assert (issued.status_code, again.status_code) == (200, 200)
    assert issued.json()["issued"] == again.json()["issued"]
    assert sheet(checker)["revision"] == before + 2


def test_a_key_is_of_one_move(checker, database):
    before = sheet(checker)["revision"]
    assert change(checker, before, save_key=KEY).status_code == 200
    assert move(checker, "void", before + 1, reason="wrong sample").status_code == 409
    assert sheet(checker)["state"] == "reduced"
    assert move(checker, "void", before + 1, "its-own-key", reason="wrong sample").status_code == 200
    assert move(checker, "reopen", before + 2, "its-own-key", reason="right sample").status_code == 409
    assert change(checker, before + 2, save_key="its-own-key").status_code in (409, 423)
    assert [one.save_key for one in kept(database, Revision)].count("its-own-key") == 1


def test_whoever_says_neither_is_taken_at_their_word(checker):
    """A script that moves tests says no revision: it moves what is there."""
    reply = checker.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": "check"})
    assert reply.status_code == 200
    assert reply.json()["state"] == "checked"


def test_what_a_test_leans_on_is_looked_at_before_it_is_checked(checker, database):
    """A classification leans on the liquid limit of its sample: that one changes, this one gets no revision by it."""
    address = f"/api/tests/{CLASSIFICATION_B3}"
    looked_at = checker.get(f"{address}/sheet").json()
    assert looked_at["state"] == "reduced"
    seen = {"base_revision": looked_at["revision"], "found": looked_at["found"]}
    assert change(checker, sheet(checker)["revision"]).status_code == 200
    refused = checker.post(f"{address}/move", json={"action": "check", "save_key": KEY} | seen)
    assert refused.status_code == 409
    assert refused.json()["conflict"]["who"] == ""
    now = checker.get(f"{address}/sheet").json()
    assert (now["revision"], now["state"]) == (looked_at["revision"], "reduced")
    assert now["verdict"] != looked_at["verdict"]
    looked = {"base_revision": now["revision"], "found": now["found"], "save_key": KEY}
    assert checker.post(f"{address}/move", json={"action": "check"} | looked).status_code == 200


def test_what_is_not_read_is_not_checked(checker, database):
    with TestClient(create_app(database)) as other:
        saved = change(other, sheet(other)["revision"], cells={"trials.0.mass_tin_dry_g": "26.1l"}).json()
        assert not saved["verdict"]["reportable"]
        assert saved["verdict"]["next"].startswith("Tin + dry in trials, row 1: “26.1l” has a letter among its figures")
        assert saved["tables"][0]["rows"][0]["cells"]["mass_tin_dry_g"]["text"] == "26.1l"
        refused = move(checker, "check", saved["revision"])
        assert refused.status_code == 409
        assert "“26.1l” has a letter among its figures" in refused.json()["message"]
        again = change(other, saved["revision"], save_key="typed-once-again").json()
        assert again["verdict"]["reportable"]
    assert move(checker, "check", again["revision"], "another-move-of-this-tab").status_code == 200

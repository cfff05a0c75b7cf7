"""People come, forget passwords, leave and come back; what technicians may add is the laboratory's to say."""

import re
from pathlib import Path
from urllib.parse import unquote

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B3
from tests.web.hands import PASSWORD, SECRET, signed_in
from vadum.records.tables import Person, Project
from vadum.web.app import create_app


def number_of(app, name):
    with Session(app.state.engine) as session:
        return session.exec(select(Person.id).where(Person.name == name)).one()


def test_a_forgotten_password_is_given_anew_and_shown_once(app):
    manager, forgetful = signed_in(app, "manager"), signed_in(app, "technician")
    page = manager.post(f"/people/{number_of(app, 'technician')}/password").text
    given = SECRET.search(page)[1]
    assert "Password of technician" in page
    assert given not in manager.get("/people").text
    assert forgetful.get("/api/board").status_code == 401, "whoever sat there is signed out"
    again = TestClient(app)
    assert again.post("/sign-in", data={"name": "technician", "password": PASSWORD}).status_code == 401
    assert again.post("/sign-in", data={"name": "technician", "password": given}).status_code == 200
    assert again.get("/api/board").status_code == 200


def test_who_was_let_go_is_brought_back(app):
    manager, number = signed_in(app, "manager"), number_of(app, "technician")
    assert "what technician recorded stays under the name" in re.sub(r"\s+", " ", manager.get("/people").text)
    manager.post(f"/people/{number}/deactivate")
    assert "Bring technician back" in manager.get("/people").text
    manager.post(f"/people/{number}/back")
    assert signed_in(app, "technician").get("/api/board").status_code == 200


@pytest.mark.parametrize("name", ["technician", "checker"])
def test_who_measures_adds_projects_once_the_laboratory_lets_them(app, name):
    hand, manager = signed_in(app, name), signed_in(app, "manager")
    assert "New project" not in hand.get("/").text
    assert hand.post("/projects", data={"name": "Well Lane"}).status_code == 403
    manager.post("/rules", data={"technicians_add": "true"})
    assert "New project" in hand.get("/").text
    assert "from an <a" not in hand.get("/").text, "archives stay the manager's"
    hand.post("/projects", data={"name": "Well Lane"})
    assert hand.post("/equipment", data={"name": "T 900", "kind": "tin", "tare_g": "21.4"}).status_code == 200
    with Session(app.state.engine) as session:
        assert session.exec(select(Project).where(Project.name == "Well Lane")).one()
    reader = signed_in(app, "reader")
    assert reader.post("/projects", data={"name": "Reader's"}).status_code == 403
    # The rule outlives the process.
    assert "New project" in signed_in(create_app(Path(app.state.engine.url.database)), name).get("/").text


def test_who_was_signed_out_is_told_that_nothing_was_kept(app):
    reply = TestClient(app).post("/locations/1/samples", data={"name": "B9", "top_m": "1", "base_m": "2"})
    assert reply.status_code == 401
    assert "nothing was kept" in reply.text


@pytest.mark.parametrize(("meant", "status"), [("technician", 200), ("", 200), ("checker", 403), ("K%C3%A4the", 403)])
def test_a_page_made_for_one_does_nothing_in_the_name_of_another(app, meant, status):
    client = signed_in(app, "technician")
    headers = {"Vadum-Person": meant} if meant else {}
    # Looking is everybody's.
    assert client.get("/api/board", headers=headers).status_code == 200
    reply = client.post(f"/api/tests/{LIQUID_LIMIT_B3}/preview", json={"cells": {}}, headers=headers)
    assert reply.status_code == status
    if status == 403:
        assert "technician is signed in in this browser now" in reply.json()["message"]
        assert unquote(meant) in reply.json()["message"]

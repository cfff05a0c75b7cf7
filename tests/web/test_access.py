"""Who may do what: every route for every role, sessions that end, tokens, foreign pages, projects one does not see."""

import json
import re
from contextlib import contextmanager
from urllib.parse import quote

import pytest
from fastapi import HTTPException
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.command_line import vadum
from tests.laboratory import LIQUID_LIMIT_B3, LIQUID_LIMIT_U2
from tests.web.hands import PASSWORD, SECRET, signed_in
from vadum.records.database import open_database
from vadum.records.people import ROLE_NAMES, PeopleError, add_person, by_password, deactivate
from vadum.records.tables import Location, Person, Sample, SignIn, Test
from vadum.report.document import Document
from vadum.web import access, attempts, rendering
from vadum.web.app import create_app

OPEN = {
    ("GET", "/sign-in"),
    ("POST", "/sign-in"),
    ("POST", "/sign-out"),
    ("GET", "/worker.js"),
    ("GET", "/manifest.webmanifest"),
    ("GET", "/no-line"),
    ("GET", "/api/docs"),
    ("GET", "/api/methods"),
    ("GET", "/api/methods/{code}"),
    ("POST", "/api/reduce"),
}
MANAGES = {
    ("POST", "/equipment/{equipment_id}"),
    ("POST", "/equipment/{equipment_id}/remove"),
    ("POST", "/people/{person_id}/name"),
    ("POST", "/projects"),
    ("POST", "/projects/{project_id}"),
    ("POST", "/zone"),
    ("POST", "/hours"),
    ("POST", "/units"),
    ("POST", "/equipment"),
    ("GET", "/equipment/tins"),
    ("POST", "/equipment/tins"),
    ("POST", "/equipment/{equipment_id}/calibrations"),
    ("GET", "/archives"),
    ("POST", "/archives"),
    ("GET", "/transfer"),
    ("POST", "/transfer"),
    ("GET", "/people"),
    ("POST", "/people"),
    ("GET", "/letterhead"),
    ("POST", "/letterhead"),
    ("GET", "/letterhead/logo"),
    ("POST", "/rules"),
    ("POST", "/presets/{code}"),
    ("POST", "/projects/{project_id}/presets/{code}"),
    ("POST", "/people/{person_id}/deactivate"),
    ("POST", "/people/{person_id}/role"),
    ("POST", "/people/{person_id}/back"),
    ("POST", "/people/{person_id}/password"),
    ("POST", "/people/{person_id}/tokens"),
    ("POST", "/tokens/{token_id}/revoke"),
}
CHECKS = {
    ("POST", "/locations/{location_id}/merge"),
    ("POST", "/locations/{location_id}/remove"),
    ("POST", "/samples/{sample_id}/remove"),
    ("POST", "/projects/{project_id}/units"),
    ("POST", "/people/{person_id}/competence"),
    ("POST", "/competence/{competence_id}/withdraw"),
    ("POST", "/reports/{report_id}/issue"),
    ("POST", "/projects/{project_id}/densities"),
    ("POST", "/projects/{project_id}/densities/{test_id}"),
    ("POST", "/projects/{project_id}/infiltration"),
}
ONLY_ASKS = {
    ("POST", "/api/preparation"),
    ("POST", "/api/tests/{test_id}/preview"),
    ("POST", "/api/tests/{test_id}/against"),
    ("POST", "/api/plan"),
    ("POST", "/api/pattern"),
    ("POST", "/api/code"),
    ("POST", "/who"),
    ("POST", "/password"),
}
NUMBERS = {
    "test_id": "7",
    "sample_id": "3",
    "location_id": "1",
    "project_id": "1",
    "equipment_id": "1",
    "calibration_id": "999",
    "attachment_id": "999",
    "report_id": "999",
    "person_id": "999",
    "token_id": "999",
    "competence_id": "999",
    "number": "1",
    "key": "x",
    "code": "sieve",
    "name": "x",
    "what": "zero",
}


@pytest.fixture(scope="module")
def shared(staffed):
    """One application for tests that only ask."""
    return create_app(staffed)


def routes():
    """Every route of the application, by its modules: a new one is in the table by itself."""
    from vadum.web.routers import ROUTERS

    found = {
        (method, route.path)
        for router in ROUTERS
        for route in router.routes
        for method in route.methods
        if method != "HEAD"
    }
    return sorted(found)


def wanted(method, path):
    """The least role's set of roles that may use a route, written down here once more."""
    if (method, path) in OPEN:
        return {None, *ROLE_NAMES}
    if (method, path) in MANAGES:
        return {"manager"}
    if (method, path) in CHECKS:
        return {"checker", "manager"}
    if method == "GET" or (method, path) in ONLY_ASKS:
        return set(ROLE_NAMES)
    return {"technician", "checker", "manager"}


@contextmanager
def stopped(_engine):
    """Stand in for the database of a route that was reached: it does nothing more."""
    raise HTTPException(418)
    yield


@pytest.mark.parametrize("role", [None, *ROLE_NAMES])
def test_every_route_for_every_role(shared, role, monkeypatch):
    """Refused or not is all that counts here: nothing is let through to a route that would change something."""
    client = signed_in(shared, role) if role else TestClient(shared, raise_server_exceptions=False)
    monkeypatch.setattr(access, "project_of", lambda *_: None)
    monkeypatch.setattr(Document, "compiled", lambda *_: [b""])  # setting pages takes long and refuses nobody
    if role != "manager":  # whoever may do everything goes the whole way, the others to the door
        monkeypatch.setattr(rendering, "session_on", stopped)
    for method, path in routes():
        if path in ("/sign-out", "/sign-in"):
            continue
        address = re.sub(r"\{(\w+)\}", lambda m: NUMBERS[m[1]], path)
        # A body no route takes: whoever is let in gets 4xx other than 401 and 403.
        reply = client.request(method, address, content=b"\xff", follow_redirects=False)
        refused = reply.status_code in (401, 403) or reply.headers.get("location", "").startswith("/sign-in")
        assert refused == (role not in wanted(method, path)), (method, path, reply.status_code)
        assert reply.status_code < 500 or path == "/api/instruments", (method, path, reply.status_code)


def test_every_written_down_exception_is_a_route():
    known = set(routes())
    assert set(access.NEEDS) <= known
    assert known >= (OPEN | MANAGES | CHECKS | ONLY_ASKS)


def test_before_anybody_is_registered_everybody_works(client):
    assert client.get("/").status_code == 200
    assert "Working as" in client.get("/").text


def test_a_page_leads_to_the_sign_in_and_back(shared):
    client = TestClient(shared)
    reply = client.get(f"/tests/{LIQUID_LIMIT_U2}", follow_redirects=False)
    assert (reply.status_code, reply.headers["location"]) == (303, f"/sign-in?back=/tests/{LIQUID_LIMIT_U2}")
    reply = client.post(
        "/sign-in",
        data={"name": "reader", "password": PASSWORD, "back": f"/tests/{LIQUID_LIMIT_U2}"},
        follow_redirects=False,
    )
    assert reply.headers["location"] == f"/tests/{LIQUID_LIMIT_U2}"
    cookie = reply.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "samesite=strict" in cookie.lower()
    assert client.get(f"/tests/{LIQUID_LIMIT_U2}").status_code == 200
    assert client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").status_code == 200


@pytest.mark.parametrize("back", ["//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"])
def test_the_way_back_never_leaves_the_laboratory(shared, back):
    reply = TestClient(shared).post(
        "/sign-in", data={"name": "reader", "password": PASSWORD, "back": back}, follow_redirects=False
    )
    assert reply.headers["location"] == "/"


def test_what_is_recorded_carries_the_persons_name(app):
    client = signed_in(app, "technician")
    revision = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()["revision"]
    body = {"base_revision": revision, "save_key": "key-of-a-save", "cells": {"trials.0.blows": "24"}}
    assert client.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body).status_code == 200
    assert client.get(f"/api/tests/{LIQUID_LIMIT_U2}/history").json()[0]["who"] == "technician"


def test_a_stolen_cookie_is_worth_nothing_after_the_sign_out(shared):
    client = signed_in(shared, "technician")
    stolen = dict(client.cookies)
    thief = TestClient(shared, cookies=stolen)
    assert thief.get("/api/board").status_code == 200
    assert client.post("/sign-out", follow_redirects=False).status_code == 303
    assert thief.get("/api/board").status_code == 401


@pytest.mark.parametrize("cookie", ["", "x", "IjEi.abc", "a.b.c"])
def test_a_made_up_cookie_is_refused(shared, cookie):
    assert TestClient(shared, cookies={access.COOKIE: cookie}).get("/api/board").status_code == 401


def test_secrets_and_passwords_are_kept_nowhere(app, tmp_path):
    client = signed_in(app, "manager")
    page = client.post("/people/1/tokens", data={"name": "balance room", "scope": "measure"}).text
    secret = SECRET.search(page)[1]
    raw = b"".join(p.read_bytes() for p in tmp_path.glob("lab.sqlite*"))
    assert secret.encode() not in raw
    assert PASSWORD.encode() not in raw
    with Session(app.state.engine) as session:
        assert all(p.password_hash.startswith("$argon2") for p in session.exec(select(Person)))
        assert all(len(s.secret_sha256) == 64 for s in session.exec(select(SignIn)))


def test_a_token_reads_or_measures_until_it_is_revoked(app):
    manager, script = signed_in(app, "manager"), TestClient(app)
    secrets = {}
    for scope in ("read", "measure"):
        page = manager.post("/people/1/tokens", data={"name": scope, "scope": scope}).text
        secrets[scope] = {"Authorization": f"Bearer {SECRET.search(page)[1]}"}
    revision = script.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet", headers=secrets["read"]).json()["revision"]
    body = {"base_revision": revision, "save_key": "key-of-a-save", "cells": {"trials.0.blows": "24"}}
    assert script.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body, headers=secrets["read"]).status_code == 403
    assert script.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body, headers=secrets["measure"]).status_code == 200
    assert script.get("/people", headers=secrets["measure"]).status_code == 403, "a manager's token manages nothing"
    number = re.search(r"/tokens/(\d+)/revoke", manager.get("/people").text)[1]
    manager.post(f"/tokens/{number}/revoke")
    assert script.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet", headers=secrets["read"]).status_code == 401
    # A session's secret is no token, and the other way round.
    assert TestClient(app, headers={"Authorization": "Bearer nothing"}).get("/api/board").status_code == 401


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Origin": "https://elsewhere.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "same-origin", "Origin": "http://testserver"}, 303),
        ({}, 303),
    ],
)
def test_a_change_from_another_sites_page_is_refused(app, headers, status):
    client = signed_in(app, "manager")
    reply = client.post("/projects", data={"name": "New"}, headers=headers, follow_redirects=False)
    assert reply.status_code == status


def test_five_failed_tries_make_the_name_wait(app, monkeypatch):
    client, at = TestClient(app), [1000.0]
    monkeypatch.setattr(attempts.time, "monotonic", lambda: at[0])
    wrong = {"name": "technician", "password": "not the right one"}
    assert [client.post("/sign-in", data=wrong).status_code for _ in range(6)] == [401] * 5 + [429]
    right = {"name": "technician", "password": PASSWORD}
    assert client.post("/sign-in", data=right, follow_redirects=False).status_code == 429
    other = {"name": "reader", "password": PASSWORD}
    assert client.post("/sign-in", data=other, follow_redirects=False).status_code == 303
    at[0] += 61
    assert client.post("/sign-in", data=right, follow_redirects=False).status_code == 303


def test_only_a_checker_checks_and_never_what_they_measured(app):
    technician, checker = signed_in(app, "technician"), signed_in(app, "checker")
    move = {"action": "check"}
    assert technician.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json=move).status_code == 403
    assert (
        technician.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json=move).json()["message"]
        == "A checker or manager does this."
    )
    assert checker.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json=move).status_code == 200


def test_another_projects_tests_are_not_there_for_a_guest(app):
    guest, all_of_it = signed_in(app, "guest"), signed_in(app, "technician")
    assert guest.get("/projects/2").status_code == 200
    for address in (
        "/projects/1",
        f"/tests/{LIQUID_LIMIT_U2}",
        f"/api/tests/{LIQUID_LIMIT_U2}/sheet",
        "/samples/3",
        f"/tests/{LIQUID_LIMIT_U2}/bench.json",
        "/projects/1/positions.geojson",
    ):
        assert all_of_it.get(address).status_code == 200, address
        assert guest.get(address).status_code == 404, address
    body = {"base_revision": 0, "save_key": "key-of-a-save", "cells": {}}
    assert guest.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body).status_code == 404
    # Nor do lists tell of them.
    assert "Harrow Mere" not in guest.get("/").text
    assert "Harrow Mere" in all_of_it.get("/").text
    places = {line["place"].split()[0] for part in guest.get("/api/board").json()["parts"] for line in part["lines"]}
    assert places <= {"P1", "P2", "BH7", "B1"}, places
    assert "TP4" not in guest.get("/plan").text
    assert "TP4" not in guest.get("/board").text


@pytest.mark.parametrize("spelt", [" {}", "{} ", "+{}", "{}.0", "\u202f{}", "{:025}", "{:018}"])
def test_another_projects_tests_are_not_there_under_another_spelling_of_their_number(app, spelt):
    """A number that the guard did not take for one, and the route did, opened every project to a guest."""
    guest = signed_in(app, "guest")
    asked = {"base_revision": 0, "save_key": "key-of-a-save", "cells": {"readings.1.blows": "25"}}
    theirs = {"project_id": 1, "location_id": 1, "sample_id": 3, "test_id": LIQUID_LIMIT_U2}
    for path, operations in app.openapi()["paths"].items():
        names = re.findall(r"{(\w+)}", path)
        if not theirs.keys() & set(names):
            continue
        address = path.format(**{name: quote(spelt.format(theirs.get(name, 1))) for name in names})
        for method in operations:
            answer = guest.request(method, address, json=asked, follow_redirects=False)
            assert answer.status_code in (404, 403), (method, address)


def test_another_projects_location_is_not_packed_for_a_guest(app):
    guest, all_of_it = signed_in(app, "guest"), signed_in(app, "technician")
    assert all_of_it.get("/api/pack?location=1").json()["title"]
    assert guest.get("/api/pack?location=1").status_code == 404


def test_what_others_run_takes_no_place_in_the_run_of_a_guest(app):
    """Six cylinders stand in one run: they are those that the guest sees, not the first six of all."""
    guest = signed_in(app, "guest")
    with Session(app.state.engine) as session:
        begun = {"started_at": "2026-11-02T08:00:00+00:00"}

        def hydrometers(project, count):
            sample = session.exec(select(Sample.id).join(Location).where(Location.project_id == project)).first()
            return [Test(method="hydrometer", sample_id=sample, state="running", kept=begun) for _ in range(count)]

        theirs, own = hydrometers(1, 6), hydrometers(2, 2)
        session.add_all([*theirs, *own])
        session.commit()
        own = {test.id for test in own}
    page = guest.get(f"/tests/{max(own)}/run").text
    carried = json.loads(re.search(r'id="together">(.*?)</script>', page, re.DOTALL)[1])
    assert own <= {one["test"] for one in carried}


def test_people_come_and_go(app):
    manager, gone = signed_in(app, "manager"), signed_in(app, "technician")
    short = manager.post("/people", data={"name": "new", "role": "reader", "password": "short"})
    assert short.status_code == 422
    assert "at least 10 characters" in short.text
    taken = manager.post("/people", data={"name": "reader", "role": "reader", "password": PASSWORD})
    assert "registered already" in taken.text
    assert manager.post("/people", data={"name": "new", "role": "reader", "password": PASSWORD}).status_code == 200
    assert signed_in(app, "new").get("/").status_code == 200
    with Session(app.state.engine) as session:
        number = session.exec(select(Person.id).where(Person.name == "technician")).one()
    assert manager.post(f"/people/{number}/deactivate").status_code == 200
    assert gone.get("/api/board").status_code == 401, "their sessions end at once"
    assert TestClient(app).post("/sign-in", data={"name": "technician", "password": PASSWORD}).status_code == 401
    assert manager.get(f"/api/tests/{LIQUID_LIMIT_U2}/history").status_code == 200


def test_the_first_one_is_a_manager_and_the_last_one_stays(database):
    with Session(open_database(database)) as session:
        with pytest.raises(PeopleError, match="first person is a manager"):
            add_person(session, "a", "technician", PASSWORD)
        person = add_person(session, "a", "manager", PASSWORD)
        with pytest.raises(PeopleError, match="last manager stays"):
            deactivate(session, person)
        assert by_password(session, "a", PASSWORD).id == person.id
        assert by_password(session, "a", PASSWORD + "x") is None
        assert by_password(session, "nobody", PASSWORD) is None


def test_the_demonstration_signs_in_by_a_click_and_nothing_else_does(database):
    from vadum.demo.laboratory import staff

    staff(database)
    demo = TestClient(create_app(database, demo=True))
    assert "work as" in demo.get("/sign-in").text
    reply = demo.post("/sign-in", data={"name": "checker"}, follow_redirects=False)
    assert reply.status_code == 303
    assert "checker" in demo.get("/").text
    served = TestClient(create_app(database))
    assert "work as" not in served.get("/sign-in").text
    assert served.post("/sign-in", data={"name": "checker"}).status_code == 401


def test_beyond_this_machine_only_with_a_manager(tmp_path):
    path = tmp_path / "lab.sqlite"
    refused = vadum("serve", "--host", "0.0.0.0", database=path)
    assert refused.returncode == 2
    assert "vadum user add NAME --role manager" in refused.stderr
    wrong = vadum("user", "add", "x", "--role", "technician", "--password", PASSWORD, database=path)
    assert wrong.returncode == 2
    assert "first person is a manager" in wrong.stderr
    made = vadum("user", "add", "x", "--role", "manager", "--password", PASSWORD, database=path)
    assert made.stdout == "x is registered as manager.\n"
    with Session(open_database(path)) as session:
        assert by_password(session, "x", PASSWORD) is not None

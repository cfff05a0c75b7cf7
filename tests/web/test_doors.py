"""Ways in, and ways to freeze the server: each was open once."""

import io
import json
import os
import re
import sqlite3
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import timedelta
from html import unescape

import openpyxl
import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.command_line import vadum
from tests.laboratory import CBR_LAB_G1_2, LIQUID_LIMIT_B3, LIQUID_LIMIT_U2, SIEVE_G2
from tests.web.hands import PASSWORD, SECRET, signed_in
from vadum.records import people
from vadum.records.tables import Attachment, Calibration, Equipment, Person, Project, SignIn, Test, now
from vadum.web import attempts
from vadum.web.app import create_app
from vadum.web.guard import LARGEST_BODY, Guard

SIEVE = SIEVE_G2  # under way in the demonstration laboratory
FREEZING = "1 g*9**9**9"


def bench_file(mass):
    return {
        "format": "vadum-bench/1",
        "method": "water-content",
        "readings": {"determinations": [{"mass_tin_g": mass}]},
    }


# Units


@pytest.mark.parametrize("mass", [FREEZING, "1 " + "k" * 200_000, "1 g**99999"])
def test_a_unit_that_freezes_is_refused_where_it_stands(client, mass):
    reply = client.post("/api/reduce", json=bench_file(mass))
    assert reply.status_code == 422
    assert "determinations.0.mass_tin_g" in json.dumps(reply.json())


def test_a_columns_own_unit_may_be_typed_in_every_column(client):
    sheet = client.get(f"/api/tests/{CBR_LAB_G1_2}/sheet").json()
    body = {"base_revision": sheet["revision"], "save_key": "key-with-a-unit"}
    for text in ("18 div", "12 mm", "18 N/div", FREEZING):
        path = next(f"{t['name']}.0.{c['key']}" for t in sheet["tables"] for c in t["columns"] if c["kind"] == "number")
        reply = client.post(f"/api/tests/{CBR_LAB_G1_2}/preview", json={"cells": {path: text}})
        assert reply.status_code == 200, text
    assert body


# What somebody brought


def test_a_file_says_itself_what_it_is_and_runs_nothing(client):
    """Sent as script and as a drawing with one: kept, and given back as a file and nothing else."""
    script = b"fetch('/people')"
    drawing = b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"
    with Session(client.app.state.engine) as session:
        for data, kind in ((script, "text/javascript"), (drawing, "image/svg+xml"), (b"<html>", "text/html")):
            session.add(
                Attachment(
                    test_id=7,
                    kind="readings file",
                    name="r.csv",
                    media_type=kind,
                    sha256="x",
                    size=1,
                    data=data,
                    who="a",
                )
            )
        session.commit()
        numbers = session.exec(select(Attachment.id)).all()
    for number in numbers:
        reply = client.get(f"/attachments/{number}")
        assert reply.headers["content-type"] == "application/octet-stream"
        assert reply.headers["content-disposition"].startswith("attachment")
        assert reply.headers["content-security-policy"].endswith("sandbox")
        assert reply.headers["x-content-type-options"] == "nosniff"


def test_the_senders_word_for_a_file_is_not_kept(client):
    revision = client.get(f"/api/tests/{SIEVE}/sheet").json()["revision"]
    rows = "Sieve [mm];Mass retained [g]\n4;100\n2;50\n"
    files = {"file": ("r.csv", rows.encode(), "text/javascript")}
    reply = client.post(
        f"/api/tests/{SIEVE}/import", files=files, data={"base_revision": revision, "save_key": "key-of-a-script"}
    )
    assert reply.status_code == 200, reply.text
    with Session(client.app.state.engine) as session:
        assert session.exec(select(Attachment.media_type)).one() == "application/octet-stream"


# Names


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("127.0.0.1:8000", 200),
        ("localhost", 200),
        ("[::1]:8000", 200),
        ("lab.example:8000", 200),
        ("LAB.example", 200),
        ("elsewhere.example", 421),
        ("127.0.0.1.elsewhere.example", 421),
        ("", 421),
        ("elsewhere.example:127.0.0.1", 421),
    ],
)
def test_only_names_it_was_given_are_answered_to(database, host, status):
    with TestClient(create_app(database, names=["lab.example"])) as client:
        assert client.get("/api/methods", headers={"host": host}).status_code == status


# The first one


def test_the_first_manager_needs_the_code_that_was_printed(database):
    nobody = create_app(database)
    with TestClient(nobody) as client:
        new = {"name": "first", "role": "manager", "password": PASSWORD}
        assert client.post("/people", data=new).status_code == 422
        assert client.post("/people", data=new | {"code": "00000000"}).status_code == 422
        assert "one-time code" in client.get("/people").text
        with Session(nobody.state.engine) as session:
            assert session.exec(select(Person)).all() == []
        code = nobody.state.first_code
        assert client.post("/people", data=new | {"code": code}, follow_redirects=False).status_code == 303
        # Once there is somebody, made here or on the command line, a manager registers others without it.
        manager = TestClient(nobody)
        manager.post("/sign-in", data={"name": "first", "password": PASSWORD})
        third = {"name": "third", "role": "reader", "password": PASSWORD}
        assert manager.post("/people", data=third, follow_redirects=False).status_code == 303
        again = {"name": "second", "role": "manager", "password": PASSWORD, "code": code}
        assert client.post("/people", data=again).status_code in (401, 303), "from now on one signs in"


# Tokens


def test_a_token_never_does_more_than_its_scope(app):
    """The lesser of what the person and the token may, inside a route as at its door."""
    manager = signed_in(app, "manager")
    page = manager.post("/people/1/tokens", data={"name": "balance room", "scope": "measure"}).text
    script = TestClient(app, headers={"Authorization": f"Bearer {SECRET.search(page)[1]}"})
    for action in ("check", "issue", "keep"):
        assert (
            script.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": action, "reason": "script"}).status_code
            == 403
        ), action
    assert (
        script.post("/projects/1/reports", data={"title": "x", "chapters": "tests", "issue": "true"}).status_code == 403
    )
    assert script.get("/password").status_code == 200
    assert script.post("/password", data={"new": PASSWORD + "1", "again": PASSWORD + "1"}).status_code == 404


def test_revoking_a_token_ends_nothing_but_a_token(app):
    manager, technician = signed_in(app, "manager"), signed_in(app, "technician")
    with Session(app.state.engine) as session:
        mine = session.exec(select(SignIn.id).join(Person).where(Person.name == "technician")).one()
    assert manager.post(f"/tokens/{mine}/revoke").status_code == 404
    assert technician.get("/api/board").status_code == 200


# Bodies


def chunks(size, each=1_000_000):
    for _ in range(size // each):
        yield b" " * each


def test_a_body_without_a_length_is_counted_while_it_comes(client):
    reply = client.post("/api/reduce", content=chunks(LARGEST_BODY * 4), headers={"content-type": "application/json"})
    assert reply.status_code == 413
    assert "at most 8 MB" in reply.json()["message"]


def test_no_more_than_the_limit_is_ever_held():
    """An endless body is left alone as soon as it is too large."""
    import asyncio

    taken = 0

    async def endless():
        nonlocal taken
        taken += 100_000
        return {"type": "http.request", "body": b" " * 100_000, "more_body": True}

    async def reads_all(scope, receive, send):
        while (await receive()).get("more_body"):
            pass

    answers = []

    async def send(message):
        answers.append(message)

    scope = {"type": "http", "method": "POST", "path": "/", "headers": [(b"host", b"localhost")], "query_string": b""}
    asyncio.run(Guard(reads_all)(scope, endless, send))
    assert answers[0]["status"] == 413
    assert taken <= LARGEST_BODY + 200_000


def corner():
    book = openpyxl.Workbook()
    book.active["A1"], book.active["XFD1048576"] = "Sieve [mm]", 1
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_workbook_with_a_cell_in_its_farthest_corner_does_not_hold_others(client):
    """Read off the loop and no farther than readings go: the other page does not wait for it."""
    from vadum.exchange.spreadsheet import read_grid

    grid = read_grid(corner())
    assert grid.rows == [["Sieve [mm]"]]
    assert "was not read" in grid.notes[0]
    reply = client.post(f"/api/tests/{SIEVE_G2}/import/preview", files={"file": ("c.xlsx", corner())})
    assert reply.status_code in (200, 422)


def test_heavy_work_does_not_run_on_the_loop():
    """What is read, decoded or hashed goes to threads: no route of ours is a coroutine."""
    import inspect

    from fastapi.routing import APIRoute

    from vadum.web.routers import ROUTERS

    routes = [route for router in ROUTERS for route in router.routes]
    assert len(routes) > 90
    assert [r.path for r in routes if isinstance(r, APIRoute) and inspect.iscoroutinefunction(r.endpoint)] == []


# Passwords


def test_of_many_tries_at_once_five_are_judged(app, monkeypatch):
    judged = []
    by_password = people.by_password

    def slow(session, name, password):
        judged.append(name)
        time.sleep(0.05)
        return by_password(session, name, password)

    monkeypatch.setattr(people, "by_password", slow)
    client = TestClient(app)

    def guess(i):
        return client.post("/sign-in", data={"name": "manager", "password": f"guess number {i}"}).status_code

    with ThreadPoolExecutor(20) as pool:
        answers = sorted(pool.map(guess, range(20)))
    assert len(judged) == 5
    assert answers == [401] * 5 + [429] * 15


def test_an_address_that_tries_many_names_waits_too(app):
    client = TestClient(app)
    answers = [client.post("/sign-in", data={"name": f"name {i}", "password": "x"}).status_code for i in range(22)]
    assert answers == [401] * 20 + [429] * 2


def test_few_passwords_are_hashed_at_once(app, monkeypatch):
    at_once, most, lock = 0, 0, threading.Lock()

    def counted(session, name, password):
        nonlocal at_once, most
        with lock:
            at_once += 1
            most = max(most, at_once)
        time.sleep(0.02)
        with lock:
            at_once -= 1

    monkeypatch.setattr(people, "by_password", counted)
    client = TestClient(app)
    with ThreadPoolExecutor(12) as pool:
        list(pool.map(lambda i: client.post("/sign-in", data={"name": f"n{i}", "password": "x"}), range(12)))
    assert most == attempts.HASHING._initial_value


def test_ones_own_password_is_changed_and_other_sessions_end(app):
    here, elsewhere = signed_in(app, "technician"), signed_in(app, "technician")
    new = "another one, long enough"
    form = {"present": PASSWORD, "new": new, "again": new}
    assert here.post("/password", data=form | {"present": "wrong"}).status_code == 422
    assert here.post("/password", data=form | {"again": "not the same at all"}).status_code == 422
    assert here.post("/password", data=form | {"new": "short", "again": "short"}).status_code == 422
    assert here.post("/password", data=form).status_code == 200
    assert here.get("/api/board").status_code == 200
    assert elsewhere.get("/api/board").status_code == 401
    fresh = TestClient(app)
    assert fresh.post("/sign-in", data={"name": "technician", "password": PASSWORD}).status_code == 401
    assert (
        fresh.post("/sign-in", data={"name": "technician", "password": new}, follow_redirects=False).status_code == 303
    )


def test_a_forgotten_password_is_set_on_the_command_line(database, monkeypatch):
    monkeypatch.setenv("VADUM_PASSWORD", PASSWORD)
    assert vadum("user", "add", "m", "--role", "manager", "--database", database).returncode == 0
    monkeypatch.setenv("VADUM_PASSWORD", "quite another one")
    done = vadum("user", "password", "m", "--database", database)
    assert done.returncode == 0, done.stderr
    with TestClient(create_app(database)) as client:
        right = {"name": "m", "password": "quite another one"}
        assert client.post("/sign-in", data=right, follow_redirects=False).status_code == 303
    assert vadum("user", "password", "nobody", "--database", database).returncode == 2


def test_a_role_can_be_changed_and_the_last_manager_stays_one(app):
    manager = signed_in(app, "manager")
    with Session(app.state.engine) as session:
        numbers = {p.name: p.id for p in session.exec(select(Person))}
    reader = signed_in(app, "reader")
    assert reader.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": "void", "reason": "x"}).status_code == 403
    assert manager.post(f"/people/{numbers['reader']}/role", data={"role": "checker"}).status_code == 200
    assert reader.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": "check"}).status_code == 200
    assert manager.post(f"/people/{numbers['manager']}/role", data={"role": "reader"}).status_code == 422
    assert manager.post(f"/people/{numbers['reader']}/role", data={"role": "king"}).status_code == 422


def test_a_session_of_tomorrow_is_refused(app):
    client = signed_in(app, "technician")
    with Session(app.state.engine) as session:
        mine = session.exec(select(SignIn).join(Person).where(Person.name == "technician")).one()
        mine.at = now() + timedelta(days=400)
        session.add(mine)
        session.commit()
    assert client.get("/api/board").status_code == 401


# What is asked for, and what is typed


@pytest.mark.parametrize(
    "address", ["/tests/abc", "/samples/x", "/projects/1e3", "/api/tests/-1/sheet", "/tests/" + "9" * 30]
)
def test_an_address_that_is_none_is_not_found_for_anybody(app, address):
    for name in ("guest", "technician", "manager"):
        assert signed_in(app, name).get(address).status_code == 404, (name, address)


@pytest.mark.parametrize(
    ("address", "form"),
    [
        ("/plan?test={}", None),
        ("/samples/1?with={}", None),
        ("/?tour={}", None),
        ("/board?tour=water-content.{}", None),
        ("/search?q={}", None),
        ("/projects/1", {"name": "Harrow Mere bypass", "seen": "{}"}),
        ("/locations/1/layers", {"seen": "{}"}),
        ("/people", {"name": "new", "role": "reader", "projects": "{}"}),
        ("/projects/1/reports", {"title": "all", "chapters": "tests", "locations": "{}"}),
    ],
)
def test_a_number_of_thousands_of_digits_is_none(app, address, form):
    """Python refuses to read it, with an error of its own."""
    manager, number = signed_in(app, "manager"), "9" * 5000
    if form is None:
        answer = manager.get(address.format(number))
    else:
        answer = manager.post(address, data={name: text.format(number) for name, text in form.items()})
    assert answer.status_code < 500


def test_a_certificate_is_for_those_who_see_its_tests(app):
    with Session(app.state.engine) as session:
        test = session.get(Test, 7)
        piece = Equipment(kind="balance", name="Balance 77")
        session.add(piece)
        session.flush()
        test.uses = [*test.uses, piece]
        session.add(
            Calibration(equipment_id=piece.id, on=now().date(), who="m", certificate_name="c.pdf", certificate=b"%PDF")
        )
        session.commit()
        number = session.exec(select(Calibration.id).where(Calibration.certificate_name == "c.pdf")).one()
    assert signed_in(app, "technician").get(f"/certificates/{number}").status_code == 200
    assert signed_in(app, "guest").get(f"/certificates/{number}").status_code == 404


def test_a_sign_that_cannot_be_kept_is_refused_at_its_field(client):
    reply = client.post("/projects", data={"name": "Wharf\x01"})
    assert reply.status_code == 422
    assert "U+0001" in reply.text
    sheet = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()
    body = {"base_revision": sheet["revision"], "save_key": "key-of-half-a-sign"}
    half = json.dumps(body | {"cells": {"trials.0.left_out": "lumps"}}).replace("lumps", "\\ud800")
    assert (
        client.post(
            f"/api/tests/{LIQUID_LIMIT_U2}/save", content=half, headers={"content-type": "application/json"}
        ).status_code
        == 422
    )
    saved = client.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", json=body | {"cells": {"trials.0.left_out": "lumps\x02"}})
    assert saved.status_code == 200
    row = saved.json()["tables"][0]["rows"][0]
    assert "left" not in row["leftOut"]
    assert client.get(f"/tests/{LIQUID_LIMIT_U2}/readings.xlsx").status_code == 200


def test_a_name_with_a_control_sign_that_is_on_record_breaks_no_workbook(client):
    with Session(client.app.state.engine) as session:
        project = session.get(Project, 1)
        project.locations[0].name = "TP\x014"
        project.locations[0].samples[0].name = "=1|cmd"
        session.add(project)
        session.commit()
    book = openpyxl.load_workbook(io.BytesIO(client.get("/projects/1/results.xlsx").content))
    assert "TP\ufffd4" in [row[0] for row in book["by sample"].iter_rows(values_only=True)]
    for line in client.get("/projects/1/results.csv").text.splitlines():
        assert not re.search(r'(^|,)"?[|=@]', line)


def test_a_database_is_its_owners(database):
    create_app(database)
    assert os.stat(database).st_mode & 0o077 == 0
    done = vadum("backup", database.with_name("copy.sqlite"), "--database", database)
    assert done.returncode == 0
    assert os.stat(database.with_name("copy.sqlite")).st_mode & 0o077 == 0
    with closing(sqlite3.connect(database)) as opened:
        opened.execute("UPDATE project SET note = note")
        for suffix in ("-wal", "-shm"):
            path = database.with_name(database.name + suffix)
            assert not path.exists() or os.stat(path).st_mode & 0o077 == 0


@pytest.mark.parametrize(
    ("address", "form", "status", "words"),
    [
        ("/equipment/tins", {"text": "T-1 21.40", "days": "a year"}, 422, "days: "),
        (f"/tests/{LIQUID_LIMIT_B3}/sample", {"sample_id": "the other one"}, 422, "sample_id: "),
        ("/samples/1/tests", {"method": "dowsing"}, 404, "dowsing"),
    ],
)
def test_what_cannot_be_read_is_said_to_people_on_a_page(client, address, form, status, words):
    reply = client.post(address, data=form)
    assert (reply.status_code, reply.headers["content-type"]) == (status, "text/html; charset=utf-8")
    assert words in unescape(reply.text)

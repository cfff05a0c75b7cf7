"""Records under stress: kill -9, two writers, migrations."""

import http.client
import json
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.request

import pytest
from sqlmodel import Session, col, select

from tests import THOROUGH
from tests.ports import free_port
from tests.waiting import until
from vadum.records.backup import verify
from vadum.records.database import open_database, session_on
from vadum.records.doctor import troubles
from vadum.records.saving import Change, StaleSave, save
from vadum.records.tables import Revision, Sample, Test
from vadum.soil.contract.cells import Sheet, enter
from vadum.soil.methods.liquid_limit.readings import LiquidLimitReadings

PLANNED = 23
HANDS = 4
SAVES, KILLS = (1000, 25) if THOROUGH else (200, 1)


def served(database, port, log):
    command = [sys.executable, "-m", "vadum", "serve", "--database", str(database), "--port", str(port)]
    return subprocess.Popen(command, stdout=log.open("a"), stderr=subprocess.STDOUT)


def test_a_killed_server_keeps_every_acknowledged_reading(database, tmp_path):
    """Four hands type into four sheets, a thousand saves where time allows, while the server is killed again and again
    in the middle of them."""
    with Session(open_database(database)) as session:
        sample = Sample(location_id=1, name="K1", top_m=1, base_m=1.2)
        sample.tests = [Test(method="water-content") for _ in range(HANDS)]
        session.add(sample)
        session.commit()
        typed = [test.id for test in sample.tests]
    port, log = 18000 + os.getpid() % 2000, tmp_path / "log"
    acknowledged: dict[int, list[int]] = {test: [] for test in typed}
    given_up = threading.Event()

    def type_on(test):
        url, revision = f"http://127.0.0.1:{port}/api/tests/{test}/save", 0
        while revision < SAVES // HANDS and not given_up.is_set():
            body = {
                "base_revision": revision,
                "save_key": f"save-{revision:06}",
                "cells": {"determinations.0.mass_tin_wet_g": str(50 + revision)},
            }
            request = urllib.request.Request(url, json.dumps(body).encode(), {"Content-Type": "application/json"})
            try:
                revision = json.load(urllib.request.urlopen(request, timeout=120))["savedAs"]
            except (OSError, http.client.HTTPException):
                time.sleep(0.05)  # the line is down: the same save again, as the page does
                continue
            acknowledged[test].append(revision)

    def count():
        return sum(map(len, acknowledged.values()))

    hands = [threading.Thread(target=type_on, args=(test,), daemon=True) for test in typed]
    server = served(database, port, log)
    try:
        for hand in hands:
            hand.start()
        for kill in range(1, KILLS + 1):
            until(lambda at=kill: count() >= at * SAVES // (KILLS + 1), server, log)
            server.send_signal(signal.SIGKILL)
            server.wait()
            server = served(database, port, log)
        until(lambda: count() >= SAVES, server, log)
    finally:
        given_up.set()
        server.kill()
        server.wait()
        for hand in hands:
            hand.join(25)
    verify(database)
    with Session(open_database(database)) as session:
        assert list(troubles(session)) == []
        for test, revisions in acknowledged.items():
            kept = session.exec(
                select(Revision.number).where(Revision.test_id == test).order_by(col(Revision.number))
            ).all()
            assert revisions == list(range(1, 1 + SAVES // HANDS))
            assert kept == revisions


def test_a_connection_outlives_the_pause_between_two_readings(database, tmp_path):
    """A server that closes it in the moment it is used again loses the reading that was on its way."""
    port, log = free_port(), tmp_path / "log"
    server = served(database, port, log)
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    try:
        until(lambda: answers(line), server, log)
        time.sleep(7)
        # What is closed shows as an empty answer, not as a new connection.
        assert line.sock is not None
        line.auto_open = 0
        assert answers(line)
    finally:
        server.kill()
        server.wait()


def answers(line):
    try:
        line.request("GET", "/api/methods")
        return bool(line.getresponse().read())
    except (OSError, http.client.HTTPException):
        line.close()
        return False


def test_of_two_writers_on_one_revision_one_is_refused(database):
    engine = open_database(database)
    with session_on(engine) as one, session_on(engine) as two:
        first, second = one.get(Test, PLANNED), two.get(Test, PLANNED)
        save(one, first, Change(base_revision=0, who="a", cells={"trials.0.blows": "31"}))
        with pytest.raises(StaleSave) as refused:
            save(two, second, Change(base_revision=0, who="b", cells={"trials.0.blows": "29"}))
        assert refused.value.theirs.readings == {"trials": [{"blows": 31}]}
        assert refused.value.yours.readings == {"trials": [{"blows": 29}]}
        assert refused.value.since[0].who == "a"
    with session_on(engine) as session:
        assert len(session.exec(select(Revision).where(Revision.test_id == PLANNED)).all()) == 1


def test_the_migration_makes_the_tables_the_code_uses(tmp_path):
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext
    from sqlmodel import SQLModel

    engine = open_database(tmp_path / "new.sqlite")
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), SQLModel.metadata) == []
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        assert connection.exec_driver_sql("PRAGMA synchronous").scalar() == 2
        assert connection.exec_driver_sql("PRAGMA foreign_keys").scalar() == 1


def test_entering_keeps_the_given_sheet_untouched_and_drops_empty_tails():
    before = Sheet({"trials": [{"blows": 31}]}, {})
    after = enter(LiquidLimitReadings, before, {"trials.3.tin": "T-1", "trials.0.blows": "x"})
    assert before == Sheet({"trials": [{"blows": 31}]}, {})
    assert after == Sheet({"trials": [{}, {}, {}, {"tin": "T-1"}]}, {"trials.0.blows": "x"})
    cleared = enter(LiquidLimitReadings, after, {"trials.3.tin": "", "trials.0.blows": ""})
    assert cleared == Sheet({}, {})


def test_the_same_save_arriving_twice_at_once_is_no_conflict(database):
    """A page that reloads sends again what is still under way: the second arrival meets the first one's revision."""
    engine = open_database(database)
    change = Change(base_revision=0, who="technician 1", cells={"trials.0.blows": "31"}, save_key="twice-at-once")
    with session_on(engine) as first, session_on(engine) as second:
        late = second.get(Test, PLANNED)
        save(first, first.get(Test, PLANNED), change)
        reduction = save(second, late, change)
        assert late.revision == 1
        assert reduction.reduction.next_action
        assert len(second.exec(select(Revision).where(Revision.test_id == PLANNED)).all()) == 1
        with pytest.raises(StaleSave):
            save(second, late, Change(base_revision=0, who="technician 2", cells={"trials.0.blows": "30"}))

"""Two samples of one name in two projects, and two tests of one sample: nothing that lists them calls them alike."""

import re
from datetime import UTC, datetime

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session

from vadum.demo.builder import Builder
from vadum.records.apart import told_apart
from vadum.records.database import open_database
from vadum.records.tables import Equipment, Project, Sample, Test
from vadum.web.app import create_app


def bare(text):
    """Return what a page says, with single spaces."""
    return " ".join(re.sub(r"<[^>]+>", " ", text).split())


BEGUN = {"started_at": datetime(2026, 11, 2, 8, tzinfo=UTC).isoformat()}


@pytest.fixture
def laboratory(tmp_path):
    """Hydrometers under way on B1 of TP1 in two projects, two of them on one; one on a sample of its own name."""
    path = tmp_path / "lab.sqlite"
    with Session(open_database(path)) as session:
        lab = Builder(session)
        for project, name, count in (("Mill race", "TP1", 1), ("Ford bridge", "TP1", 2), ("Ford bridge 2", "TP9", 1)):
            pit = lab.location(lab.add(Project(name=project)), name, "test pit", 3.0, ((3.0, "clay"),))
            sample = lab.sample(pit, "B1", "bag", 0.5, 0.8, 9000, "clay")
            for _ in range(count):
                session.add(Test(method="hydrometer", sample_id=sample.id, state="running", kept=BEGUN))
        session.commit()
    return path


CALLED = ["TP1 B1, Mill race", "TP1 B1 (test 2), Ford bridge", "TP1 B1 (test 3), Ford bridge", "TP9 B1"]


def test_what_is_alike_says_its_project_or_its_number_and_nothing_else_does(laboratory):
    with Session(open_database(laboratory)) as session:
        tests = [session.get(Test, number) for number in (1, 2, 3, 4)]
        assert list(told_apart(tests).values()) == CALLED
        assert told_apart([tests[0], tests[3]]) == {1: "TP1 B1", 4: "TP9 B1"}
        # A test of another method on the same sample is told by its method.
        tests[2].method = "water-content"
        assert told_apart(tests[1:3]) == {2: "TP1 B1", 3: "TP1 B1"}
        assert told_apart(tests, projects=True)[4] == "TP9 B1, Ford bridge 2"


def test_board_plan_and_run_call_them_by_what_tells_them_apart(laboratory):
    with TestClient(create_app(laboratory)) as client:
        lines = [line for part in client.get("/api/board").json()["parts"] for line in part["lines"]]
        assert {(line["test"], line["place"]) for line in lines} == set(enumerate(CALLED, 1))
        ticked = bare(client.get("/plan").text)
        assert all(bare(f"{name}, Hydrometer analysis") in ticked for name in CALLED)
        drawn = client.post("/api/plan", json={"tests": [1, 2, 3, 4], "width": 900}).json()["svg"]
        beside = re.findall(r'class="tl-hour"[^>]*>([^<\d][^<]*)<', drawn)
        assert beside == ["Mill race", "(test 2), Ford bridge", "(test 3), Ford bridge"]
        # One alone on the plan is still called as the others of its name are under way.
        alone = client.post("/api/plan", json={"tests": [1], "width": 900}).json()
        assert {line["test"] for line in alone["lines"]} == {"TP1 B1, Mill race, Hydrometer analysis"}
        run = client.get("/tests/1/run").text
        assert re.findall(r'"name": "(T[^"]*)"', run) == CALLED


def test_lists_of_tests_and_the_search_say_it_too(laboratory):
    with TestClient(create_app(laboratory)) as client:
        under_way = bare(client.get("/").text)
        assert all(bare(f"Hydrometer analysis {name}") in under_way for name in CALLED)
        found = client.get("/search?q=B1").text
    # Whoever searches sees the first of years: every line says its project.
    tests, _, samples = found.partition("<h2>Samples</h2>")
    for project, count in (("Mill race", 1), ("Ford bridge 2", 1)):
        assert tests.count(f", {project}") == count
        assert samples.count(project) >= count


def test_the_project_that_a_line_says_finds_its_tests(laboratory):
    with TestClient(create_app(laboratory)) as client:
        found = bare(client.get("/search?q=B1+ford+hydrometer").text)
        assert re.findall(r"TP\d B1 \(test (\d)\), Ford bridge", found) == ["3", "2"]
        assert "TP9 B1, Ford bridge 2" in found
        assert "Mill race" not in found
        with Session(open_database(laboratory)) as session:
            session.add(Test(method="vane", location_id=1, state="running"))
            session.commit()
        assert "Vane shear TP1, Mill race" in bare(client.get("/search?q=vane+mill").text)


def test_a_sample_of_no_test_is_found_with_its_project(laboratory):
    with Session(open_database(laboratory)) as session:
        session.add(Sample(location_id=1, name="K7", kind="bag", top_m=1.0, base_m=1.2))
        session.commit()
    with TestClient(create_app(laboratory)) as client:
        assert re.search(r"K7</a>\s*<span[^>]*>[^<]*Mill race", client.get("/search?q=K7").text)


def test_an_inspection_says_which_piece_it_looks_at(laboratory):
    with Session(open_database(laboratory)) as session:
        for name in ("Cup 1", "Cup 2"):
            session.add(cup := Equipment(name=name, kind="cup"))
            session.flush()
            session.add(Test(method="cup-inspection", equipment_id=cup.id, state="reduced"))
        session.commit()
    with TestClient(create_app(laboratory)) as client:
        waiting = bare(client.get("/board").text)
    assert "Cup inspection Cup 1" in waiting
    assert "Cup inspection Cup 2" in waiting

"""Duplicates: what a laboratory repeats to, its control chart, and the uncertainty that follows."""

import re
from datetime import UTC, datetime, timedelta
from math import nan, sqrt

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from vadum.demo.builder import Builder
from vadum.records.database import open_database
from vadum.records.duplicates import REFERENCE
from vadum.records.saving import Change, save
from vadum.records.states import move
from vadum.records.tables import Check, Project, Test
from vadum.soil.uncertainty.duplicates import Repeated, control_chart, differences, own_hand, repeats_to
from vadum.soil.uncertainty.reference import lines_by, reference_chart
from vadum.web.app import create_app

DAY = datetime(2026, 3, 1, tzinfo=UTC)
# Pairs of water contents in percent of 10.00 g of dry soil; the third of the ninth sample is far off.
PAIRS = [(20.0, 20.4), (31.0, 30.4), (15.0, 15.1), (42.0, 42.8), (25.0, 24.7), (18.0, 18.2), (36.0, 35.5), (22.0, 22.6)]


def repeated(sample, day, value, who="technician 1"):
    return Repeated(sample, day, DAY + timedelta(days=day), who, value)


def test_the_standard_deviation_of_one_test_by_differences_of_two():
    groups = [[repeated("a", 1, 10.0), repeated("a", 2, 10.4)], [repeated("b", 3, 20.0), repeated("b", 4, 19.7)]]
    found = differences(groups, share=False)
    assert [one.difference for one in found] == pytest.approx([0.4, -0.3])
    assert repeats_to(found) == pytest.approx(sqrt((0.16 + 0.09) / 4))  # ISO 5725-2: sum d^2 / 2 n
    assert differences(groups, share=True)[1].difference == pytest.approx(-0.3 / 19.85)


def test_eight_duplicates_say_something_and_seven_do_not():
    groups = [[repeated(str(k), 2 * k, 50.0), repeated(str(k), 2 * k + 1, 51.0)] for k in range(8)]
    found = differences(groups, share=False)
    assert own_hand(found[:7], 50.0, "%", share=False) is None
    own = own_hand(found, 50.0, "%", share=False)
    assert own.standard == pytest.approx(1 / sqrt(2))
    assert own.freedom == 8
    assert "own 8 duplicates" in own.source


def test_the_chart_has_lines_at_two_and_three_standard_deviations_of_a_difference():
    groups = [[repeated(str(k), 2 * k, 50.0), repeated(str(k), 2 * k + 1, 50.0 + k)] for k in range(5)]
    figure = control_chart(differences(groups, share=False), 1.0, "LL", "%", share=False)
    assert {line.key: line.points[0][1] for line in figure.lines} == pytest.approx(
        {"warning-1": 2.828, "warning--1": -2.828, "action-1": 4.243, "action--1": -4.243}, abs=1e-3
    )
    assert "0 beyond the action lines" in figure.description
    assert [mark.y for mark in figure.series[0].marks] == [0, 1, 2, 3, 4]


@pytest.fixture(scope="module")
def laboratory(tmp_path_factory):
    path = tmp_path_factory.mktemp("twice") / "lab.sqlite"
    with Session(open_database(path)) as session:
        lab = Builder(session)
        pit = lab.location(lab.add(Project(name="Mill race")), "TP1", "test pit", 3.0, ((3.0, "clay"),))
        for k, pair in enumerate(PAIRS):
            sample = lab.sample(pit, f"B{k + 1}", "bag", 0.3 * k + 0.1, 0.3 * k + 0.3, 9000, "clay")
            for w, who in zip(pair, ("technician 1", "technician 2"), strict=True):
                weighed(session, sample, w, who)
    return path


def weighed(session, sample, water_percent, who, *, checked=True):
    """Dry 50 g of soil, have it checked."""
    test = Test(method="water-content", sample_id=sample.id)
    session.add(test)
    session.commit()
    row = {"mass_tin_g": "20.00", "mass_tin_wet_g": f"{70 + water_percent / 2:.2f}", "mass_tin_dry_g": "70.00"}
    cells = {f"determinations.0.{name}": text for name, text in (row | {"drying_h": "17"}).items()}
    save(session, test, Change(test.revision, who, cells=cells))
    move(session, test, "done", who=who)
    if checked:
        move(session, test, "check", who="checker")
    return test.id


def test_own_duplicates_come_before_the_published_figure_and_are_drawn(laboratory):
    with TestClient(create_app(laboratory)) as client:
        said = client.get("/duplicates").text
        assert "Control chart" in said
        assert said.count("technician 2</td>") == len(PAIRS)
        assert "counts" in said
        assert "ASTM D2216" in said
        own = sqrt(sum((2 * (b - a) / (a + b)) ** 2 for a, b in PAIRS) / (2 * len(PAIRS)))
        known = client.get("/api/tests/1/uncertainty").json()["results"][0]
        assert known["hand"]["standard"] == pytest.approx(20.0 * own, rel=1e-3)
        assert known["hand"]["source"].endswith("(own 8 duplicates)")
        # Eight degrees of freedom: t of about 2.37 at 95.45 percent (GUM table G.2).
        assert known["k"] == pytest.approx(2.37, abs=0.01)
        nobody = client.get("/duplicates?method=water-content&result=water_content&who=nobody").text
        assert "technician 2</td>" not in nobody


def test_a_difference_beyond_action_asks_for_a_third_test(laboratory, tmp_path):
    with Session(open_database(laboratory)) as session:
        sample = session.get(Test, 1).sample
        far = weighed(session, sample, 30.0, "technician 2")
    with TestClient(create_app(laboratory)) as client:
        assert "test a third time before either is reported" in client.get("/duplicates").text
    with Session(open_database(laboratory)) as session:
        # Open again, it is no duplicate of anything.
        move(session, session.get(Test, far), "reopen", who="manager", reason="the wrong bag")
    with TestClient(create_app(laboratory)) as client:
        assert "test a third time before either is reported" not in client.get("/duplicates").text


def test_nothing_tested_twice_is_said_and_how_to_begin(tmp_path):
    path = tmp_path / "lab.sqlite"
    open_database(path)
    with TestClient(create_app(path)) as client:
        assert "No sample was tested twice" in client.get("/duplicates").text


# A soil at 25 % tested ten times: eight to learn from, one drifting, one far off.
WATCHED = [25.0, 25.2, 24.9, 25.1, 24.8, 25.0, 25.2, 25.0, 25.5, 26.2]


def test_the_lines_of_a_reference_soil_are_by_its_first_tests_alone():
    """ISO 7870-2: mean distance of two in a row over 1.128: (.2+.3+.2+.3+.2+.2+.2)/7 = 0.2286; 0.2027 of s."""
    tests = [repeated("R", k, value) for k, value in enumerate(WATCHED)]
    lines = lines_by(tests)
    assert (lines.centre, lines.spread) == pytest.approx((25.025, 0.20263), abs=1e-4)
    assert lines_by(tests[:8]) == lines, "later tests do not move them"
    assert lines_by(tests[:7]) is None
    assert lines_by([repeated("R", k, 25.0) for k in range(9)]) is None
    assert [lines.beyond(value) for value in WATCHED[-3:]] == ["", "warning", "action"]
    figure = reference_chart(tests, lines, "w", "%")
    assert {line.key: line.points[0][1] for line in figure.lines}["action-1"] == pytest.approx(
        25.025 + 3 * 0.20263, abs=1e-3
    )
    assert "1 beyond the action lines" in figure.description
    assert reference_chart(tests[:3], None, "w", "%").lines == []


def test_a_reference_soil_is_watched_by_everybody_and_by_each(tmp_path):
    path = tmp_path / "lab.sqlite"
    with Session(open_database(path)) as session:
        lab = Builder(session)
        shelf = lab.location(
            lab.add(Project(name="The laboratory's own")), "Shelf", "test point", 1.0, ((1.0, "clay"),)
        )
        soil = lab.sample(shelf, "R1", REFERENCE, 0.0, 0.1, 90000, "clay, mixed")
        other = lab.sample(shelf, "B1", "bag", 0.2, 0.3, 9000, "clay")
        for k, w in enumerate(WATCHED):
            weighed(session, soil, w, f"technician {1 + k % 2}")
        weighed(session, other, 60.0, "technician 1")
        weighed(session, soil, 70.0, "technician 1", checked=False)
    with TestClient(create_app(path)) as client:
        said = client.get("/duplicates/reference").text
        assert said.count("technician 1</td>") == said.count("technician 2</td>") == 5
        assert said.count("beyond action: find out why") == 1
        assert said.count("beyond warning") == 1
        assert "60" not in re.findall(r'class="mono" href="[^"]*">([\d.]+)<', said)
        own = client.get("/duplicates/reference?method=water-content&result=water_content&who=technician+1").text
        assert "technician 2</td>" not in own
        whose = [re.search(r'aria-label="Whose".*?</form>', page, re.DOTALL)[0] for page in (said, own)]
        assert "selected" not in whose[0], "everybody is chosen, not who is signed in"
        assert "<option selected>technician 1</option>" in whose[1]
        assert "beyond warning" in own, "lines are by everybody's first tests"
        # A sample tested again and again is one tested twice, too.
        assert client.get("/duplicates").text.count("technician") >= 9


def test_before_there_is_a_reference_soil_the_page_says_how_to_begin(tmp_path):
    path = tmp_path / "lab.sqlite"
    open_database(path)
    with TestClient(create_app(path)) as client:
        said = client.get("/duplicates/reference").text
        assert "Add a sample of the kind “reference soil”" in said
        assert '<svg class="vf"' not in said


def test_a_check_with_a_number_that_is_none_is_read_all_the_same(laboratory):
    """What was frozen may hold NaN, which SQLite's own functions for JSON refuse."""
    with Session(open_database(laboratory)) as session:
        checks = session.exec(select(Check)).all()
        for check in checks:
            check.result = check.result | {"computed": {"trials.0.a": nan}}
            session.add(check)
        session.commit()
    assert len(checks) > 2
    with TestClient(create_app(laboratory)) as client:
        told = client.get("/duplicates")
    assert told.status_code == 200
    assert "No sample was tested twice" not in told.text

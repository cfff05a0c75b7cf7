"""Duplicates: what a laboratory repeats to, its control chart, and the uncertainty that follows."""

from datetime import UTC, datetime, timedelta
from math import sqrt

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session

from vadum.demo.builder import Builder
from vadum.records.database import open_database
from vadum.records.saving import Change, save
from vadum.records.states import move
from vadum.records.tables import Project, Test
from vadum.soil.uncertainty.duplicates import Repeated, control_chart, differences, own_hand, repeats_to
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

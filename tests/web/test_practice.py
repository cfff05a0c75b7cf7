"""Practice: hidden soils on the virtual bench, mistakes planted, caught or missed, and never a record."""

import re
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session, select

from tests.ports import free_port
from tests.web.hands import save, take
from vadum.instruments.port import Identity
from vadum.records import practice
from vadum.records.database import open_database
from vadum.records.tables import Test
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.registry import METHODS
from vadum.web.app import create_app
from vadum.web.taking import usual_bindings


@pytest.fixture
def lab(database):
    with TestClient(create_app(database, free_port())) as client:
        yield client


def begin(client, method, mistakes=0, speed=60):
    reply = client.post(
        "/practice", data={"method": method, "speed": speed, "mistakes": mistakes}, follow_redirects=False
    )
    return int(re.search(r"/tests/(\d+)/run", reply.headers["location"])[1])


def fill(client, test, method, *, skip=()):
    """Take every reading the bench offers, in the order of the cells, and save them."""
    readings = practice_readings(test, client)
    cells = {}
    for path in paths_of(readings):
        if path not in skip:
            cells |= take(client, test, path)["cells"]
    return save(client, test, cells=cells)


def handed_in(client, test):
    """Hand it in; return the page that tells the truth."""
    return client.post(f"/practice/{test}/hand-in").text


def paths_of(readings):
    for name, value in readings.model_dump(mode="json", exclude_none=True).items():
        if isinstance(value, list):
            yield from (f"{name}.{i}.{key}" for i, row in enumerate(value) for key in row)
        else:
            yield name


def practice_readings(test, client):
    with Session(client.app.state.engine) as session:
        return practice.hidden(session.get(Test, test), planted=True)


@pytest.mark.parametrize(
    "method", ["water-content", "liquid-limit", "sieve", "compaction", "ring-density", "particle-density"]
)
@pytest.mark.parametrize("seed", [3, 4])  # a fine and a coarse soil: they show different parameters
def test_a_careful_hand_finds_the_truth(lab, method, seed, monkeypatch):
    monkeypatch.setattr("vadum.web.pages.practice.routes.secrets.randbelow", lambda _: seed)
    test = begin(lab, method)
    sheet = fill(lab, test, method)
    assert sheet["verdict"]["complete"]
    assert sheet["findings"] == []
    page = handed_in(lab, test)
    offs = [abs(float(off)) for off in re.findall(r"([+-]\d+\.\d) %\s*</td>", page)]
    assert offs
    assert max(offs) < 5
    assert re.search(r">\s*Passed\s*<", page)


def spoilt(lab, mistake="unit-slip"):
    """Begin a water content with a planted mistake and take every reading the bench offers."""
    test = begin(lab, "water-content")
    with Session(lab.app.state.engine) as session:
        row = session.get(Test, test)
        row.practice = row.practice | {"mistakes": [mistake]}
        session.add(row)
        session.commit()
    sheet = fill(lab, test, "water-content")
    assert sheet["verdict"]["stop"]
    return test


def test_a_planted_mistake_that_stands_is_missed(lab):
    test = spoilt(lab)
    before = lab.get(f"/practice/{test}").text
    assert "One mass is typed in mg" not in before, "hidden until it is handed in"
    assert "Not finished" not in before or "not passed" in before
    page = handed_in(lab, test)
    assert "missed: nothing was done about it" in page
    assert "One mass is typed in mg" in page
    assert "Not passed" in page


def test_a_planted_mistake_is_caught_by_measuring_the_cell_again(lab):
    test = spoilt(lab)
    sheet = save(lab, test, cells=take(lab, test, "determinations.0.mass_tin_wet_g")["cells"])
    assert not sheet["verdict"]["stop"]
    assert re.search(r">\s*caught\s*<", handed_in(lab, test))


def test_what_is_handed_in_stays_as_it_is(lab):
    test = spoilt(lab)
    handed_in(lab, test)
    sheet = lab.get(f"/api/tests/{test}/sheet").json()
    assert sheet["locked"]
    body = {"base_revision": sheet["revision"], "save_key": "too-late-1", "cells": {"determinations.0.tin": "9"}}
    reply = lab.post(f"/api/tests/{test}/save", json=body)
    assert reply.status_code == 423
    assert "This is handed in" in reply.json()["message"]
    again = handed_in(lab, test)
    assert "Not passed" in again
    assert "hand it in" not in again.casefold()


def test_a_setting_that_hides_a_finding_catches_nothing(lab):
    """Only something done to the reading counts, whatever became of the warning."""
    test = spoilt(lab)
    with Session(lab.app.state.engine) as session:
        row = session.get(Test, test)
        quiet = Reduction()
        practice.hand_in(row, quiet, [], "technician 1")
        outcome = practice.handed_in(row).outcomes[0]
    assert outcome.said
    assert not outcome.caught


def test_practice_is_nowhere_among_the_records(lab):
    before = lab.get("/api/board").json()["parts"], lab.get("/").text, lab.get("/plan").text
    test = begin(lab, "hydrometer", mistakes=2)
    link = f"/tests/{test}"
    after = lab.get("/api/board").json()["parts"], lab.get("/").text, lab.get("/plan").text
    assert [len(p["lines"]) for p in after[0]] == [len(p["lines"]) for p in before[0]]
    assert link not in after[1]
    assert f'value="{test}"' not in after[2]
    assert link in lab.get("/practice").text
    assert lab.get("/practice/1").status_code == 404  # a record is not practice
    assert (
        "not a record" in lab.get(f"/tests/{test}/bench.json").text
        or lab.get(f"/tests/{test}/sheet.pdf").status_code == 200
    )


def test_the_register_of_tins_does_not_reach_the_virtual_bench(lab):
    test = begin(lab, "water-content")
    save(lab, test, cells={"determinations.0.tin": "T-01"})
    assert not lab.get(f"/api/tests/{test}/sheet").json()["tables"][0]["rows"][0]["cells"]["mass_tin_g"]["supplied"]


def test_a_soil_with_hardly_any_clay_is_not_asked_for_more_than_a_curve_can_be_read_to():
    """1.25 % of clay for 1.08 % is a hand's work: a twentieth of it, 0.05 %, no hydrometer shows."""
    found = Parameter(key="clay_percent", symbol="clay size", name="", value=1.25, text="1.3", unit="%")
    judged = practice._value_of("clay_percent", 1.08, Reduction(parameters=[found]), None)
    assert (judged.within, judged.limit) == (True, 0.5)
    assert not practice._value_of("clay_percent", 1.9, Reduction(parameters=[found]), None).within


@pytest.mark.parametrize(("method", "followed"), [("cbr-in-situ", 10), ("hydrometer", 60), ("unconfined", 600)])
def test_a_clock_runs_no_faster_than_a_hand_can_follow(lab, method, followed):
    test = begin(lab, method, speed=600)
    assert lab.get(f"/api/tests/{test}/sheet").json()["practice"]["speed"] == followed


def test_the_bench_has_its_own_time():
    test = practice.begin(METHODS["hydrometer"], 5, 60.0, 0)
    from datetime import datetime

    epoch = datetime.fromisoformat(test.practice["epoch"])
    assert practice.bench_time(test, epoch + timedelta(seconds=10)) - epoch == timedelta(minutes=10)


def test_a_reading_taken_late_shows_the_suspension_of_that_time():
    test = practice.begin(METHODS["hydrometer"], 5, 60.0, 0)
    rows = practice.hidden(test, planted=False).sedimentation
    at_4, at_8 = rows[2].hydrometer, rows[3].hydrometer
    between = practice.shown_by_bench(test, "sedimentation.2.hydrometer", 6.0)
    assert at_8 < between < at_4
    # Halfway in the logarithm of time between two readings lies halfway between their values.
    assert practice.shown_by_bench(test, "sedimentation.2.hydrometer", float(np.sqrt(4 * 8))) == pytest.approx(
        (at_4 + at_8) / 2
    )
    assert practice.shown_by_bench(test, "sedimentation.2.hydrometer", 4.0) == pytest.approx(at_4)


def test_a_gauge_read_by_eye_shows_its_own_steps(lab):
    """Nobody reads 0.7252446 mm off a gauge of hundredths, wherever between two virtual readings it stands."""
    test = begin(lab, "plate-incremental")
    save(lab, test, cells={"rows.0.pressure_kpa": "50"}, bindings={})
    shown = take(lab, test, "rows.0.gauge_a_mm", minutes=1.37)["cells"]["rows.0.gauge_a_mm"]
    assert re.fullmatch(r"-?\d+\.\d\d", shown)


def test_a_plate_goes_on_sinking_beyond_the_last_load_of_its_soil(lab):
    """The same settlement at every further load said that the ground had become a rock."""
    test = begin(lab, "plate-incremental")
    save(lab, test, cells={f"rows.{i}.pressure_kpa": str(kpa) for i, kpa in enumerate((800, 900, 1000))}, bindings={})
    shown = [
        float(take(lab, test, path, minutes=25)["cells"][path]) for path in (f"rows.{i}.gauge_a_mm" for i in range(3))
    ]
    first, second = np.diff(shown)
    assert first > 1
    assert second == pytest.approx(first, abs=0.02)


def test_only_mistakes_that_can_be_caught_are_planted():
    for method in METHODS.values():
        settings, planted = method.Settings(), set()
        for seed in range(3):
            test = practice.begin(method, seed, 1.0, 3)
            spoilt = method.reduce(practice.hidden(test, planted=True), settings, method.Context())
            names = test.practice["mistakes"]
            planted |= set(names)
            if len(names) == 1:
                assert practice.compare(test, spoilt, []).outcomes[0].stands
        assert bool(planted) == bool(method.mistakes), method.code
    # Without a register of tins nobody can know that the empty mass is another tin's.
    assert all(
        "wrong-tin" not in practice.begin(METHODS["water-content"], s, 1.0, 3).practice["mistakes"] for s in range(9)
    )


def test_old_records_open_with_the_new_columns(database):
    with Session(open_database(database)) as session:
        tests = session.exec(select(Test)).all()
        assert all(test.bindings == {} and test.practice == {} for test in tests)


def test_measuring_everything_twice_costs_and_does_not_count(lab):
    test = begin(lab, "water-content")
    fill(lab, test, "water-content")
    fill(lab, test, "water-content")
    page = re.sub(r"\s+", " ", handed_in(lab, test))
    said = re.search(r"(\d+) of (\d+) readings were measured again: (\d+) min and (\d+) g of soil more", page)
    assert int(said[1]) == int(said[2]) > 4
    assert int(said[3]) > 0
    assert int(said[4]) > 0
    assert "this does not count as passed" in page
    assert re.search(r">\s*Not passed\s*<", page)


def test_one_cell_measured_again_costs_little_and_counts(lab, monkeypatch):
    monkeypatch.setattr("vadum.web.pages.practice.routes.secrets.randbelow", lambda _: 3)
    test = begin(lab, "water-content")
    fill(lab, test, "water-content")
    save(lab, test, cells=take(lab, test, "determinations.0.mass_tin_wet_g")["cells"])
    page = handed_in(lab, test)
    assert "readings were measured again" in page
    assert re.search(r">\s*Passed\s*<", page)


def test_a_gauge_that_is_watched_is_not_measured_again(lab):
    test = begin(lab, "cbr-in-situ", speed=10)
    cells = {"position_1.1.penetration_mm": 0.2}
    for _ in range(5):
        assert lab.post(f"/api/tests/{test}/read", json={"cells": cells, "watching": True}).status_code == 200
    with Session(lab.app.state.engine) as session:
        assert session.get(Test, test).practice["taken"] == []
    take(lab, test, *cells)
    with Session(lab.app.state.engine) as session:
        assert len(session.get(Test, test).practice["taken"]) == 1


def test_a_guided_run_shows_the_step_of_each_reading_and_plants_nothing(lab):
    data = {"method": "liquid-limit", "level": "guided", "mistakes": "3"}
    run = lab.post("/practice", data=data)
    assert "Dry the tins to constant mass and weigh." in run.text
    with Session(lab.app.state.engine) as session:
        test = session.get(Test, int(re.search(r"/tests/(\d+)/run", str(run.url))[1]))
        assert test.practice["mistakes"] == []
    assert 'id="guidance"' not in lab.get(f"/tests/{begin(lab, 'liquid-limit')}/run?one=1").text


def test_a_series_leads_from_soil_to_soil(lab):
    first = lab.post("/practice", data={"method": "water-content", "level": "series"}, follow_redirects=False)
    seen = [int(re.search(r"/tests/(\d+)/run", first.headers["location"])[1])]
    while following := re.search(r'/tests/(\d+)/run[?]one=1">\s*The next soil', handed_in(lab, seen[-1])):
        seen.append(int(following[1]))
    assert len(seen) == len(set(seen)) == 3
    with Session(lab.app.state.engine) as session:
        assert len({session.get(Test, number).practice["seed"] for number in seen}) == 3


def test_the_page_tells_what_one_practised_and_offers_the_next(lab):
    test = begin(lab, "linear-shrinkage")
    before = lab.get("/practice").text
    assert "1 soil" not in before, "nothing counts before it is handed in"
    handed_in(lab, test)
    told = re.sub(r"\s+", " ", lab.get("/practice?method=triaxial").text)
    assert re.search(r"Linear shrinkage</a> <span class=.say.> 1 soil, <span class=.state-bad.>0 passed", told)
    assert re.search(r"value=.triaxial. selected", told)


def test_a_practised_mass_is_bound_to_a_balance_that_can_weigh_it():
    """A pycnometer full of water may be more than a fine balance takes."""
    identities = [balance("fine balance", 0.01, 620), balance("bench balance", 0.01, 8200)]
    method = METHODS["particle-density"]

    def bound(mass_g):
        readings = method.Readings.model_validate({"determinations": [{"mass_water_g": mass_g}]})
        return usual_bindings(method, identities, readings)["determinations.mass_water_g"]

    assert bound(300) == "fine balance / mass"
    assert bound(680.84) == "bench balance / mass"


def balance(name, step, most):
    mass = {"name": "mass", "unit": "g", "resolution": step, "low": -10, "high": most}
    return Identity(name=name, kind="balance", quantities=[mass])


def test_what_is_said_to_be_done_in_practice_is_done_by_the_clock_of_its_bench(lab, database):
    """A day of the room is sixty of the bench: what stands for sixteen hours there stands from the bench's now."""
    test = begin(lab, "liquid-limit")
    with Session(open_database(database)) as session:
        kept = session.get(Test, test)
        epoch = datetime.now(UTC) - timedelta(hours=1)
        kept.practice = kept.practice | {"epoch": epoch.isoformat()}
        session.add(kept)
        session.commit()
    assert lab.post(f"/api/tests/{test}/operations/mix").status_code == 200
    due = {one["key"]: one for one in lab.get(f"/api/tests/{test}/sheet").json()["due"]}
    since = datetime.fromisoformat(due["mix"]["doneAt"]) - epoch
    assert since == pytest.approx(timedelta(hours=60), abs=timedelta(minutes=30))
    assert due["trials"]["standing"] == "later"

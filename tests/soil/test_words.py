"""Timetables, next actions and complaints: what the technician is told, and when."""

import pytest
from pydantic import ValidationError

from vadum.soil.contract.complaint import complaints
from vadum.soil.registry import METHODS

LL, PL, WC, CUP = (METHODS[c] for c in ("liquid-limit", "plastic-limit", "water-content", "cup-inspection"))


def due(method, **settings):
    return {op.key: op.due_min for op in method.timetable(method.Readings(), method.Settings(**settings))}


def test_the_oven_is_due_after_the_least_drying_time():
    assert due(WC)["oven-out"] == 16 * 60
    assert due(WC, least_drying_h=24)["oven-out"] == 24 * 60
    assert due(WC)["weigh-dry"] - due(WC)["oven-out"] == 10


def test_the_microwave_is_due_after_three_minutes_then_one():
    assert (due(WC, drying="microwave")["weigh-1"], due(WC, drying="microwave")["weigh-2"]) == (3, 4)


def test_trials_wait_for_the_seasoning():
    assert due(LL, seasoning="16 h")["trials"] - due(LL, seasoning="30 min")["trials"] == 16 * 60 - 30


@pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
def test_timetables_run_forwards(method):
    times = [op.due_min for op in method.timetable(method.Readings(), method.Settings())]
    assert times == sorted(times)


@pytest.mark.parametrize(
    ("school", "trials", "words"),
    [
        ("multipoint", [], "first trial at 25–35"),
        ("multipoint", [{"tin": "T-1"}], "enter the blows of trial 1"),
        ("multipoint", [{"blows": 31}], "slice across the closed groove"),
        ("multipoint", [{"blows": 12}], "12 blows is below 15: too wet"),
        ("one-point", [], "22–28 blows"),
        ("one-point", [{"blows": 25}], "no water added"),
        ("one-point", [{"blows": 25, "blows_repeat": 26}], "slice across"),
        ("replicated", [], "Determination 1 of 3"),
        ("fall-cone", [], "Next cone trial, 1 of 4"),
        ("fall-cone", [{"penetration_mm": 17}], "drop the cone again"),
        ("fall-cone", [{"penetration_mm": 17, "penetration_repeat_mm": 18.6}], "differ by 1.6 mm"),
        ("fall-cone", [{"penetration_mm": 28}], "above 25: too wet"),
    ],
)
def test_the_next_action_at_the_cup_and_the_cone(school, trials, words):
    assert words in LL.reduce_raw({"trials": trials}, {"school": school}).next_action


@pytest.mark.parametrize(
    ("readings", "words"),
    [
        ({}, "moist soil into a weighed tin"),
        ({"determinations": [{"tin": "A"}]}, "Weigh tin A with the moist soil"),
        ({"determinations": [{"tin": "A", "mass_tin_wet_g": 80}]}, "empty tin A"),
        ({"determinations": [{"tin": "A", "mass_tin_wet_g": 80, "mass_tin_g": 20}]}, "at least 16 h"),
    ],
)
def test_the_next_action_at_the_balance(readings, words):
    assert words in WC.reduce_raw(readings).next_action


def test_the_next_action_while_rolling_and_inspecting():
    assert "portion 1 of 2" in PL.reduce_raw({}).next_action
    assert "portion 1 of 3" in PL.reduce_raw({}, {"portions": "three"}).next_action
    thread = {"tin": "A", "mass_tin_g": 17, "mass_tin_wet_g": 29}
    assert "Dry and weigh A" in PL.reduce_raw({"threads": [thread, thread | {"tin": "B"}]}).next_action
    assert "gauge block" in CUP.reduce_raw({}).next_action
    assert "Measure the worn spot on the cup" in CUP.reduce_raw({"drop_height_mm": 10}).next_action


@pytest.mark.parametrize(
    ("data", "place", "words"),
    [
        ({"trials": [{}, {"blows": 0}]}, "trials.1.blows", "below the least possible, 1"),
        ({"trials": [{"blows": 31.4}]}, "trials.0.blows", "whole number"),
        ({"trials": [{"blows": True}]}, "trials.0.blows", "true and false"),
        ({"trials": [{"mass_tin_g": float("inf")}]}, "trials.0.mass_tin_g", "finite"),
        ({"trials": [{"mass_tin_g": []}]}, "trials.0.mass_tin_g", "number"),
        ({"trials": [{"tin": 5}]}, "trials.0.tin", "must be text"),
        ({"trials": [{}] * 25}, "trials", "longer than 24"),
        ({"trails": []}, "trails", "check the spelling"),
        ({"not_determinable": "no idea"}, "not_determinable", "must be one of"),
    ],
)
def test_complaints_name_the_place(data, place, words):
    with pytest.raises(ValidationError) as refused:
        LL.Readings.model_validate(data)
    (complaint,) = complaints(refused.value)
    assert complaint.place == place
    assert words in complaint.message


def test_a_tin_weighed_again_belongs_to_its_number():
    rows = [{"tin": t, "mass_tin_g": 20, "mass_tin_wet_g": 260, "mass_tin_dry_g": 220} for t in ("A", "B")]
    again = [{"tin": "B", "after_min": 60, "mass_tin_dry_g": 219.98}]
    result = WC.reduce_raw({"determinations": rows, "reweighings": again}, {"drying": "hot-plate"})
    assert [f.cells for f in result.findings] == [["determinations.0.mass_tin_dry_g"]]
    assert result.computed["determinations.1.water_content_percent"] == pytest.approx(100 * 40.02 / 199.98)


def test_a_tin_that_gains_mass_took_up_moisture():
    row = {"tin": "A", "mass_tin_g": 20, "mass_tin_wet_g": 120, "mass_tin_dry_g": 100}
    result = WC.reduce_raw(
        {"determinations": [row], "reweighings": [{"mass_tin_dry_g": 100.5}]}, {"drying": "microwave"}
    )
    (finding,) = result.findings
    assert "gained 0.50 %" in finding.message
    assert "took up moisture" in finding.action

"""What run mode at the press and at the plate is told, and what the virtual bench shows there."""

import numpy as np
import pytest

from vadum.soil.contract.method import Operation
from vadum.soil.registry import METHODS
from vadum.soil.virtual.plate_soil import YieldingPlateSoil

STEPS, STATIC, LAB, GROUND = (METHODS[code] for code in ("plate-incremental", "plate-static", "cbr-lab", "cbr-in-situ"))
RAFT = YieldingPlateSoil("straight", yield_kpa=300.0, stiffness_kpa_mm=60.0, steeper=7.0, creep_min=1.2)


def seen(method, readings, **settings):
    chosen = method.Settings(**settings)
    return method.run_view(method.Readings.model_validate(readings), chosen, method.Context())


def row(kpa, minutes, mean):
    return {"pressure_kpa": kpa, "elapsed_min": minutes} | {f"gauge_{g}_mm": mean for g in "abcd"}


def test_the_increments_of_a_plate_are_planned_from_the_estimate():
    plate = seen(STEPS, {"estimate_kpa": 250})["plate"]
    assert plate["step_kpa"] == 50
    # 0.3 m square: 0.09 m2, so 4.5 kN under 50 kPa.
    assert [round(one["per_kpa"] * 50, 1) for one in plate["applied"]] == [4.5]
    assert len(plate["gauges"]) == 4
    assert seen(STEPS, {})["plate"]["step_kpa"] is None


def test_a_stage_is_held_by_its_schedule_then_hourly():
    plate = seen(STEPS, {"estimate_kpa": 250, "rows": [row(50, 1, 0.5), row(50, 2.25, 0.62)]})["plate"]
    assert (plate["dues"], plate["then_every"]) == ([1.0, 2.25, 4.0, 6.25, 9.0, 16.0, 25.0], 60.0)
    assert plate["decision"].startswith("Hold this load")
    assert not plate["may_go"]
    rows = [row(50, 25, 0.9), row(50, 60, 0.9), row(50, 120, 0.901)]
    assert seen(STEPS, {"estimate_kpa": 250, "rows": rows})["plate"]["may_go"]
    # Two readings tell no rate.
    assert not seen(STEPS, {"estimate_kpa": 250, "rows": rows[1:]})["plate"]["may_go"]


def test_a_gauge_that_was_read_once_stays_offered():
    two = {"pressure_kpa": 50, "elapsed_min": 1, "gauge_a_mm": 0.4, "gauge_c_mm": 0.5}
    one = {"elapsed_min": 2.25, "gauge_a_mm": 0.6}
    assert [name for name, _ in seen(STEPS, {"rows": [two, one]})["plate"]["gauges"]] == ["gauge_a_mm", "gauge_c_mm"]


def test_repeated_loading_is_told_its_hold_its_way_back_and_its_jack():
    readings = STATIC.begin(STATIC.Settings(), None) | {"piston_cm2": 38.5}
    plate = seen(STATIC, readings)["plate"]
    assert (plate["dues"], plate["hold_min"], plate["unloading"]) == ([2.0], 2.0, [0.5, 0.25, 0.02])
    # 300 mm round: 0.0707 m2, 5.7 kN under 80 kPa, 15 bar on 38.5 cm2.
    assert [round(one["per_kpa"] * 80, one["decimals"]) for one in plate["applied"]] == [5.7, 15]
    assert seen(STATIC, {"stages": [{"planned_kpa": 80}]}, hold_s=60)["plate"]["dues"] == [1.0]


def test_the_plan_follows_the_plate_until_a_stage_is_read():
    readings = STATIC.begin(STATIC.Settings(), None)
    assert seen(STATIC, readings)["plate"]["planned"] == []
    assert max(seen(STATIC, readings, plate="600 mm")["plate"]["planned"]) == 250
    readings["stages"][0]["gauge_mm"] = 0.4
    assert seen(STATIC, readings, plate="600 mm")["plate"]["planned"] == []


def test_large_plates_are_planned_to_their_own_last_stage():
    for plate, last in (("300 mm", 500.0), ("600 mm", 250.0), ("762 mm", 200.0)):
        stages = STATIC.begin(STATIC.Settings(plate=plate), None)["stages"]
        assert max(s["planned_kpa"] for s in stages) == last
        # The second loading ends at the last but one stage of the first.
        assert stages[-1]["planned_kpa"] == stages[5]["planned_kpa"]


@pytest.mark.parametrize(
    ("method", "runs"), [(LAB, ["Top", "Bottom"]), (GROUND, ["Position 1", "Position 2", "Position 3"])]
)
def test_the_press_is_told_its_rate_and_its_runs(method, runs):
    press = seen(method, method.begin(method.Settings(), None))["press"]
    assert [run["title"] for run in press["runs"]] == runs
    assert press["rate"] == 1.0


@pytest.mark.parametrize(
    ("code", "table", "by", "reading"),
    [
        ("falling-head", "heads", "cylinder", "head_mm"),
        ("well-permeameter", "levels", "head", "level_mm"),
        ("percolation", "levels", "fill", "level_mm"),
        ("soakage-pit", "levels", "fill", "level_mm"),
        ("borehole-permeability", "levels", "fill", "level_m"),
    ],
)
def test_a_level_that_is_left_out_is_none_the_next_is_held_against(code, table, by, reading):
    """30 for 300 mm, left out: the run asked about every level after it."""
    rows = [{by: 1, "elapsed_min": k, reading: level} for k, level in enumerate((0.8, 0.03, 0.7))]
    rows[1]["left_out"] = "a digit lost"
    first = seen(METHODS[code], {table: rows})["levels"]["series"][0]
    assert [level for _, _, level in first["read"]] == [0.8, 0.7]


def test_a_fill_that_is_left_out_keeps_its_number():
    rows = [{"fill": 1, "elapsed_min": 0, "level_mm": 300, "left_out": "the hole fell in"}]
    shown = [one["number"] for one in seen(METHODS["percolation"], {"levels": rows})["levels"]["series"]]
    assert shown[:2] == [1, 2]


def test_the_virtual_press_shows_gauge_and_ring_of_the_same_moment():
    hidden = GROUND.virtual(GROUND.a_soil(np.random.default_rng(4)), GROUND.Settings(), np.random.default_rng(4))
    rate, rows = hidden.rate_measured_mm_min or 1.0, hidden.position_1
    minutes = rows[8].penetration_mm / rate
    shown = [
        GROUND.at_time(hidden, GROUND.Readings(), f"position_1.3.{name}", minutes)
        for name in ("penetration_mm", "ring_div")
    ]
    assert shown == [rows[8].penetration_mm, rows[8].ring_div]
    assert GROUND.at_time(hidden, GROUND.Readings(), "tins.0.mass_tin_g", minutes) is None


def test_the_virtual_pit_answers_for_the_pressure_that_stands_on_the_sheet():
    hidden = STEPS.virtual(RAFT, STEPS.Settings(), np.random.default_rng(1))
    pressures = sorted({r.pressure_kpa for r in hidden.rows})
    second = pressures[2]  # the unloaded row is the first
    so_far = STEPS.Readings.model_validate({"rows": [row(pressures[1], 1, 0.5), {"pressure_kpa": second}]})
    at = [STEPS.at_time(hidden, so_far, "rows.1.gauge_b_mm", minutes) for minutes in (1.0, 2.0, 4.0)]
    assert at == sorted(at)
    mine = [r.gauge_b_mm for r in hidden.rows if r.pressure_kpa == second]
    assert at[0] == pytest.approx(mine[0], abs=0.02)
    assert STEPS.at_time(hidden, so_far, "rows.1.elapsed_min", 1.0) is None
    assert STEPS.at_time(hidden, STEPS.Readings(), "rows.0.gauge_a_mm", 1.0) is None


@pytest.mark.parametrize("method", list(METHODS.values()), ids=lambda m: m.code)
def test_every_timetable_runs_forward_and_is_done_by_whole_readings(method):
    rng, settings = np.random.default_rng(3), method.Settings()
    empty = method.timetable(method.Readings(), settings)
    keys = [operation.key for operation in empty]
    assert len(keys) == len(set(keys))
    assert all(isinstance(operation, Operation) and operation.tolerance_min >= 0 for operation in empty)
    due = {operation.key: operation.due_min for operation in empty}
    assert all(due[o.key] >= due[o.after] for o in empty if o.after)
    # An inspection and a class are done by a person's word; everything else by its readings.
    whole = method.timetable(method.virtual(method.a_soil(rng), settings, rng), settings)
    if method.code not in ("classification", "cup-inspection"):
        assert sum(operation.done for operation in whole) >= len(whole) - 1, [o.key for o in whole if not o.done]


def test_a_tin_of_which_only_the_dry_mass_was_typed_is_still_shown():
    """Nought slips in where the wet mass was forgotten: the sheet could not be opened any more."""
    rows = [{"tin": "12", "mass_tin_g": 20.0, "mass_tin_dry_g": dry} for dry in (0.0, 41.5)]
    tins = seen(METHODS["water-content"], {"determinations": rows}, drying="microwave")["drying"]["tins"]
    assert [tin["expected"] for tin in tins] == ["below 0.00 g", "below 41.50 g"]

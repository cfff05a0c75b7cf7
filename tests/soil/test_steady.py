"""When the last rates are steady, and fills read one after the other: rules that wells, rings and holes share."""

from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.soil.bench.filling import (
    MOST_FILLS,
    FillRow,
    LevelRow,
    fills_of,
    fills_view,
    number_findings,
    order_findings,
    water_at,
)
from vadum.soil.bench.infiltrating import InfiltrationSettings, for_design, to_temperature, verdict
from vadum.soil.bench.steady import Rate, mean_mm_min, steady_window
from vadum.soil.contract.reduction import Reduction


def rates(*values, every=10.0):
    return [Rate(k, k * every, (k + 1) * every, v) for k, v in enumerate(values)]


def rows(*levels):
    """Return rows of (fill, minutes, level); a blank fill stands for the one above."""
    return [LevelRow.model_validate({"fill": f, "elapsed_min": t, "level_mm": z}) for f, t, z in levels]


@pytest.mark.parametrize(
    ("values", "steady"),
    [
        ((5, 3, 2.05, 1.95, 2.02), True),
        ((5, 3, 2.4, 2.0, 1.7), False),  # goes one way
        ((5, 3, 2.0, 2.6, 2.0), False),  # trembles by more than a tenth either way
        ((2, 2), False),  # too few
        ((0, 0, 0), False),  # nothing moves: no rate
        ((-2, -2, -2), False),  # a scale that goes back
    ],
)
def test_steady_is_alike_and_without_a_drift(values, steady):
    assert bool(steady_window(rates(*values), 3, 10.0)) is steady


def test_the_mean_is_the_fall_over_the_whole_time():
    """10 min at 2 and 30 min at 4 are 140 mm in 40 min."""
    two = [Rate(0, 0.0, 10.0, 2.0), Rate(1, 10.0, 40.0, 4.0)]
    assert mean_mm_min(two) == pytest.approx(3.5)
    assert mean_mm_min([]) is None


@given(st.lists(st.floats(0.1, 50), min_size=3, max_size=12), st.floats(0.01, 100))
def test_steadiness_knows_no_unit(values, scale):
    here = steady_window(rates(*values), 3, 10.0)
    there = steady_window(rates(*(scale * v for v in values)), 3, 10.0)
    assert [r.row for r in here] == [r.row for r in there]


@given(st.lists(st.floats(0.1, 50), min_size=3, max_size=12))
def test_what_came_before_the_last_does_not_count(values):
    assert bool(steady_window(rates(*values), 3, 10.0)) == bool(steady_window(rates(*values)[-3:], 3, 10.0))


def test_a_blank_fill_is_the_one_above():
    first, second = fills_of(rows((None, 0, 100), (None, 5, 120), (2, 0, 101), (None, 5, 119)))
    assert (first.number, first.rows, first.level.tolist()) == (1, [0, 1], [100, 120])
    assert (second.number, second.rows) == (2, [2, 3])
    assert second.cell(1) == "levels.3.level_mm"
    assert first.in_order


def test_rows_without_a_time_a_level_or_left_out_are_passed_over():
    read = rows((1, 0, 100), (None, 5, 120), (None, None, 130), (None, 9, None))
    read.append(LevelRow.model_validate({"elapsed_min": 12, "level_mm": 140, "left_out": "splashed"}))
    (fill,) = fills_of(read)
    assert fill.minutes.tolist() == [0, 5]


def test_water_is_as_warm_as_when_it_was_read_last():
    fills = [FillRow(temperature_c=12.0), FillRow(), FillRow(temperature_c=14.0, left_out="broken"), FillRow()]
    assert [water_at(fills, k) for k in (1, 2, 3, 4)] == [12.0] * 4
    assert water_at([], 3) is None
    assert water_at([FillRow()], 1) is None


def test_a_number_that_skips_is_asked_about_once_and_at_its_row():
    found = number_findings(rows((1, 0, 100), (None, 5, 120), (3, 0, 101), (None, 5, 119), (4, 0, 100)))
    assert [(f.code, f.cells) for f in found] == [("number-skips", ["levels.2.fill"])]
    assert "2 is not there" in found[0].message
    assert number_findings(rows((1, 0, 1), (2, 0, 1), (1, 9, 1))) == []


@pytest.mark.parametrize(("levels", "rises"), [((100, 120, 150), True), ((150, 120, 100), False)])
def test_water_that_goes_the_right_way_draws_nothing(levels, rises):
    fills = fills_of(rows(*((1 if k == 0 else None, 5 * k, z) for k, z in enumerate(levels))))
    assert order_findings(fills, rises=rises) == []
    assert {f.code for f in order_findings(fills, rises=not rises)} == {"wrong-way"}


def test_a_level_that_stands_and_a_clock_that_goes_back():
    stands = fills_of(rows((1, 0, 100), (None, 5, 120), (None, 10, 120), (None, 15, 120), (None, 20, 120)))
    (finding,) = order_findings(stands, rises=True)
    assert (finding.code, finding.cells) == ("water-stands", ["levels.4.level_mm"])
    back = fills_of(rows((1, 0, 100), (None, 10, 120), (None, 5, 130)))
    (finding,) = order_findings(back, rises=True)
    assert finding.code == "time-back"
    assert finding.cells == ["levels.2.elapsed_min", "levels.1.elapsed_min"]


def test_run_mode_shows_what_is_wanted_and_one_more_than_was_begun():
    at = datetime(2026, 11, 28, 9, 0, tzinfo=UTC)

    def view(levels, least):
        shown = fills_view(rows(*levels), [FillRow(started_at=at)], "water", least, {1: "now"}, "fill", way="rises")
        return shown["levels"]

    nothing = view([], 3)
    assert [s["name"] for s in nothing["series"]] == ["fill 1", "fill 2", "fill 3"]
    begun = view([(3, 0, 100)], 3)
    assert len(begun["series"]) == 4
    full = view([(MOST_FILLS, 0, 100)], 3)
    assert len(full["series"]) == MOST_FILLS
    first = view([(1, 0, 100), (None, 5, None)], 1)["series"][0]
    assert (first["clock"], first["says"], first["way"]) == ("fills.0.started_at", "now", "rises")
    assert first["startedAt"].startswith("2026-11-28T09:00")
    assert first["read"] == [(0, 0.0, 100.0)]


def test_a_rate_in_colder_water_is_slower_by_its_viscosity():
    """Water of 20 degrees has 1.002 mPa s, of 5 degrees 1.519 by the tables of the International Association."""
    assert to_temperature(20.0, 5.0) == pytest.approx(1.002 / 1.519, rel=2e-3)
    assert to_temperature(5.0, 20.0) * to_temperature(20.0, 5.0) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("water", "settings", "keys"),
    [
        (None, {}, ["design_mm_h"]),
        (12.0, {}, ["rate_20", "design_mm_h"]),
        (12.0, {"required_mm_h": 5}, ["rate_20", "design_mm_h", "judged"]),
    ],
)
def test_what_is_said_for_a_design(water, settings, keys):
    chosen = InfiltrationSettings.model_validate(settings)
    result = Reduction()
    for_design(result, 30.0, water, chosen, "temperature_c")
    assert [p.key for p in result.parameters] == keys
    assert result.findings == []


def test_water_that_nobody_measured_is_taken_for_20_degrees_and_asked_about():
    """The sheet says so of a blank temperature; water of 4 degrees has 1.567 mPa s, of 20 degrees 1.002."""
    result = Reduction()
    for_design(result, 30.0, None, InfiltrationSettings(design_c=4), "temperature_c")
    [design] = result.parameters
    assert design.value == pytest.approx(15.0 * 1.002 / 1.567, rel=2e-3)
    assert "water of 4 °C" in design.name
    [asked] = result.findings
    assert (asked.code, asked.severity, asked.cells) == ("water-not-read", "warn", ["temperature_c"])


def test_a_verdict_is_at_the_limit_met():
    assert verdict(8.0, 8.0)[0].text == "meets 8 mm/h"
    assert verdict(np.nextafter(8.0, 0), 8.0)[0].text == "does not meet 8 mm/h"
    assert verdict(8.0, None) == []

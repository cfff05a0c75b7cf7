"""Figures as data: what the flow curve, the cone line and the plasticity chart carry."""

import numpy as np
import pytest

from vadum.soil.physics.plasticity import a_line, u_line
from vadum.soil.registry import METHODS
from vadum.soil.virtual.plastic_soil import PlasticSoil, a_plastic_soil, tin_of_soil

LL, PL = METHODS["liquid-limit"], METHODS["plastic-limit"]
SOIL = PlasticSoil(liquid_limit=47.0, plastic_limit=22.0, flow_index=12.0, natural_water_content=30.0)


def figure(settings=None, mistakes=frozenset(), **changes):
    chosen = LL.Settings(**(settings or {}))
    readings = LL.virtual(SOIL, chosen, np.random.default_rng(8), mistakes)
    for row, reason in changes.get("left_out", {}).items():
        readings.trials[row].left_out = reason
    (drawn,) = LL.reduce(readings, chosen, LL.Context()).figures
    return drawn


def line(drawn, key):
    return next(found for found in drawn.lines if found.key == key)


def test_the_flow_curve_passes_through_its_own_reading():
    drawn = figure()
    (x0, y0), (x1, y1) = line(drawn, "fit").points
    at_25 = y0 + np.log(25 / x0) / np.log(x1 / x0) * (y1 - y0)
    assert drawn.result.x == 25
    assert drawn.result.y == pytest.approx(at_25)
    assert line(drawn, "read-off").points[1] == (25, drawn.result.y)


def test_every_mark_names_its_row_and_lies_inside_the_axes():
    drawn = figure(mistakes=frozenset({"too-dry-trial"}))
    (series,) = drawn.series
    assert sorted(mark.path for mark in series.marks) == [f"trials.{i}" for i in range(4)]
    assert all(drawn.x.low <= m.x <= drawn.x.high and drawn.y.low <= m.y <= drawn.y.high for m in series.marks)
    (outside,) = [m for m in series.marks if not m.in_hand]
    assert outside.label == f"{outside.x:g}, out of range"
    assert outside.x > 35


def test_a_left_out_trial_stays_on_the_figure_and_leaves_the_fit():
    drawn = figure(left_out={0: "lumps"})
    assert [m.path for m in drawn.series[0].marks if m.left_out] == ["trials.0"]
    assert "2 trials" in drawn.caption


def test_handles_sit_on_the_line_and_know_whether_they_were_moved():
    automatic, moved = figure(), figure({"hand_line_dry_percent": 44.0})
    (x0, y0), (x1, y1) = line(automatic, "fit").points
    for handle in automatic.handles:
        assert handle.y == pytest.approx(y0 + np.log(handle.x / x0) / np.log(x1 / x0) * (y1 - y0))
        assert not handle.overridden
    assert {h.setting: h.overridden for h in moved.handles} == {
        "hand_line_wet_percent": False,
        "hand_line_dry_percent": True,
    }
    assert next(h.y for h in moved.handles if h.x == 35) == pytest.approx(44.0)
    assert line(moved, "fit").role == "construction"
    assert "line by hand" in moved.caption


@pytest.mark.parametrize(
    ("school", "window"), [("multipoint", (15, 35)), ("one-point", (22, 28)), ("fall-cone", (15, 25))]
)
def test_the_shaded_window_is_the_schools(school, window):
    (region,) = figure({"school": school}).regions
    assert (min(x for x, _ in region.points), max(x for x, _ in region.points)) == window


def test_the_description_says_what_the_picture_shows():
    drawn = figure()
    assert "Liquid limit read at 25 blows: 47.0 %" in drawn.description
    assert all(f"at {m.x:g}" in drawn.description for m in drawn.series[0].marks)
    assert "none yet" in LL.reduce_raw({}).figures[0].description


def chart(liquid_limit=None, neighbours=()):
    context = {"liquid_limit": liquid_limit, "neighbours": list(neighbours)}
    threads = [tin_of_soil(np.random.default_rng(1), f"T-{i}", 22.0, 9.0) for i in range(2)]
    (drawn,) = PL.reduce_raw({"threads": threads}, None, context).figures
    return drawn


def test_the_plasticity_chart_shows_this_sample_and_its_company():
    drawn = chart(47, [{"label": "B1", "liquid_limit": 38, "plastic_limit": 20}])
    here, company = drawn.series
    assert (here.marks[0].x, here.marks[0].y) == (47, 25)
    assert [(m.label, m.x, m.y) for m in company.marks] == [("B1", 38, 18)]
    assert company.role == "company"
    assert "above the A-line" in drawn.description
    assert "not on the chart" in chart().description


def test_a_non_plastic_neighbour_is_not_drawn():
    assert chart(47, [{"label": "B4", "liquid_limit": 30, "plastic_limit": 30}]).series[1].marks == []


def test_the_chart_grows_with_the_soil():
    assert chart(47).x.high == 100
    wide = chart(180)
    assert wide.x.high > 180
    assert wide.y.high >= 158
    ends = line(wide, "u-line").points[-1]
    assert ends[1] == pytest.approx(float(u_line(ends[0])))


def test_the_silty_clay_zone_is_bounded_by_4_and_7_and_the_a_line():
    (zone,) = chart(47).regions
    assert {y for _, y in zone.points} == {4.0, 7.0}
    right = max(zone.points)
    assert right[1] == pytest.approx(float(a_line(right[0])))


def test_virtual_soils_are_believable():
    rng = np.random.default_rng(3)
    for _ in range(300):
        soil = a_plastic_soil(rng)
        index = soil.liquid_limit - soil.plastic_limit
        assert 0 < soil.plastic_limit < soil.liquid_limit
        assert index < float(u_line(soil.liquid_limit))
        assert soil.water_content_at(25) == pytest.approx(soil.liquid_limit)
        assert soil.water_content_at(15) > soil.water_content_at(35)
        assert soil.water_content_at_penetration(20) == pytest.approx(soil.liquid_limit)


def test_the_virtual_balance_hides_no_more_than_its_resolution():
    rng = np.random.default_rng(3)
    for w in (5.0, 33.3, 180.0):
        tin = tin_of_soil(rng, "T-1", w, 12.0)
        shown = 100 * (tin["mass_tin_wet_g"] - tin["mass_tin_dry_g"]) / (tin["mass_tin_dry_g"] - tin["mass_tin_g"])
        # Each of three weighings is within 0.005 g.
        assert shown == pytest.approx(w, abs=100 * 0.01 / 12 * (1 + w / 100) + 1e-9)


def test_scatter_spreads_the_portions_by_about_its_size():
    rng = np.random.default_rng(3)
    soil = PlasticSoil(47, 22, 12, 30, scatter=0.5)
    assert np.std([soil.portion(40.0, rng) for _ in range(2000)]) == pytest.approx(0.5, rel=0.1)
    assert SOIL.portion(40.0, rng) == 40.0

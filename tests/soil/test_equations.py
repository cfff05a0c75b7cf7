"""Equations against published values, limits and an independent package."""

import numpy as np
import pytest

from vadum.soil.contract.result import Result
from vadum.soil.methods.liquid_limit.equations import flow_curve, liquid_limit_from_flow_curve, one_point_factor
from vadum.soil.methods.water_content.equations import least_specimen_g
from vadum.soil.numbers.fit import line_fit
from vadum.soil.numbers.rounding import significant
from vadum.soil.physics.moisture import mass_change_percent, water_content_percent
from vadum.soil.physics.plasticity import a_line, activity, consistency_index, liquidity_index, u_line

# ASTM D4318, table 1: blows and factor k.
ONE_POINT_TABLE = {
    20: 0.973,
    21: 0.979,
    22: 0.985,
    23: 0.990,
    24: 0.995,
    25: 1.000,
    26: 1.005,
    27: 1.009,
    28: 1.014,
    29: 1.018,
    30: 1.022,
}


def test_one_point_factors_equal_the_published_table():
    blows = np.array(list(ONE_POINT_TABLE))
    assert np.round(one_point_factor(blows), 3).tolist() == list(ONE_POINT_TABLE.values())


def test_water_content_by_hand():
    # 10 g of water in 40 g of dry soil is 25 %.
    assert water_content_percent(70.0, 60.0, 20.0) == pytest.approx(25.0)
    two = water_content_percent(np.array([70.0, 38.62]), np.array([60.0, 31.94]), np.array([20.0, 17.40]))
    assert two == pytest.approx([25.0, 45.94], abs=0.01)


def test_flow_curve_recovers_a_known_line():
    blows = np.array([17, 22, 28, 34])
    line = flow_curve(blows, 60 - 12 * np.log10(blows))
    assert line is not None
    assert (line.slope, line.intercept) == pytest.approx((-12, 60))
    assert liquid_limit_from_flow_curve(line) == pytest.approx(60 - 12 * np.log10(25))


def test_line_fit_agrees_with_scipy():
    from scipy import stats  # takes longer to load than all that is tested here, and every worker collects

    rng = np.random.default_rng(4)
    x, y = rng.uniform(0, 10, 12), rng.uniform(0, 10, 12)
    ours, theirs = line_fit(x, y), stats.linregress(x, y)
    assert ours is not None
    assert (ours.slope, ours.intercept, ours.r_squared) == pytest.approx(
        (theirs.slope, theirs.intercept, theirs.rvalue**2)
    )
    assert ours.doubt_at(0.0) == pytest.approx(theirs.intercept_stderr)


def test_a_line_needs_two_different_x():
    assert line_fit([3.0], [1.0]) is None
    assert line_fit([3.0, 3.0], [1.0, 2.0]) is None


def test_lines_of_the_plasticity_chart():
    # ASTM D2487 figure 3: A-line horizontal at PI 4 to LL 25.5, 21.9 at LL 50; U-line vertical at LL 16 to PI 7.
    assert a_line([10, 25.4, 50, 100]) == pytest.approx([4, 4, 21.9, 58.4])
    assert u_line([16, 50]) == pytest.approx([7.2, 37.8])


def test_indices_at_their_limits():
    assert liquidity_index(24, 24, 30) == 0
    assert liquidity_index(54, 24, 30) == 1
    assert consistency_index(54, 54, 30) == 0
    assert consistency_index(24, 54, 30) == 1
    assert activity(30, 40) == 0.75


# ASTM D2216, table 1: largest particle, least mass in g for 0.1 % and for 1 %.
@pytest.mark.parametrize(
    ("size", "tenth", "whole"),
    [
        (0.4, 20, 20),
        (2, 20, 20),
        (4.75, 100, 20),
        (9.5, 500, 50),
        (19, 2500, 250),
        (37.5, 10000, 1000),
        (75, 50000, 5000),
    ],
)
def test_least_specimen_is_the_published_table(size, tenth, whole):
    assert (least_specimen_g(size, True), least_specimen_g(size, False)) == (tenth, whole)


def test_change_is_of_the_wet_soil():
    assert mass_change_percent(50.10, 50.00, 100.0) == pytest.approx(0.1)


@pytest.mark.parametrize(
    ("value", "text", "reported"),
    [
        (8.911e-6, "8.9e-6", 8.9e-6),
        (9.96e-8, "1.0e-7", 1.0e-7),
        (-3.04e-5, "-3.0e-5", -3.0e-5),
        (0.0001, "0.00010", 0.0001),
        (0.0, "0", 0.0),
        (1234.0, "1200", 1200.0),
        (9.96, "10", 10.0),
        (0.0996, "0.10", 0.1),
        (99.6, "100", 100.0),
    ],
)
def test_two_figures_are_kept_and_a_very_small_number_takes_a_power_of_ten(value, text, reported):
    made = Result("k", "k", "conductivity", "m/s", significant(2)).of(value)
    assert made.text == text
    assert made.reported == pytest.approx(reported)
    assert float(made.text) == made.reported

"""The uncertainty that is printed: by hand, against scatter that is drawn, and as an interval that holds the truth."""

from dataclasses import replace
from math import exp, inf, log, sqrt

import numpy as np
import pytest

from tests import THOROUGH, drawn
from vadum.soil.contract.cells import tables
from vadum.soil.contract.places import columns
from vadum.soil.contract.result import Parameter
from vadum.soil.numbers.scatter import student
from vadum.soil.physics.envelope import envelope
from vadum.soil.physics.plate import deformation_modulus_mpa, modulus_scatter, settlement_curve
from vadum.soil.physics.triaxial import envelope_by_st
from vadum.soil.registry import METHODS
from vadum.soil.uncertainty.combined import Combined, Hand, combined, hand_of
from vadum.soil.uncertainty.constants import READ, typed_constants
from vadum.soil.uncertainty.disturbing import Lead, cells_of
from vadum.soil.uncertainty.words import marked, notes

DRAWS = 200 if THOROUGH else 40
MEASURED = [code for code in METHODS if code not in ("classification", "cup-inspection")]
# Limits, plans, sizes of openings, clocks and counts: no result follows them, or they are exact beside the rest.
EXACT = """
    largest_particle_mm largest_mm temperature_c retained_0_425_mm_percent mass_prepared_g mass_set_aside_g
    seasoning_min rate_drops_per_s split_mm opening_mm due_min elapsed_min elapsed_h read_min day hold_s preload_s
    removed_percent rammer_kg seating_n seating_div check_first_percent check_second_percent surcharge_kg
    water_content_target_percent rate_measured_mm_min rate_mm_min reaction_kn expected_percent depth_m start_m datum_m
    reaction_m planned_kpa pit_width_m footing_width_m estimate_kpa water_below_m t50_min t90_min t100_min
    loosest_g_cm3 densest_g_cm3 minutes_since_cut plane_angle leak_cm3_h full_scale taper_top_deg taper_bottom_deg
    seconds_to_peak turns inner_driven_mm outer_driven_mm water_table_m reach_mm slope_percent offset_mv lime_percent
    thickness_percent base_rebound_percent fines_percent sand_percent gravel_percent uniformity curvature
    passing_2_mm_percent passing_0_425_mm_percent passing_0_075_mm_percent finer_0_05_mm_percent clay_percent
    liquid_limit liquid_limit_oven_dried
"""


def parameter(value, text, unit="%", **more):
    return Parameter(key="x", symbol="x", name="x", value=value, text=text, unit=unit, **more)


def known(value, text, standard, unit="%", hand=None):
    return Combined(parameter(value, text, unit), standard, hand, (), unit == "mm/h")


@pytest.mark.parametrize(
    ("text", "standard", "unit", "printed"),
    [
        ("62", 0.75, "%", "± 2"),  # 1.5 rounded up
        ("24", 1.92, "%", "± 4"),
        ("24.8", 0.9, "°", "± 1.8"),
        ("2.72", 0.0001, "", "± 0.01"),  # never below the last digit of the result
        ("40.9", 1.0, "%", "± 2.0"),  # a whole step is not rounded up to the next
        ("2.2", 0.1, "mm/h", "×/÷ 1.10"),  # exp(2 ln(2.3 / 2.2)) = 1.093
    ],
)
def test_it_is_printed_to_the_place_of_the_result(text, standard, unit, printed):
    assert known(float(text), text, standard, unit).text == printed


def test_scatter_of_few_readings_is_expanded_by_students_t():
    # Alone: t of 4 degrees at 95.45 % is 2.87 (GUM table G.2). Beside an equal one known well: 4 (sqrt 2)^4 = 16.
    hand = Hand(1.0, 4, "scatter")
    assert known(50.0, "50", 0.0, hand=hand).k == pytest.approx(2.87, abs=0.005)
    both = known(50.0, "50", 1.0, hand=hand)
    assert both.freedom == pytest.approx(16)
    assert both.k == pytest.approx(2.17, abs=0.005)
    assert both.expanded == pytest.approx(2.17 * sqrt(2), abs=0.01)
    assert known(50.0, "50", 1.0).k == pytest.approx(2.0, abs=0.001)


def test_the_larger_of_scatter_and_repeatability_counts_and_never_both():
    few = parameter(62.0, "62", doubt=0.2, freedom=3)
    assert hand_of("liquid-limit", replace(few, key="liquid_limit")).standard == pytest.approx(0.012 * 62)
    wide = replace(parameter(62.0, "62", doubt=2.0, freedom=3), key="liquid_limit")
    assert hand_of("liquid-limit", wide).standard == 2.0
    # One degree of freedom estimates nothing.
    assert hand_of("direct-shear", parameter(25.0, "25.0", "°", doubt=0.01, freedom=1)) is None
    # What the laboratory knows of itself comes before what is published.
    own = Hand(0.4, 11, "own duplicates")
    assert hand_of("liquid-limit", replace(few, key="liquid_limit"), own) == own


def test_the_sheet_says_what_is_in_it_and_what_is_not():
    alone = known(25.0, "25.0", 0.1, "°")
    hand, lead = Hand(0.1, 3, "scatter of its readings"), Lead("", "d, ± 2 by default", 1.0)
    by_default = Combined(parameter(5.0, "5.0"), 0.1, hand, (lead,), False)
    assert marked(alone) == "± 0.2 *"
    said = " ".join(notes([alone, by_default]))
    assert "* instruments and constants only" in said
    assert "x by scatter of its readings" in said
    assert "d, ± 2 (one standard uncertainty)" in said
    assert list(notes([])) == []


def test_every_number_that_no_instrument_reads_is_judged():
    exact = set(EXACT.split())
    for method in METHODS.values():
        for one in columns(method.Readings):
            holder = tables(method.Readings)[one.table] if one.table else method.Readings
            number = "float" in str(holder.model_fields[one.name].annotation)
            if number and not one.extra.get("resolution"):
                assert (one.name in READ) != (one.name in exact) or one.name == "hydrometer", (method.code, one.name)


def test_cohesion_and_friction_scatter_together_as_they_are_drawn():
    """Four specimens, each off by 4 kPa at random: spread and correlation of c and tan phi over 4000 lines."""
    rng, sigma = np.random.default_rng(3), np.array([50.0, 100.0, 200.0, 400.0])
    drawn = [envelope(sigma, 10 + 0.5 * sigma + rng.normal(0, 4.0, 4)) for _ in range(4000)]
    c, slope = np.array([d.cohesion_kpa for d in drawn]), np.tan(np.radians([d.friction_deg for d in drawn]))
    # s^2 of four points has two degrees of freedom: its mean over many is right.
    own, steep, both = np.mean([d.covariance for d in drawn], axis=0)
    assert sqrt(own) == pytest.approx(c.std(), rel=0.05)
    assert sqrt(steep) == pytest.approx(slope.std(), rel=0.05)
    assert both == pytest.approx(np.cov(c, slope)[0, 1], rel=0.1)
    assert np.mean([d.correlation for d in drawn]) == pytest.approx(np.corrcoef(c, slope)[0, 1], abs=0.02)
    low, high = zip(*(d.band_at(150.0, student(2)) for d in drawn), strict=True)
    assert np.mean((np.array(low) < 85) & (np.array(high) > 85)) == pytest.approx(0.95, abs=0.015)


def test_the_tangent_of_circles_scatters_as_it_is_drawn():
    rng, s = np.random.default_rng(4), np.array([80.0, 160.0, 320.0, 480.0])
    drawn = [envelope_by_st(s, 8 + 0.45 * s + rng.normal(0, 5.0, 4)) for _ in range(3000)]
    c, slope = np.array([d.cohesion_kpa for d in drawn]), np.tan(np.radians([d.friction_deg for d in drawn]))
    own, steep, both = np.mean([d.covariance for d in drawn], axis=0)
    assert sqrt(own) == pytest.approx(c.std(), rel=0.06)
    assert sqrt(steep) == pytest.approx(slope.std(), rel=0.06)
    assert both == pytest.approx(np.cov(c, slope)[0, 1], rel=0.12)


def test_the_modulus_of_a_plate_scatters_as_its_stages_do():
    """Ev2 of 96 MPa or so over six stages, gauges off by 0.02 mm at random: about 3 MPa, as drawn."""
    rng, sigma = np.random.default_rng(5), np.array([80.0, 160.0, 240.0, 320.0, 400.0, 450.0])
    true = 3.0 + 2.6 * sigma / 1000 - 0.6 * (sigma / 1000) ** 2
    drawn, told = [], []
    for _ in range(3000):
        read = true + rng.normal(0, 0.02, len(sigma))
        _, a1, a2 = settlement_curve(sigma, read)
        drawn.append(deformation_modulus_mpa(a1, a2, 150.0, 500.0))
        told.append(modulus_scatter(sigma, read, 150.0, 500.0).standard)
    assert sqrt(np.mean(np.square(told))) == pytest.approx(np.std(drawn), rel=0.1)


@pytest.mark.parametrize("code", drawn(MEASURED))
def test_the_interval_holds_the_truth(code):
    """Readings rounded, constants off, the test repeated: the 95 % interval holds the value of the clean readings."""
    method, rng = METHODS[code], np.random.default_rng(17)
    settings, context = method.Settings(), method.Context()
    clean = method.virtual(method.a_soil(rng), settings, rng)
    told = [one for one in combined(method, clean, settings, context) if one.parameter.key in method.headline]
    # Scatter of few readings is drawn with them: the lines above prove it.
    told = [one for one in told if one.hand is None or one.hand.freedom == inf]
    inside = {one.parameter.key: [] for one in told}
    for _ in range(DRAWS):
        for key, value in _drawn(method, clean, settings, context, rng).items():
            one = next((one for one in told if one.parameter.key == key), None)
            if one is not None:
                inside[key].append(_holds(one, value + (rng.normal(0, one.hand.standard) if one.hand else 0.0)))
    for one in told:
        held = inside[one.parameter.key]
        assert len(held) > 0.8 * DRAWS, one.parameter.key
        share = np.mean(held)
        assert share >= 0.95 - 3 * sqrt(0.95 * 0.05 / DRAWS), (one.parameter.key, share, one.text)
        # One rectangular source alone is all within two of its standard deviations.
        if THOROUGH and one.hand:
            assert share <= 0.985, (one.parameter.key, share)


def _drawn(method, clean, settings, context, rng):
    readings, settings, context = (one.model_copy(deep=True) for one in (clean, settings, context))
    for cell in cells_of(readings):
        cell.set(cell.value + float(rng.uniform(-0.5, 0.5)) * cell.resolution)
    for one in list(typed_constants(readings, settings, context)):
        off = rng.normal()
        for holder, standard in zip(one.holders, one.standards, strict=True):
            setattr(holder, one.name, getattr(holder, one.name) + off * standard)
    found = method.work_out(readings, settings, context).parameters
    return {p.key: p.value for p in found if p.value is not None}


def _holds(one, value):
    true = one.parameter.value
    if one.as_factor:
        return abs(log(value / true)) <= log(one.factor) if value > 0 else False
    # What is printed is never below the last digit of the result.
    step = 10.0 ** -len(one.parameter.text.partition(".")[2])
    return abs(value - true) <= max(one.expanded, step)


def test_a_factor_is_the_same_up_and_down():
    one = known(2.0, "2.0", 0.2, "mm/h")
    assert one.factor == pytest.approx(exp(2 * log(1.1)), rel=1e-4)

"""Sieves, the grain-size curve, and the joining of both limbs."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests import SOILS
from vadum.soil.bench.grading.fractions import Convention, main_shares
from vadum.soil.bench.grading.sieves import least_specimen_g, most_on_sieve_g, opening_of, out_of_order, sieve_name
from vadum.soil.physics.grading import Curve, curvature, joined, limb_jump, uniformity
from vadum.soil.registry import METHODS
from vadum.soil.virtual.grain_soil import GrainSoil

SIEVE, HYDROMETER = METHODS["sieve"], METHODS["hydrometer"]
STACK = [(4.75, 0.0), (2.0, 50.0), (0.425, 150.0), (0.075, 200.0)]


def stack(**change):
    plain = {
        "mass_dry_g": 500.0,
        "mass_washed_g": 410.0,
        "mass_pan_g": 10.0,
        "largest_particle_mm": 4.75,
        "clods": "none",
        "sieves": [{"opening_mm": d, "mass_retained_g": m} for d, m in STACK],
        "loads": 2,
    }
    return plain | change


def rows(**at):
    changed = stack()["sieves"]
    for number, change in at.items():
        changed[int(number[1:])] |= change
    return changed


def test_percent_finer_by_hand():
    result = SIEVE.reduce_raw(stack())
    # 500 g dry: 50, 200 and 400 g retained so far leave 90, 60 and 20 % finer.
    assert [round(result.computed[f"sieves.{i}.finer_percent"], 6) for i in range(4)] == [100, 90, 60, 20]
    assert result.computed["sieves.2.name"] == "No. 40"
    assert result.findings == []
    assert result.reportable
    values = {p.key: p.value for p in result.parameters}
    assert values["fines_percent"] == pytest.approx(20)
    assert values["sand_percent"] == pytest.approx(80)
    assert values["gravel_percent"] == pytest.approx(0)
    assert values["wash_loss_percent"] == pytest.approx(18)
    # Log-linear between 0.075 mm (20 %) and 0.425 mm (60 %): D30 a quarter of the way.
    assert values["d30_mm"] == pytest.approx(0.075 * (0.425 / 0.075) ** 0.25)
    assert values["d60_mm"] == pytest.approx(0.425)


def test_cumulative_entry_says_the_same():
    so_far = np.cumsum([m for _, m in STACK])
    cumulative = [{"opening_mm": d, "mass_cumulative_g": float(m)} for (d, _), m in zip(STACK, so_far, strict=True)]
    result = SIEVE.reduce_raw(stack(sieves=cumulative, mass_pan_g=410.0), {"entry": "cumulative"})
    assert [round(result.computed[f"sieves.{i}.finer_percent"], 6) for i in range(4)] == [100, 90, 60, 20]
    assert result.findings == []


@pytest.mark.parametrize(
    ("change", "code", "severity"),
    [
        ({"mass_pan_g": 7.0}, "sum-off", "warn"),
        ({"mass_pan_g": 0.0, "sieves": rows(_3={"mass_retained_g": 195.0})}, "sum-off", "stop"),
        ({"sieves": rows(_1={"mass_retained_g": 50_000.0})}, "unit-slip", "stop"),
        ({"sieves": rows(_1={"opening_mm": 0.425}, _2={"opening_mm": 2.0})}, "sieves-out-of-order", "stop"),
        ({"sieves": rows(_2={"opening_mm": 2.0})}, "sieve-twice", "stop"),
        ({"sieves": rows(_1={"mass_retained_g": None})}, "mass-missing", "stop"),
        (
            {"loads": 1, "sieves": rows(_2={"mass_retained_g": 350.0}, _3={"mass_retained_g": 0.0})},
            "sieve-overloaded",
            "warn",
        ),
        ({"sieves": rows(_2={"mass_passed_g": 3.0})}, "still-passing", "warn"),
        ({"clods": "left"}, "clods", "warn"),
        ({"largest_particle_mm": 9.5}, "specimen-small", "warn"),
        ({"mass_washed_g": 510.0}, "washed-heavier", "stop"),
        ({"sieves": rows(_0={"mass_retained_g": 20.0}, _1={"mass_retained_g": 30.0})}, "top-sieve-retains", "warn"),
    ],
)
def test_what_is_wrong_with_a_stack(change, code, severity):
    findings = SIEVE.reduce_raw(stack(**change)).findings
    found = next(f for f in findings if f.code == code)
    assert found.severity == severity
    assert found.action


def test_openings_and_masses_exchanged_are_suspected():
    swapped = [
        {"opening_mm": mass, "mass_retained_g": opening} for opening, mass in ((9.5, 180.5), (4.75, 140.0), (2.0, 60.0))
    ]
    assert "columns-exchanged" in SIEVE.reduce_raw(stack(sieves=swapped)).codes()


def test_a_falling_balance_is_a_wrong_entry_style():
    falling = [{"opening_mm": 2.0, "mass_cumulative_g": 100.0}, {"opening_mm": 1.0, "mass_cumulative_g": 60.0}]
    findings = SIEVE.reduce_raw(stack(sieves=falling), {"entry": "cumulative"}).findings
    found = next(f for f in findings if f.code == "balance-falls")
    assert found.cells == ["sieves.1.mass_cumulative_g"]
    assert "entry style" in found.action


def test_overload_is_said_while_the_soil_is_still_there():
    half = stack(mass_pan_g=None, loads=None, sieves=rows(_2={"mass_retained_g": 230.0}, _3={"mass_retained_g": None}))
    result = SIEVE.reduce_raw(half)
    assert result.codes() == ["sieve-overloaded"]
    assert "Split the specimen into 2 loads" in result.findings[0].action
    assert "0.075 mm sieve; 130.0 g still to come" in result.next_action


@pytest.mark.parametrize(
    ("readings", "words"),
    [
        ({}, "Dry the specimen and weigh it"),
        ({"largest_particle_mm": 19.0}, "at least 5000 g"),
        ({"mass_dry_g": 500}, "Wash over the finest sieve"),
        ({"mass_dry_g": 500, "mass_washed_g": 410}, "Write the sieves, coarsest first"),
        (stack(mass_pan_g=None), "Weigh the pan; 10.0 g still to come"),
        (stack(), "hydrometer test would give it"),
    ],
)
def test_the_next_action_at_the_stack(readings, words):
    assert words in SIEVE.reduce_raw(readings).next_action


def test_sieves_by_number_and_their_limits():
    assert opening_of("No. 40") == opening_of("#40") == opening_of("nr 40") == 0.425
    assert opening_of("4.75") is None
    with pytest.raises(ValueError, match=r"no sieve No\. 33"):
        opening_of("No. 33")
    assert sieve_name(0.075) == "No. 200"
    assert sieve_name(0.063) == "No. 230"
    assert sieve_name(0.06) == ""
    assert SIEVE.Readings.model_validate({"sieves": [{"opening_mm": "No. 10"}, {"opening_mm": "3/8 in"}]}).sieves[
        1
    ].opening_mm == pytest.approx(9.525)
    # ASTM C136: 200 mm frame, 7 kg/m2 below 4.75 mm and 2.5 kg/m2 per mm above.
    assert most_on_sieve_g(2.0, 200) == pytest.approx(219.9, abs=0.1)
    assert most_on_sieve_g(19.0, 200) == pytest.approx(1492, abs=1)
    assert least_specimen_g(9.5, "aggregate") == 1000
    assert least_specimen_g(10.0, "aggregate") == 2000
    assert least_specimen_g(9.5, "soil") == 165
    assert out_of_order([4.75, 2, 2, 0.4, 1]) == [2, 4]


def test_an_iso_stack_divides_at_two_millimetres():
    curve = Curve.through([0.063, 2.0, 63.0], [10, 60, 100])
    assert main_shares(curve, Convention.ISO)["gravel_percent"] == pytest.approx(40)
    unified = main_shares(curve, "unified")
    assert "cobbles_percent" in unified
    assert unified["sand_percent"] < 65


def test_a_gap_graded_soil_keeps_its_gap():
    # Nothing between 0.25 and 4.75 mm: the curve is level there and straight elsewhere.
    curve = Curve.through([0.075, 0.25, 4.75, 19.0], [5, 40, 40, 100])
    assert curve.finer_at(1.0) == pytest.approx(40)
    assert curve.diameter_at(40) == pytest.approx(0.25)
    result = SIEVE.reduce_raw(
        {
            "mass_dry_g": 6000,
            "mass_washed_g": 5700,
            "sieves": [
                {"opening_mm": 19, "mass_retained_g": 0},
                {"opening_mm": 4.75, "mass_retained_g": 3600},
                {"opening_mm": 0.25, "mass_retained_g": 0},
                {"opening_mm": 0.075, "mass_retained_g": 2100},
            ],
        }
    )
    line = next(line for line in result.figures[0].lines if line.key == "curve")
    assert line.points == [(0.075, pytest.approx(5)), (0.25, pytest.approx(40)), (4.75, pytest.approx(40)), (19.0, 100)]


def test_coefficients_by_hand():
    assert uniformity(0.1, 0.6) == pytest.approx(6)
    assert curvature(0.1, 0.3, 0.6) == pytest.approx(1.5)


@given(st.lists(st.tuples(st.floats(1e-4, 100), st.floats(0, 100)), min_size=1, max_size=30))
def test_any_curve_rises_and_gives_back_its_own_points(points):
    curve = Curve.through([d for d, _ in points], [p for _, p in points])
    assert (np.diff(curve.finer_percent) >= -1e-9).all()
    for percent in (10, 50, 90):
        d = curve.diameter_at(percent)
        if d is not None and (np.diff(curve.diameter_mm) > 0).all():
            assert curve.finer_at(d) == pytest.approx(percent, abs=1e-6)


def test_limbs_that_meet_and_limbs_that_do_not():
    coarse = Curve.through([0.075, 0.425, 2.0], [40, 70, 100])
    assert limb_jump(coarse, Curve.through([0.002, 0.02, 0.05], [10, 25, 34])) == pytest.approx(0, abs=1)
    assert limb_jump(coarse, Curve.through([0.002, 0.02, 0.05], [20, 40, 52])) > 5
    assert limb_jump(coarse, Curve.through([0.002, 0.02, 0.05], [2, 4, 6])) < -5
    assert limb_jump(coarse, Curve.through([], [])) is None


def test_two_hundred_soils_come_back_through_both_tests():
    """The joint curve recovers D10, D30 and D60 within 5 % and the limbs meet within 3 %."""
    rng = np.random.default_rng(41)
    worst, jumps, told = dict.fromkeys((10, 30, 60), 0.0), [], 0
    for i in range(SOILS):
        soil = SIEVE.a_soil(rng)
        sieve_settings = SIEVE.Settings(entry=("retained", "cumulative")[i % 2])
        sieved = SIEVE.reduce(SIEVE.virtual(soil, sieve_settings, rng), sieve_settings, SIEVE.Context())
        settings = HYDROMETER.Settings(instrument=("152H", "151H")[i % 2], schedule="dense")
        context = HYDROMETER.Context.model_validate({"sieve_curve": {"points": sieved.curve, "source": "test 1"}})
        settled = HYDROMETER.reduce(HYDROMETER.virtual(soil, settings, rng), settings, context)
        assert sieved.findings == []
        assert settled.findings == []
        limbs = (Curve.through(*zip(*part.curve, strict=True)) for part in (sieved, settled))
        jumps.append(abs(limb_jump(*limbs)))
        for percent in worst:
            if found := settled.parameter(f"d{percent}_mm"):
                told += 1
                worst[percent] = max(worst[percent], abs(np.log(found.value / soil.diameter(percent))))
    assert told > 2.7 * SOILS
    assert max(worst.values()) < 0.05
    assert max(jumps) < 3.0


def test_the_joint_curve_takes_sieves_first():
    coarse, fine = Curve.through([0.075, 2.0], [40, 100]), Curve.through([0.001, 0.05, 0.09], [5, 35, 45])
    both = joined(coarse, fine)
    assert [d for d, _ in both.points] == [0.001, 0.05, 0.075, 2.0]
    apart = joined(coarse, Curve.through([0.001, 0.05], [5, 60]))
    assert [p for _, p in apart.points] == [5, 40, 40, 100]


def test_the_virtual_soil_is_a_distribution():
    soil = GrainSoil(0.1, 0.5, 0.9, 1.0)
    assert soil.finer(1e-9) == pytest.approx(0, abs=0.01)
    assert soil.finer(100) == pytest.approx(100)
    for percent in (5, 50, 95):
        assert soil.finer(soil.diameter(percent)) == pytest.approx(percent, abs=1e-6)


def test_each_planted_mistake_is_caught():
    rng = np.random.default_rng(12)
    soil = GrainSoil(0.2, 0.5, 0.9, 1.2, largest_mm=9.5)
    caught = {
        "soil-lost": "sum-off",
        "overloaded": "sieve-overloaded",
        "out-of-order": "sieves-out-of-order",
        "mass-twice": "sum-off",
        "not-finished": "still-passing",
        "clods-left": "clods",
    }
    assert caught.keys() == SIEVE.mistakes.keys()
    for mistake, code in caught.items():
        readings = SIEVE.virtual(soil, SIEVE.Settings(), rng, frozenset({mistake}))
        assert code in SIEVE.reduce(readings, SIEVE.Settings(), SIEVE.Context()).codes(), mistake

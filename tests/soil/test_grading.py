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


@pytest.mark.parametrize(
    ("entry", "change"),
    [
        # The balance with the pan added shows less than with the last sieve: 500 and 450 g.
        ("cumulative", {"sieves": [{"opening_mm": 2.0, "mass_cumulative_g": 500.0}], "mass_pan_g": 450.0}),
        ("loaded", {"mass_pan_empty_g": 480.0, "mass_pan_g": 450.0}),
    ],
)
def test_nothing_lies_in_a_pan_that_is_lighter_than_before(entry, change):
    result = SIEVE.reduce_raw(stack(**change), {"entry": entry})
    found = next(f for f in result.findings if f.code == "pan-lighter")
    assert found.cells == ["mass_pan_g"]
    assert not result.reportable


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


# ASTM E11, table 1: the sieve of 3 in has openings of 75 mm, not of 76.2; its last column has openings in inches.
@pytest.mark.parametrize(
    ("called", "opening_mm"),
    [
        ("3 in", 75.0),
        ('2 1/2"', 63.0),
        ("2 in", 50.0),
        ("1½ in", 37.5),
        ("1-1/2 in", 37.5),
        ("1.06 in", 26.5),
        ("1 in", 25.0),
        ("¾", 19.0),
        ("0.530 in", 13.2),
        ("1/2", 12.5),
        ("3/8″", 9.5),
        ("1/4 in", 6.3),
        ("0.187 in", 4.75),
        ("0.0331 in", 0.85),
        ("0.0165 in", 0.425),
        ("0.0029 in", 0.075),
        ("7 in", None),
        ("1/2 mm", None),
        ("12.7 mm", None),
        ("1/0", None),
    ],
)
def test_a_sieve_called_in_inches_is_the_one_that_is_made(called, opening_mm):
    assert opening_of(called) == opening_mm


def test_sieves_by_number_and_their_limits():
    assert opening_of("No. 40") == opening_of("#40") == opening_of("nr 40") == 0.425
    assert opening_of("4.75") is None
    with pytest.raises(ValueError, match=r"no sieve No\. 33"):
        opening_of("No. 33")
    assert sieve_name(0.075) == "No. 200"
    assert sieve_name(0.063) == "No. 230"
    assert sieve_name(0.06) == ""
    typed = {"sieves": [{"opening_mm": "No. 10"}, {"opening_mm": "3/8 in"}, {"opening_mm": "12.7"}], "split_mm": "#4"}
    read = SIEVE.Readings.model_validate(typed)
    assert [row.opening_mm for row in read.sieves] == [2.0, 9.5, 12.7]
    assert read.split_mm == 4.75
    # ASTM C136, table 1: a 203.2 mm frame sieves over 0.0285 m2, a 304.8 mm frame over 0.0670 m2; 7 kg/m2 below 4.75 mm
    # and 2.5 kg/m2 per mm above.
    assert most_on_sieve_g(2.0, 203.2) == pytest.approx(7000 * 0.0285, rel=2e-3)
    assert most_on_sieve_g(19.0, 304.8) == pytest.approx(2500 * 19 * 0.0670, rel=2e-3)
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


# A stack read in other ways


WASHED_STACK = {
    "mass_dry_g": 500.0,
    "mass_washed_g": 410.0,
    "mass_pan_g": 10.0,
    "sieves": [
        {"opening_mm": d, "mass_retained_g": m}
        for d, m in ((4.75, 0.0), (2.0, 60.0), (0.425, 150.0), (0.15, 120.0), (0.075, 70.0))
    ],
}


def finer(result):
    return [v for k, v in result.computed.items() if k.endswith("finer_percent")]


def test_a_washed_specimen_without_its_first_mass_cannot_be_reported():
    result = SIEVE.reduce_raw({k: v for k, v in WASHED_STACK.items() if k != "mass_dry_g"})
    found = next(f for f in result.findings if f.code == "total-missing")
    assert found.severity == "stop"
    assert not result.reportable
    dry = {k: v for k, v in WASHED_STACK.items() if k not in ("mass_dry_g", "mass_washed_g")}
    assert {f.severity for f in SIEVE.reduce_raw(dry, {"washing": "dry"}).findings if f.code == "total-missing"} == {
        "warn"
    }


def test_fines_that_were_sieved_dry_are_doubted():
    silt = {"mass_dry_g": 100.0, "mass_pan_g": 97.0, "sieves": [{"opening_mm": 0.425, "mass_retained_g": 0.0}]}
    silt["sieves"].append({"opening_mm": 0.075, "mass_retained_g": 3.0})
    assert "dry-fines" in SIEVE.reduce_raw(silt, {"washing": "dry"}).codes()


@pytest.mark.parametrize(
    ("openings", "convention", "code"),
    [
        ((2.0, 0.425, 0.15), "unified", "fines-unknown"),
        ((2.0, 0.425, 0.063), "unified", "fines-between"),
        ((2.0, 0.425, 0.075), "iso", "fines-unknown"),
        ((2.0, 0.425, 0.075), "unified", ""),
        ((2.0, 0.425, 0.063), "iso", ""),
        ((2.0, 0.425, 0.0751), "unified", ""),
        ((2.0, 0.425, 0.0745), "unified", "fines-between"),
        ((2.0, 0.425, 0.0755), "unified", "fines-unknown"),
    ],
)
def test_the_bound_of_the_fines_is_a_sieve_or_it_is_said(openings, convention, code):
    rows = [{"opening_mm": d, "mass_retained_g": m} for d, m in zip(openings, (0.0, 40.0, 55.0), strict=True)]
    stack_ = {"mass_dry_g": 100.0, "mass_washed_g": 97.0, "mass_pan_g": 2.0, "sieves": rows}
    reduction = SIEVE.reduce_raw(stack_, {"convention": convention})
    assert [c for c in reduction.codes() if c.startswith("fines-")] == ([code] if code else [])
    # What is not known is said, and only that.
    assert (reduction.parameter("fines_percent") is not None) == (code != "fines-unknown")
    hydrometer = {"hydrometer_curve": {"points": [[0.002, 1], [0.05, 3]], "source": "test 4"}}
    joint = SIEVE.reduce_raw(stack_, {"convention": convention}, hydrometer)
    assert not [c for c in joint.codes() if c.startswith("fines-")]
    assert "by test 4" in joint.school


def test_shares_of_the_whole_and_of_what_passes_the_cobbles():
    rows = [{"opening_mm": d, "mass_retained_g": m} for d, m in ((150, 0.0), (75, 20e3), (4.75, 40e3), (0.075, 16e3))]
    result = SIEVE.reduce_raw({"mass_dry_g": 80e3, "mass_washed_g": 76.5e3, "mass_pan_g": 500.0, "sieves": rows})
    shares = {p.key: p.value for p in result.parameters if p.key.endswith("_percent")}
    assert shares["gravel_percent"] == pytest.approx(50)
    assert shares["gravel_below_cobbles_percent"] == pytest.approx(100 * 40 / 60)
    assert shares["fines_below_cobbles_percent"] == pytest.approx(100 * 4 / 60)
    assert "what passes 75 mm" in result.parameter("gravel_below_cobbles_percent").name


def test_d_values_read_across_a_decade_are_queried():
    rows = [{"opening_mm": d, "mass_retained_g": m} for d, m in ((4.75, 0.0), (0.075, 380.0))]
    result = SIEVE.reduce_raw({"mass_dry_g": 500.0, "mass_washed_g": 400.0, "mass_pan_g": 20.0, "sieves": rows})
    (gap,) = [f for f in result.findings if f.code == "wide-gap"]
    assert "D30 and D60 are read between 0.075 and 4.8 mm" in gap.message


def test_sieves_weighed_empty_and_loaded_give_the_same_curve():
    empty = [412.3, 398.1, 367.7, 350.2, 341.9]
    rows = [
        {"opening_mm": row["opening_mm"], "mass_empty_g": e, "mass_loaded_g": e + row["mass_retained_g"]}
        for e, row in zip(empty, WASHED_STACK["sieves"], strict=True)
    ]
    loaded = WASHED_STACK | {"sieves": rows, "mass_pan_empty_g": 300.0, "mass_pan_g": 310.0}
    result = SIEVE.reduce_raw(loaded, {"entry": "loaded"})
    assert finer(result) == pytest.approx(finer(SIEVE.reduce_raw(WASHED_STACK)))
    assert result.codes() == SIEVE.reduce_raw(WASHED_STACK).codes()


def test_a_running_sum_typed_as_single_masses_is_recognised():
    rows, so_far = [], 0.0
    for row in WASHED_STACK["sieves"]:
        so_far += row["mass_retained_g"]
        rows.append(row | {"mass_retained_g": so_far})
    result = SIEVE.reduce_raw(WASHED_STACK | {"sieves": rows, "mass_pan_g": 410.0})
    assert "cumulative-entry" in result.codes()
    assert not result.reportable


def test_a_riffled_part_is_scaled_to_all_that_passed():
    # 20 kg: 8 kg stay on 19 and 4.75 mm, 12 kg pass; of these 600 g are washed and sieved on. A tenth of them is fines.
    coarse = [(37.5, 0.0), (19.0, 3000.0), (4.75, 5000.0)]
    fine = [(2.0, 180.0), (0.425, 240.0), (0.075, 120.0)]
    readings = {
        "mass_dry_g": 20000.0,
        "split_mm": 4.75,
        "mass_below_split_g": 12000.0,
        "mass_riffled_g": 600.0,
        "mass_washed_g": 545.0,
        "mass_pan_g": 5.0,
        "sieves": [{"opening_mm": d, "mass_retained_g": m} for d, m in coarse + fine],
    }
    result = SIEVE.reduce_raw(readings, {"split": "riffled"})
    # By hand: 60 % pass 4.75 mm; of these 70, 30 and 10 % pass the finer ones.
    assert finer(result) == pytest.approx([100, 85, 60, 42, 18, 6])
    assert not [c for c in result.codes() if c in ("sum-off", "unit-slip", "total-missing")]
    lost = SIEVE.reduce_raw(readings | {"mass_below_split_g": 11000.0}, {"split": "riffled"})
    assert any("Coarse sieves and what passed them" in f.message for f in lost.findings)
    short = SIEVE.reduce_raw(readings | {"mass_pan_g": 0.0}, {"split": "riffled"})
    assert any("Fine sieves and pan" in f.message for f in short.findings)
    assert "riffled-more" in SIEVE.reduce_raw(readings | {"mass_riffled_g": 13000.0}, {"split": "riffled"}).codes()


def test_a_sum_is_not_asked_to_be_truer_than_the_balance():
    rows = [{"opening_mm": d, "mass_retained_g": m} for d, m in ((4.75, 0.0), (2.0, 6.1), (0.425, 15.0), (0.075, 18.7))]
    small = {"mass_dry_g": 60.0, "mass_washed_g": 40.0, "mass_pan_g": 0.4, "sieves": rows}
    assert "sum-off" not in SIEVE.reduce_raw(small).codes()  # 0.2 g of 40 is 0.5 %, and two steps of the balance
    assert "sum-off" in SIEVE.reduce_raw(small, {"balance_step_g": 0.01}).codes()


def test_grains_that_stay_on_a_sieve_are_larger_than_it():
    # 12 of 100 g on 9.5 mm: a specimen for grains of 4.75 mm (200 g by ASTM C136) is too little for those of 19 mm.
    held = [{"opening_mm": d, "mass_retained_g": m} for d, m in ((19, 0.0), (9.5, 30.0), (4.75, 70.0), (2.0, 120.0))]
    readings = {"mass_dry_g": 250.0, "mass_pan_g": 30.0, "sieves": held}
    said = {
        grain: SIEVE.reduce_raw(readings | {"largest_particle_mm": grain}, {"washing": "dry"}).findings
        for grain in (4.75, 9.5, 15.0)
    }
    assert [f.message for f in said[4.75] if f.code == "grain-larger"] == [
        "12 % did not pass 9.5 mm, and the largest particle is said to be 4.75 mm."
    ]
    assert "grains of 19 mm: at least 5000 g" in str([f.message for f in said[4.75]])
    for grain in (9.5, 15.0):
        assert "grain-larger" not in [f.code for f in said[grain]]
        assert f"grains of {grain:g} mm" in str([f.message for f in said[grain]])

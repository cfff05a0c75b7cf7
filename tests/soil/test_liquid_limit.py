"""The liquid limit: schools, advice, findings, and recovery of virtual soils."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.methods.liquid_limit import LiquidLimit
from vadum.soil.methods.liquid_limit.advice import open_bands

METHOD = LiquidLimit()


def trial(blows, w, **more):
    """A tin of 20 g of dry soil at water content w."""
    return {"blows": blows, "mass_tin_g": 17.0, "mass_tin_wet_g": 37.0 + 0.2 * w, "mass_tin_dry_g": 37.0} | more


def reduce(trials, settings=None, context=None, **readings):
    return METHOD.reduce_raw({"trials": trials, **readings}, settings, context)


GOOD = [trial(32, 45.9), trial(24, 47.3), trial(18, 48.7)]


def test_clean_multipoint_has_no_finding_and_reports_a_whole_number():
    # By hand: least squares of w on log10 N through these trials gives 47.10 at 25 blows.
    slope, intercept = np.polyfit(np.log10([32, 24, 18]), [45.9, 47.3, 48.7], 1)
    result = reduce(GOOD)
    limit = result.parameter("liquid_limit")
    assert result.findings == []
    assert result.reportable
    assert limit.value == pytest.approx(intercept + slope * np.log10(25), abs=1e-6)
    assert limit.text == "47"
    assert any(f"{limit.value:.2f}" == step.result for step in result.derivation)
    assert result.parameter("flow_index").value == pytest.approx(-slope)


def test_advice_follows_the_trials():
    said = [reduce(GOOD[:n]).next_action for n in range(4)]
    assert "25–35 blows" in said[0]
    assert "20–30" in said[1]
    assert "15–25" in said[2]
    assert said[3].startswith("LL 47.")


def test_a_trial_at_43_blows_names_the_count_and_the_action():
    result = reduce([*GOOD, trial(43, 44.6)])
    (finding,) = result.findings
    assert (finding.code, finding.severity, finding.cells) == ("count-outside", "warn", ["trials.3.blows"])
    assert "43 blows" in finding.message
    assert "too dry" in finding.message
    assert "Add 1–3 mL" in finding.action
    assert result.next_action.startswith("43 blows")
    # Set aside with a reason it no longer counts, and the limit stays.
    left = reduce([*GOOD, trial(43, 44.6, left_out="dry side")])
    assert left.findings == []
    assert left.parameter("liquid_limit").value == result.parameter("liquid_limit").value


@pytest.mark.parametrize(
    ("trials", "code", "severity", "action"),
    [
        ([trial(34, 45.5), trial(31, 46.0), trial(27, 46.7)], "one-side-of-25", "stop", "15–25 blows"),
        ([trial(32, 48.0), trial(24, 45.9), trial(18, 47.4)], "slope-wrong-way", "stop", "tin numbers"),
        ([trial(32, 45.9), trial(24, 52.0), trial(18, 48.7)], "off-the-line", "warn", "leave it out"),
        ([trial(32, 46.0), trial(28, 48.5), trial(24, 46.5), trial(18, 48.7)], "scattered", "warn", "repeat"),
        ([trial(32, 45.9), trial(31, 46.0), trial(33, 45.7), trial(16, 49.5)], "range-not-covered", "warn", "20–30"),
        (GOOD[:2], "too-few-trials", "stop", "1 more"),
        ([*GOOD[:2], trial(18, 48.7, closure_mm=7)], "closure-length", "warn", "13 mm"),
        ([*GOOD[:2], trial(18, 48.7, closure_mm=0.5)], "closure-length", "warn", "0.5in"),
        ([*GOOD[:2], trial(18, 48.7, mass_tin_wet_g=46740.0)], "unit-slip", "stop", "in g"),
        ([*GOOD[:2], trial(18, 48.7, mass_tin_dry_g=50.0)], "dry-heavier-than-wet", "stop", "weigh the dry tin"),
    ],
)
def test_bad_data_is_named_with_what_to_do(trials, code, severity, action):
    found = {f.code: f for f in reduce(trials).findings}
    assert code in found
    assert found[code].severity == severity
    assert action in found[code].action


@pytest.mark.parametrize(
    "trials",
    [
        [trial(33, 48.95), trial(28, 46.6), trial(21, 48.0), trial(17, 45.7)],
        [trial(32, 48.7), trial(24, 47.3), trial(18, 45.9)],
    ],
)
def test_exchanged_tins_are_looked_for_before_the_slope_is_blamed(trials):
    (finding,) = [f for f in reduce(trials).findings if f.code in ("tins-exchanged", "slope-wrong-way")]
    assert finding.code == "tins-exchanged"
    assert finding.cells == ["trials.0.tin", f"trials.{len(trials) - 1}.tin"]


def test_three_trials_at_one_count_make_no_line():
    result = reduce([trial(27, 46.0), trial(27, 46.1), trial(27, 45.9)])
    assert "one-count" in result.codes()
    assert not result.reportable


def test_one_water_content_at_other_counts_was_copied():
    result = reduce([trial(32, 46.4), trial(24, 46.4), trial(18, 48.7)])
    assert "equal-water" in result.codes()


def test_how_far_off_the_line_is_too_far_goes_by_the_limit():
    # 1.2 % of water is much at a limit of 22 and nothing at one of 92.
    lean = reduce([trial(32, 21.2), trial(27, 22.9), trial(22, 21.9), trial(18, 22.2)])
    fat = reduce([trial(32, 87.0), trial(27, 91.5), trial(22, 92.9), trial(18, 95.7)])
    assert "off-the-line" in lean.codes()
    assert "off-the-line" not in fat.codes()


def test_cannot_be_determined_beside_good_trials_is_a_contradiction():
    result = reduce(GOOD, not_determinable="slides")
    assert "ticked-beside-trials" in result.codes()
    assert not result.reportable


def test_a_limit_after_drying_does_not_stand_for_the_soil():
    dried, natural = reduce(GOOD, state="oven-dried"), reduce(GOOD, state="natural")
    assert dried.parameter("liquid_limit") is None
    assert dried.parameter("liquid_limit_oven_dried").text == natural.parameter("liquid_limit").text == "47"
    assert "classification compares" in dried.next_action
    assert "natural-dried" in reduce(GOOD, state="natural", prepared="dry").codes()


@pytest.mark.parametrize(
    ("settings", "rows", "standard"),
    [
        ({"one_point_window": "22-28"}, 1, "AASHTO T 89 method B"),
        ({"one_point_window": "22-28"}, 2, "ASTM D4318 method B"),
        ({"one_point_window": "20-30"}, 2, "ASTM D4318 method B"),
        ({"one_point_window": "20-30"}, 1, "one-point relation of ASTM D4318; no standard's own"),
        ({"one_point_window": "15-35"}, 2, "one-point relation of ASTM D4318; no standard's own"),
    ],
)
def test_the_sheet_cites_the_school_followed_and_only_that(settings, rows, standard):
    row = trial(24, 46.0, blows_repeat=24)
    assert reduce([row] * rows, ONE | settings).follows == [standard]
    assert reduce(GOOD).follows == ["ASTM D4318 method A"]


def test_two_specimens_agree_within_one_percent():
    two = ONE | {"one_point_specimens": "two", "one_point_window": "20-30"}
    first = trial(27, 46.0, blows_repeat=27)
    one = reduce([first], two)
    assert "Second specimen" in one.next_action
    assert not one.complete
    assert reduce([first, trial(23, 46.6, blows_repeat=23)], two).findings == []
    apart = reduce([first, trial(23, 48.6, blows_repeat=23)], two)
    assert "specimens-apart" in apart.codes()
    assert not apart.reportable


def test_next_counts_a_trial_when_its_tin_is_filled():
    moist = [{k: v for k, v in t.items() if k != "mass_tin_dry_g"} | {"tin": f"T-{i}"} for i, t in enumerate(GOOD)]
    assert "20–30" in reduce(moist[:1]).next_action
    assert "15–25" in reduce(moist[:2]).next_action
    assert reduce(moist).next_action == "Dry and weigh tin T-0, T-1, T-2."
    dry_side = [t | {"blows": n} for t, n in zip(moist, (34, 31, 28), strict=True)]
    assert reduce(dry_side).next_action.startswith("All 3 trials are above 25 blows. Next trial at 15–25")


def test_wrong_tin_against_the_register():
    result = reduce(
        [t | {"tin": f"T-{i}"} for i, t in enumerate(GOOD)], context={"tins": {"T-0": 17.0, "T-1": 17.9, "T-2": 17.0}}
    )
    assert [f.code for f in result.findings] == ["tin-differs-from-register"]


def test_tare_comes_from_the_register_when_left_blank():
    rows = [{k: v for k, v in t.items() if k != "mass_tin_g"} | {"tin": f"T-{i}"} for i, t in enumerate(GOOD)]
    assert reduce(rows).parameters == []
    tins = {f"T-{i}": 17.0 for i in range(3)}
    assert reduce(rows, context={"tins": tins}).parameter("liquid_limit").text == "47"


ONE = {"school": "one-point"}


def test_one_point_uses_the_second_count():
    result = reduce([trial(24, 46.0, blows_repeat=23)], ONE)
    assert result.findings == []
    assert result.reportable
    assert result.parameter("liquid_limit").value == pytest.approx(46.0 * (23 / 25) ** 0.121)
    assert result.school.startswith("one-point")


@pytest.mark.parametrize(
    ("row", "code", "words"),
    [
        (trial(31, 46.0, blows_repeat=30), "count-outside", "31 blows"),
        (trial(27, 46.0, blows_repeat=24), "verification-off", "more than 2"),
        (trial(24, 46.0), "verification-missing", "not verified"),
    ],
)
def test_one_point_faults(row, code, words):
    result = reduce([row], ONE)
    assert any(f.code == code and words in f.message for f in result.findings)
    assert not result.reportable


def test_the_wider_one_point_window_is_a_setting():
    row = trial(30, 46.0, blows_repeat=29)
    assert "count-outside" in reduce([row], ONE).codes()
    assert reduce([row], ONE | {"one_point_window": "20-30"}).codes() == ["one-specimen"]


def test_replicates_are_averaged_and_their_spread_watched():
    rows = [trial(n, 50 / (n / 25) ** 0.121) for n in (20, 25, 31)]
    result = reduce(rows, {"school": "replicated"})
    assert result.parameter("liquid_limit").value == pytest.approx(50)
    assert result.findings == []
    apart = reduce([*rows[:2], trial(31, 53.0)], {"school": "replicated"})
    assert apart.codes() == ["replicates-apart"]


@pytest.mark.parametrize(
    ("school", "at", "depths"),
    [("fall-cone", 20, (15.5, 18.0, 21.0, 24.5)), ("fall-cone-60", 10, (7.5, 9.0, 11.0, 14.5))],
)
def test_a_fall_cone_reads_at_its_own_penetration(school, at, depths):
    cone = {"school": school}
    rows = [trial(None, 40 + (d - at) * 1.5, penetration_mm=d, penetration_repeat_mm=d) for d in depths]
    result = reduce(rows, cone)
    assert result.parameter("liquid_limit").value == pytest.approx(40)
    assert result.findings == []
    deep = [trial(None, 40 + d, penetration_mm=at + 0.5 + d, penetration_repeat_mm=at + 0.5 + d) for d in range(4)]
    assert "one-side-of-limit" in reduce(deep, cone).codes()
    assert "penetration-outside" in reduce([trial(None, 40, penetration_mm=at * 1.6)], cone).codes()


def test_two_drops_of_the_cone_agree_within_half_a_millimetre():
    cone = {"school": "fall-cone"}
    assert reduce([trial(None, 40, penetration_mm=19.0, penetration_repeat_mm=19.5)], cone).codes() == [
        "too-few-trials"
    ]
    apart = reduce([trial(None, 40, penetration_mm=19.0, penetration_repeat_mm=19.6)], cone)
    assert "penetrations-apart" in apart.codes()
    assert "penetrations-apart" in reduce([trial(None, 40, penetration_mm=19.0)], cone).codes()


def test_non_plastic_when_it_cannot_be_determined():
    result = reduce([], not_determinable="slides in the cup")
    assert result.parameter("liquid_limit").text == "NP"
    assert result.reportable


def test_a_line_drawn_by_hand_is_said_aloud():
    ends = {"hand_line_wet_percent": 50.0, "hand_line_dry_percent": 46.0}
    assert "by-hand-unexplained" in reduce(GOOD, ends).codes()
    result = reduce(GOOD, ends | {"by_hand_because": "the crust of the first trial"})
    expected = 50 - 4 * np.log(25 / 15) / np.log(35 / 15)
    assert result.parameter("liquid_limit").value == pytest.approx(expected)
    assert result.codes() == ["line-by-hand"]


@pytest.mark.parametrize("state", ["missing", "overdue", "adjust", "replace"])
def test_the_cup_in_doubt_is_a_warning(state):
    assert reduce(GOOD, context={"cup": "Cup 2", "cup_inspection": state}).codes() == ["cup-inspection"]
    assert reduce(GOOD, context={"cup": "Cup 2", "cup_inspection": "fit"}).findings == []


def test_every_trial_gets_a_range_of_its_own():
    bands = ((25, 35), (20, 30), (15, 25))
    assert open_bands([32, 24, 18], bands) == []
    assert open_bands([25, 25, 25], bands) == []
    assert open_bands([32, 31, 30], bands) == [(15, 25)]
    assert open_bands([], bands) == list(bands)


@pytest.mark.parametrize("school", ["multipoint", "one-point", "replicated", "fall-cone", "fall-cone-60"])
def test_two_hundred_virtual_soils_are_recovered(school):
    rng = np.random.default_rng(20)
    settings = METHOD.Settings(school=school)
    for _ in range(SOILS):
        soil = METHOD.a_soil(rng)
        result = METHOD.reduce(METHOD.virtual(soil, settings, rng), settings, METHOD.Context())
        # 0.01 g on 10 g of dry soil and whole blows: 0.25 % w bounds what the instruments can hide.
        assert result.parameter("liquid_limit").value == pytest.approx(soil.liquid_limit, abs=0.25)
        assert result.findings == [], result.findings


EXPECTED_CODE = {
    "too-dry-trial": "count-outside",
    "all-above-25": "one-side-of-25",
    "one-point-count-outside": "count-outside",
    "swapped-tins": "tins-exchanged",
    "wet-and-dry-swapped": "dry-heavier-than-wet",
    "unit-slip": "unit-slip",
    "not-dry": "off-the-line",
    "verification-off": "verification-off",
    "groove-not-closed": "closure-length",
}


@pytest.mark.parametrize("mistake", METHOD.mistakes)
def test_every_planted_mistake_is_caught(mistake):
    rng = np.random.default_rng(5)
    school = "one-point" if mistake in ("one-point-count-outside", "verification-off") else "multipoint"
    settings = METHOD.Settings(school=school)
    readings = METHOD.virtual(METHOD.a_soil(rng), settings, rng, frozenset({mistake}))
    assert EXPECTED_CODE[mistake] in METHOD.reduce(readings, settings, METHOD.Context()).codes()


def test_an_unknown_mistake_is_refused():
    rng = np.random.default_rng(1)
    with pytest.raises(ValueError, match="knows no mistake “typo”"):
        METHOD.virtual(METHOD.a_soil(rng), METHOD.Settings(), rng, frozenset({"typo"}))

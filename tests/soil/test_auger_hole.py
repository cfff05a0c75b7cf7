"""The auger hole: scales, steadiness with its trend, refilling, stuck valves, diameters, reservoirs and heads."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.physics import constant_head as ch
from vadum.soil.physics.water import water_viscosity
from vadum.soil.registry import METHODS

WELL = METHODS["well-permeameter"]
FRAME = {
    "hole_diameter_mm": 60,
    "hole_depth_mm": 450,
    "head_1_mm": 50,
    "reservoir": "combined",
    "inner_cm2": 2.15,
    "combined_cm2": 35.22,
    "temperature_c": 20,
    "utilities": "yes",
    "brushed": "yes",
}


def value(result, key):
    found = result.parameter(key)
    return None if found is None else found.value


def levels(rates, *, head=1, start=900.0, every=2.0):
    """Return levels that fall at these rates, mm/min, interval after interval."""
    rows, level = [{"head": head, "elapsed_min": 0.0, "level_mm": start}], start
    for k, rate in enumerate(rates, 1):
        level -= rate * every
        rows.append({"head": head, "elapsed_min": k * every, "level_mm": round(level, 2)})
    return rows


def virtual(seed=1, mistakes=(), **settings):
    chosen = WELL.Settings.model_validate(settings)
    rng = np.random.default_rng(seed)
    soil = WELL.a_soil(rng)
    return soil, WELL.virtual(soil, chosen, rng, frozenset(mistakes)).model_dump(mode="json", exclude_none=True)


def test_one_head_by_hand():
    """3 mm/min of 35.22 cm2 is 10.566 cm3/min into a hole of 60 mm under 50 mm; loam, alpha* 0.12 per cm."""
    result = WELL.reduce_raw(FRAME | {"levels": levels([3.0] * 6)})
    c = ((50 / 30) / (2.074 + 0.093 * 50 / 30)) ** 0.754
    by_hand = c * 10.566 / (2 * np.pi * 25 + np.pi * 9 * c + 2 * np.pi * 5 / 0.12) * 600
    assert value(result, "kfs") == pytest.approx(by_hand, rel=1e-6)


def test_diameter_and_radius_are_one_hole():
    by_radius = {k: v for k, v in FRAME.items() if k != "hole_diameter_mm"} | {"hole_radius_mm": 30}
    rows = levels([3.0] * 6)
    one, other = (WELL.reduce_raw(frame | {"levels": rows}) for frame in (FRAME, by_radius))
    assert value(one, "kfs") == value(other, "kfs")
    # The diameter that an auger is sold by is no longer taken for a radius; as a radius it is asked about.
    assert "diameter-for-radius" not in one.codes()
    assert "diameter-for-radius" in WELL.reduce_raw(by_radius | {"hole_radius_mm": 60, "levels": rows}).codes()


def test_a_radius_that_is_not_half_the_diameter_is_asked_about():
    readings = FRAME | {"levels": levels([3.0] * 6)}
    both = WELL.reduce_raw(readings | {"hole_radius_mm": 60})
    finding = next(f for f in both.findings if f.code == "sizes-differ")
    assert finding.cells == ["hole_radius_mm"]
    assert value(both, "kfs") == value(WELL.reduce_raw(readings), "kfs")
    assert "sizes-differ" not in WELL.reduce_raw(readings | {"hole_radius_mm": 30}).codes()


def test_a_scale_that_counts_what_went_out():
    rows = levels([3.0] * 6)
    rising = [row | {"level_mm": 900 - row["level_mm"]} for row in rows]
    plain = WELL.reduce_raw(FRAME | {"levels": rows})
    turned = WELL.reduce_raw(FRAME | {"levels": rising}, {"scale": "rises"})
    assert value(turned, "kfs") == pytest.approx(value(plain, "kfs"))
    # Read as a scale that falls it is asked about, once.
    wrong = WELL.reduce_raw(FRAME | {"levels": rising})
    assert [f.code for f in wrong.findings if f.code in ("scale-rises", "level-rises")] == ["scale-rises"]


@pytest.mark.parametrize(
    ("rates", "steady"),
    [
        ([4.0, 3.2, 3.05, 2.95, 3.02, 2.98], True),
        # All within a tenth of their mean, and every one below the one before: not over yet.
        ([4.0, 3.6, 3.25, 3.1, 2.93, 2.76], False),
        ([4.0, 3.6, 2.76, 2.93, 3.1, 3.25], False),
    ],
)
def test_steady_is_within_a_tenth_and_without_a_trend(rates, steady):
    result = WELL.reduce_raw(FRAME | {"levels": levels(rates)})
    assert (value(result, "kfs") is not None) is steady
    if not steady:
        assert "still go one way" in result.next_action


def test_filling_up_takes_no_minute_of_its_own():
    rows = levels([3.0] * 4)
    rows.append({"elapsed_min": 8.0, "level_mm": 880.0, "refilled": "yes"})
    rows += [{"elapsed_min": 8.0 + 2 * k, "level_mm": 880.0 - 6 * k} for k in (1, 2, 3)]
    result = WELL.reduce_raw(FRAME | {"levels": rows})
    assert [f.message for f in result.findings if f.severity != "note"] == []
    assert value(result, "kfs") == pytest.approx(value(WELL.reduce_raw(FRAME | {"levels": levels([3.0] * 7)}), "kfs"))
    twice = [row if row.get("refilled") is None else {k: v for k, v in row.items() if k != "refilled"} for row in rows]
    assert "time-back" in WELL.reduce_raw(FRAME | {"levels": twice}).codes()


def test_a_level_that_stands_is_a_valve_that_is_shut():
    result = WELL.reduce_raw(FRAME | {"levels": levels([3.0, 3.0, 0.0, 0.0, 0.0])})
    finding = next(f for f in result.findings if f.code == "stuck")
    assert "stands for 6 min" in finding.message
    assert finding.cells == ["levels.5.level_mm"]
    assert not result.reportable


@pytest.mark.parametrize(("head", "code"), [(350, "head-unusual"), (30, "head-unusual"), (290, "slender")])
def test_limits_of_head_and_radius_are_dismissed_with_a_reason(head, code):
    frame = FRAME | {"head_1_mm": head, "hole_diameter_mm": 50, "levels": levels([3.0] * 6)}
    assert code in WELL.reduce_raw(frame).codes()
    with_reason = WELL.reduce_raw(frame | {"odd_because": "shallow pit of the designer"})
    assert code not in with_reason.codes()
    assert with_reason.reportable


def test_a_reservoir_of_its_own_at_the_second_head():
    """The inner tube at head 1 and both together at head 2 say what one reservoir says."""
    soil = 0.05
    flows = [ch.flow_cm3_min(soil, h, 3.0, ch.SoilClass.LOAM) for h in (5.0, 10.0)]
    rows = levels([10 * flows[0] / 2.15] * 6, head=1, start=2900) + levels([10 * flows[1] / 35.22] * 6, head=2)
    frame = FRAME | {"head_2_mm": 100, "reservoir": "inner", "reservoir_2": "combined", "levels": rows}
    result = WELL.reduce_raw(frame)
    assert value(result, "kfs_1") == pytest.approx(30.0, rel=2e-3)
    assert value(result, "kfs_2") == pytest.approx(30.0, rel=2e-3)
    assert value(result, "alpha") == pytest.approx(0.12, rel=0.05)


def two(kfs, alpha, temperature=20.0):
    """Return two heads in ground of any alpha*, by Elrick, Reynolds and Tan's flow with it in the class's place."""
    cold = float(water_viscosity(20.0) / water_viscosity(temperature))
    rows = []
    for number, h in ((1, 5.0), (2, 10.0)):
        c = ch.shape_factor(h, 3.0, ch.SoilClass.LOAM)
        flow = cold * kfs / 600 * (2 * np.pi * h**2 + np.pi * 9 * c + 2 * np.pi * h / alpha) / c
        rows += levels([10 * flow / 35.22] * 6, head=number, start=2900)
    return FRAME | {"head_2_mm": 100, "temperature_c": temperature, "levels": rows}


@pytest.mark.parametrize(("alpha", "said"), [(0.12, False), (0.36, False), (0.04, False), (1.0, True), (0.012, True)])
def test_heads_that_contradict_the_class_are_said(alpha, said):
    assert ("class-contradicted" in WELL.reduce_raw(two(30, alpha)).codes()) is said


def test_everything_two_heads_say_is_at_one_temperature():
    """At 8 degrees the ground takes less; at 20 it says the same conductivity, potential and alpha*."""
    warm, cold = (WELL.reduce_raw(two(30, 0.12, t)) for t in (20.0, 8.0))
    for key in ("kfs_two", "potential", "alpha"):
        assert value(cold, key) == pytest.approx(value(warm, key), rel=0.02), key
    assert value(warm, "potential") == pytest.approx(value(warm, "kfs_two") / 600 / value(warm, "alpha"), rel=1e-3)


def test_heads_exchanged_and_a_head_missing():
    frame = two(30, 0.12)
    exchanged = frame | {"head_1_mm": 100, "head_2_mm": 50}
    assert "heads-exchanged" in WELL.reduce_raw(exchanged).codes()
    missing = {k: v for k, v in frame.items() if k != "head_2_mm"}
    assert "head-2-missing" in WELL.reduce_raw(missing).codes()
    alone = FRAME | {"levels": levels([3.0] * 6)}
    assert "head-2-missing" in WELL.reduce_raw(alone, {"solution": "two"}).codes()
    assert "head-2-missing" not in WELL.reduce_raw(alone).codes()


@pytest.mark.parametrize("kfs", [1.0, 30.0, 300.0])
def test_the_relation_never_gives_more_than_the_ground_takes(kfs):
    """Kfs = 6e-11 I^3.7363: at 1 mm/h the relation alone says 19 mm/h, at 300 mm/h 87."""
    result = WELL.reduce_raw(two(kfs, 0.12), {"infiltration": "relation", "safety_factor": 1})
    relation = (kfs / 36000 / 6e-11) ** (1 / 3.7363)
    assert value(result, "design_mm_h") == pytest.approx(min(kfs, relation), rel=0.02)


def test_clean_ground_draws_nothing_on_either_scale():
    for seed in range(SOILS):
        settings = {"scale": "rises"} if seed % 2 else {}
        soil, plain = virtual(seed, **settings)
        result = WELL.reduce_raw(plain, settings)
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed
        assert value(result, "kfs") == pytest.approx(soil.kfs_mm_h, rel=0.06), seed

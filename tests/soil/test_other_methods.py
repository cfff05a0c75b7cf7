"""Plastic limit, water content and cup inspection; and what every method keeps to."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests import SOILS, THOROUGH
from vadum.exchange.bench_file import parse
from vadum.soil.contract.cells import choices, singles
from vadum.soil.contract.method import describe
from vadum.soil.registry import METHODS, UnknownMethod, method

PL, WC, CUP = METHODS["plastic-limit"], METHODS["water-content"], METHODS["cup-inspection"]


def tin(w, dry_soil=10.0, **more):
    return {"mass_tin_g": 17.0, "mass_tin_wet_g": 17 + dry_soil * (1 + w / 100), "mass_tin_dry_g": 17 + dry_soil} | more


def dried(w, dry_soil, **more):
    return tin(w, dry_soil, drying_h=17) | more


def test_plastic_limit_and_indices_from_reported_values():
    context = {"liquid_limit": {"value": 47, "source": "test 4"}, "natural_water_content": 30, "clay_percent": 40}
    result = PL.reduce_raw({"threads": [tin(21.6), tin(22.6)]}, None, context)
    values = {p.key: p.text for p in result.parameters}
    # PL 22.1 -> 22; PI = 47 - 22 = 25; LI = 8/25; IC = 17/25; A = 25/40
    expected = {
        "plastic_limit": "22",
        "plasticity_index": "25",
        "liquidity_index": "0.32",
        "consistency_index": "0.68",
        "activity": "0.62",
    }
    assert {k: values[k] for k in expected} == expected
    assert result.findings == []
    assert result.reportable


@pytest.mark.parametrize(
    ("threads", "context", "code"),
    [
        ([tin(20), tin(23)], {}, "portions-apart"),
        ([tin(20), tin(20, 3.0)], {}, "portion-small"),
        ([tin(20)], {}, "too-few-portions"),
        ([tin(20), tin(20, diameter_mm=5)], {}, "thread-diameter"),
        ([tin(20), tin(20)], {"liquid_limit": 20}, "non-plastic"),
        ([tin(10), tin(10)], {"liquid_limit": 70}, "above-u-line"),
        ([tin(20), tin(20)], {"liquid_limit_not_determinable": True}, "non-plastic"),
    ],
)
def test_plastic_limit_findings(threads, context, code):
    assert PL.reduce_raw({"threads": threads}, None, context).codes() == [code]


def test_a_plastic_limit_far_above_the_liquid_limit_is_a_mistake():
    near = PL.reduce_raw({"threads": [tin(22), tin(22)]}, None, {"liquid_limit": 19})
    assert near.parameter("plasticity_index").text == "NP"
    far = PL.reduce_raw({"threads": [tin(27), tin(27)]}, None, {"liquid_limit": 19})
    assert far.parameter("plasticity_index") is None
    assert far.codes() == ["pl-above-ll"]
    assert not far.reportable


def test_np_beside_weighed_portions_is_a_contradiction():
    result = PL.reduce_raw({"threads": [tin(22), tin(22)], "not_determinable": "crumbles"})
    assert "ticked-beside-portions" in result.codes()
    assert not result.reportable


def test_the_water_of_the_fine_part_stands_in_the_liquidity_index():
    # 18 % of the whole, 40 % of it coarse and dry: the rest holds 18/0.6 = 30 %; LI = (30 - 20)/20.
    context = {"liquid_limit": 40, "natural_water_content": 18, "retained_0_425_mm": 40}
    result = PL.reduce_raw({"threads": [tin(20), tin(20)]}, None, context)
    assert result.parameter("liquidity_index").value == pytest.approx(0.5)
    assert result.codes() == ["water-of-the-whole"]
    fine = PL.reduce_raw({"threads": [tin(20), tin(20)]}, None, context | {"retained_0_425_mm": 3})
    assert fine.parameter("liquidity_index").value == pytest.approx(-0.1)


def test_non_plastic_by_rolling():
    result = PL.reduce_raw({"not_determinable": "crumbles at any water content"})
    assert [p.text for p in result.parameters] == ["NP", "NP"]
    assert result.reportable


def test_two_hundred_plastic_limits_and_water_contents_are_recovered():
    rng = np.random.default_rng(21)
    for _ in range(SOILS):
        soil = PL.a_soil(rng)
        for m, key, truth in (
            (PL, "plastic_limit", soil.plastic_limit),
            (WC, "water_content", soil.natural_water_content),
        ):
            chosen = m.Settings()
            result = m.reduce(m.virtual(soil, chosen, rng), chosen, m.Context())
            assert result.parameter(key).value == pytest.approx(truth, abs=0.2)
            assert result.findings == []


def test_microwave_loop_says_again_and_then_done():
    chosen = {"drying": "microwave"}
    row = {"tin": "T-01", "mass_tin_g": 20.0, "mass_tin_wet_g": 120.0}
    assert "3 min" in WC.reduce_raw({"determinations": [row]}, chosen).next_action
    row |= {"mass_tin_dry_g": 101.0}
    first = WC.reduce_raw({"determinations": [row]}, chosen)
    assert first.codes() == ["not-constant"]
    assert "again 1 min" in first.next_action
    again = [{"tin": "T-01", "after_min": 1, "mass_tin_dry_g": 100.5}]
    assert "again 1 min" in WC.reduce_raw({"determinations": [row], "reweighings": again}, chosen).next_action
    again.append({"tin": "T-01", "after_min": 1, "mass_tin_dry_g": 100.45})
    done = WC.reduce_raw({"determinations": [row], "reweighings": again}, chosen)
    # 0.05 g of 100 g of wet soil is 0.05 %, within 0.1 %.
    assert done.next_action.startswith("Constant, done.")
    assert done.parameter("water_content").value == pytest.approx(100 * (120 - 100.45) / 80.45)


@pytest.mark.parametrize(
    ("readings", "settings", "code"),
    [
        ({"determinations": [tin(30, 40, drying_h=4)]}, {}, "not-constant"),
        ({"determinations": [tin(30, 40)]}, {}, "not-constant"),
        ({"determinations": [dried(30, 40)], "largest_particle_mm": 9.5}, {}, "specimen-small"),
        ({"determinations": [dried(30, 40)]}, {"specimen_rule": "500 g always"}, "specimen-small"),
        ({"determinations": [dried(30, 40)]}, {"organic_or_gypsum": True}, "dried-too-hot"),
        ({"determinations": [dried(260, 40)]}, {}, "unusual-result"),
        ({"determinations": [dried(30, 40)], "temperature_c": 130}, {}, "oven-temperature"),
        ({"determinations": [dried(30, 40, tin="A"), dried(30, 40, tin="A")]}, {}, "tin-used-twice"),
        (
            {
                "determinations": [dried(30, 40, tin="A")],
                "reweighings": [{"tin": "B", "after_min": 60, "mass_tin_dry_g": 57}],
            },
            {},
            "unknown-tin",
        ),
    ],
)
def test_water_content_findings(readings, settings, code):
    assert WC.reduce_raw(readings, settings).codes() == [code]


def test_a_tin_typed_in_other_letters_is_asked_about_as_the_one_it_is():
    """What is scratched into a tin is T-1; typed t 1, the register's tare did not contradict it, and soil in it
    elsewhere was not seen."""
    [said] = WC.reduce_raw({"determinations": [dried(30, 40, tin="T-1"), dried(30, 40, tin="t 1")]}).findings
    assert said.message == "Tin T-1 or t 1 stands in 2 rows."
    weighed = {"determinations": [dried(30, 40, tin="t 1")]}
    [said] = WC.reduce_raw(weighed, {}, {"tins": {"T-1": 20.0, "T-2": 21.0}}).findings
    assert (said.code, said.message) == ("tin-written-otherwise", "Tin t 1 is not in the register; T-1 is.")
    assert WC.reduce_raw(weighed, {}, {"tins": {"T-2": 21.0}}).codes() == ["tin-not-in-register"]
    in_use = {"determinations": [{"tin": "t1", "mass_tin_g": 20, "mass_tin_wet_g": 50}]}
    elsewhere = {"tins_elsewhere": {"T-1": "liquid limit of TP1 U2 (test 7)"}}
    assert "tin-in-another-test" in WC.reduce_raw(in_use, {}, elsewhere).codes()


@pytest.mark.parametrize(
    ("one", "other", "register"),
    [("1-1", "11", {}), ("A1.1", "A11", {}), ("A-1", "A1", {"A-1": 17.0, "A1": 17.0})],
    ids=["of a set", "with a point", "both of the register"],
)
def test_tins_of_names_that_look_alike_are_two(one, other, register):
    both = {"determinations": [dried(30, 40, tin=one), dried(30, 40, tin=other)]}
    assert WC.reduce_raw(both, {}, {"tins": register}).findings == []
    moist = {"determinations": [{"tin": one, "mass_tin_g": 20, "mass_tin_wet_g": 50}]}
    in_use = {"tins": register, "tins_elsewhere": {other: "liquid limit of TP1 U2 (test 7)"}}
    assert "tin-in-another-test" not in WC.reduce_raw(moist, {}, in_use).codes()


def test_water_content_rounding_follows_the_method():
    readings = {"determinations": [tin(23.46, 40)]}
    assert WC.reduce_raw(readings).parameter("water_content").text == "23.5"
    assert WC.reduce_raw(readings, {"precision": "1 %"}).parameter("water_content").text == "23"


@pytest.mark.parametrize(
    ("mistake", "word"),
    [
        ((), "fit"),
        (("drop-too-high",), "adjust"),
        (("lifts",), "adjust"),
        (("worn-cup",), "replace"),
        (("foot-missing",), "adjust"),
    ],
)
def test_cup_inspection(mistake, word):
    rng = np.random.default_rng(2)
    readings = CUP.virtual(None, CUP.Settings(), rng, frozenset(mistake))
    result = CUP.reduce(readings, CUP.Settings(), CUP.Context())
    assert result.parameter("verdict").text == word
    assert bool(result.findings) == bool(mistake)


BENCH_WORDS = {
    "gauge_block": "pings",
    "contact_spot_cup_mm": 8,
    "groove_in_cup": "none",
    "wall": "more-than-half",
    "feet": 4,
    "tool_tip_mm": 2.0,
}


@pytest.mark.parametrize(
    ("change", "word", "codes"),
    [
        ({}, "fit", []),
        ({"gauge_block": "lifts"}, "adjust", ["drop-height"]),
        ({"gauge_block": "silent"}, "adjust", ["drop-height"]),
        ({"gauge_block": "lifts", "drop_height_mm": 10.0}, "adjust", ["drop-height"]),
        ({"wall": "less-than-half"}, "replace", ["cup-thin"]),
    ],
)
def test_a_cup_is_inspected_in_the_words_of_the_bench(change, word, codes):
    result = CUP.reduce_raw(BENCH_WORDS | change)
    assert result.parameter("verdict").text == word
    assert result.codes() == codes
    assert result.complete


def test_an_inspection_asks_for_the_block_first():
    assert "does it ping, lift, or neither" in CUP.reduce_raw({}).next_action
    assert "more than half" in CUP.reduce_raw({k: v for k, v in BENCH_WORDS.items() if k != "wall"}).next_action


def test_a_drop_at_the_limit_is_fit():
    rng = np.random.default_rng(2)
    readings = CUP.virtual(None, CUP.Settings(), rng).model_copy(update={"drop_height_mm": 10.2})
    assert CUP.reduce(readings, CUP.Settings(), CUP.Context()).parameter("verdict").text == "fit"


@pytest.mark.parametrize("code", METHODS)
@settings(max_examples=100 if THOROUGH else 30, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(data=st.data())
def test_reduce_never_raises_for_partial_readings(code, data):
    """Any subset of a whole test's cells, with any masses, reduces to something with a next action."""
    m = METHODS[code]
    rng = np.random.default_rng(data.draw(st.integers(0, 50)))
    chosen = m.Settings()
    schools = {name: options for name in m.Settings.model_fields if (options := list(choices(m.Settings, name)))}
    chosen = m.Settings(**{name: data.draw(st.sampled_from(options)) for name, options in schools.items()})
    plain = m.virtual(m.a_soil(rng), chosen, rng).model_dump(exclude_none=True)
    for name in singles(m.Readings):
        if name in plain and data.draw(st.booleans()):
            del plain[name]
    # A record has thousands of cells: their fates come from one drawn seed.
    fate = np.random.default_rng(data.draw(st.integers(0, 10_000)))
    for rows in (v for v in plain.values() if isinstance(v, list)):
        for row in rows:
            for key, lot in zip(list(row), fate.integers(0, 4, len(row)), strict=True):
                if lot == 2:
                    del row[key]
                elif lot == 3 and key.startswith("mass_"):
                    row[key] = 0.0
    result = m.reduce_raw(plain, chosen.model_dump())
    assert result.next_action
    assert "NaN" not in result.model_dump_json()


@pytest.mark.parametrize("code", METHODS)
def test_contract(code):
    m = METHODS[code]
    assert m.cautions
    assert m.equations
    assert m.steps
    assert m.timetable(m.Readings(), m.Settings())
    assert json.dumps(describe(m).model_dump())
    empty = m.reduce_raw({})
    assert empty.findings == []
    assert empty.next_action
    assert not empty.complete
    # Every reading a step names exists, so that the procedure can point at cells.
    names = set(m.Readings.model_fields)
    assert all(reading.split(".")[0] in names for step in m.steps for reading in step.readings)


def test_unknown_method_lists_the_known_ones():
    with pytest.raises(UnknownMethod, match="liquid-limit"):
        method("sieve-by-eye")


@pytest.mark.parametrize("example", sorted(Path("docs/examples").glob("*.json")), ids=lambda path: path.stem)
def test_the_documented_examples_reduce_cleanly(example):
    result = parse(example.read_bytes()).reduce()
    assert result.reportable
    assert result.findings == []

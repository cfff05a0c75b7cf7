"""The dynamic cone: published values, layers told apart within two percent, every slip at the rod."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.numbers.pieces import straight_pieces
from vadum.soil.physics.dynamic_cone import ConeRelation, cone_ratio_percent
from vadum.soil.registry import METHODS
from vadum.soil.virtual.layered_ground import LayeredGround, a_layered_ground

CONE = METHODS["dynamic-cone"]
ROAD = LayeredGround(((200.0, 4.0), (250.0, 12.0), (200.0, 5.0)))


def virtual(soil=ROAD, seed=2, mistakes=(), **settings):
    chosen = CONE.Settings(**settings)
    return CONE.virtual(soil, chosen, np.random.default_rng(seed), frozenset(mistakes)).model_dump(
        mode="json", exclude_none=True
    )


def value(result, key):
    return result.parameter(key).value


@pytest.mark.parametrize(
    ("relation", "mm", "percent"),
    # Each equation put in by hand: 292 / 10^1.12, 1 / (0.002871 x 20), (0.017019 x 20)^-2, 10^(2.48 - 1.057) ...
    [
        (ConeRelation.D6951, 10, 22.2),
        (ConeRelation.D6951, 20, 10.2),
        (ConeRelation.D6951, 50, 3.65),
        (ConeRelation.D6951_CH, 20, 17.4),
        (ConeRelation.D6951_CL, 20, 8.63),
        (ConeRelation.ROAD_NOTE, 10, 26.5),
        (ConeRelation.KLEYN, 10, 22.4),
    ],
)
def test_the_relations_by_hand(relation, mm, percent):
    assert cone_ratio_percent(mm, relation) == pytest.approx(percent, rel=0.005)


def test_a_broken_line_is_cut_where_it_bends():
    x = np.arange(30.0)
    y = np.where(x < 12, 2 * x, 24 + 7 * (x - 12))
    # The reading at the bend lies on both lines.
    assert straight_pieces(x, y, 0.5) in ([(0, 13), (13, 30)], [(0, 12), (12, 30)])
    assert straight_pieces(x, 3 * x, 0.5) == [(0, 30)]
    assert straight_pieces([1.0], [1.0], 0.5) == [(0, 1)]
    assert straight_pieces([], [], 0.5) == []


def test_layers_come_back_within_two_percent():
    for seed in range(SOILS):
        soil = a_layered_ground(np.random.default_rng(seed))
        result = CONE.reduce_raw(virtual(soil, seed))
        assert result.codes() == [], seed
        assert value(result, "layers") == len(soil.layers), seed
        for number, (_, per_blow) in enumerate(soil.layers, 1):
            assert value(result, f"index_{number}") == pytest.approx(per_blow, rel=0.02), seed


def test_uneven_ground_is_not_cut_to_pieces():
    wrong = 0
    for seed in range(40):
        rng = np.random.default_rng(seed)
        readings = virtual(ROAD, seed)
        # Every row goes up to a tenth further or less than its layer says.
        went = np.diff([readings["zero_mm"], *(row["rule_mm"] for row in readings["blows"])])
        stands = readings["zero_mm"] + np.cumsum(went * (1 + rng.uniform(-0.1, 0.1, len(went))))
        for row, mm in zip(readings["blows"], stands, strict=True):
            row["rule_mm"] = float(round(mm))
        wrong += value(CONE.reduce_raw(readings), "layers") != 3
    assert wrong <= 2


def test_where_the_layers_meet():
    result = CONE.reduce_raw(virtual())
    names = {p.key: p.name for p in result.parameters}
    assert names["cbr_softest"] == "CBR of the softest layer, 0.20 to 0.45 m"
    assert result.parameter("cbr_2").text == result.parameter("cbr_softest").text


def test_the_light_hammer_takes_twice_the_blows():
    light = {"hammer": "4.6-kg"}
    heavy, other = CONE.reduce_raw(virtual()), CONE.reduce_raw(virtual(**light), light)
    assert value(other, "index_1") == pytest.approx(value(heavy, "index_1"), rel=0.02)


def test_a_rule_that_counts_down_is_said_and_else_stops():
    down = {"rule": "down"}
    readings = virtual(**down)
    assert CONE.reduce_raw(readings, down).codes() == []
    assert "rule-back" in CONE.reduce_raw(readings).codes()


def driven(*rows, **settings):
    """Return what rows of blows, rule and why they are left out say, the rule at 100 mm at the start."""
    named = [
        {key: it for key, it in zip(("blows", "rule_mm", "left_out"), row, strict=False) if it is not None}
        for row in rows
    ]
    readings = {"services_located": "yes", "zero_mm": 100, "ended": "depth-reached", "blows": named}
    return CONE.reduce_raw(readings, settings)


# Six rows of 30 mm and four of 60 mm, five blows each.
EVEN = [(5, rule) for rule in (130, 160, 190, 220, 250, 280, 340, 400, 460, 520)]


def test_what_is_left_out_is_a_way_all_the_same_and_layers_lie_where_they_lie():
    """The loose top of 60 mm is no layer; what is below it is not nearer to the ground for that."""
    result = driven((2, 160, "loose top"), *[(5, 160 + 40 * k) for k in range(1, 8)])
    assert result.parameter("cbr_1").name == "CBR by the cone, 0.06 to 0.34 m"
    assert value(result, "depth_reached") == pytest.approx(0.34)
    assert value(result, "index_1") == pytest.approx(8.0)
    assert result.computed["blows.7.depth_m"] == pytest.approx(0.34)
    marks = [mark for series in result.figures[0].series for mark in series.marks]
    assert [round(mark.y, 3) for mark in marks] == [0.08, 0.12, 0.16, 0.2, 0.24, 0.28, 0.32]


@pytest.mark.parametrize("slip", [(7, 190), (5, 910), (5, 109), (5, 159)])
def test_a_row_written_anew_below_the_one_left_out_is_the_row(slip):
    """Blows miscounted or rule misread: what was left out stands in no row's way, and stops nothing."""
    result = driven(*EVEN[:2], (*slip, "slip"), *EVEN[2:])
    assert value(result, "layers") == 2
    assert [value(result, f"index_{k}") for k in (1, 2)] == pytest.approx([6.0, 12.0])
    assert value(result, "depth_reached") == pytest.approx(0.42)
    assert result.parameter("cbr_2").name == "CBR by the cone, 0.18 to 0.42 m"
    # Where the rule left out is another, nobody knows whether the row below it went on from there.
    assert result.codes() == ([] if slip == (7, 190) else ["way-unknown"])
    assert result.computed["blows.3.depth_m"] == pytest.approx(0.09)


def test_blows_after_which_nobody_read_the_rule_are_of_the_next_row():
    """Ten blows in 60 mm, not five; the reading itself is asked for."""
    result = driven(*EVEN[:1], (5, None), *EVEN[2:])
    assert [value(result, f"index_{k}") for k in (1, 2)] == pytest.approx([6.0, 12.0])
    assert result.codes() == ["missing-reading"]


def test_without_its_blows_a_row_is_still_a_way():
    result = driven(*EVEN[:2], (None, 190), *EVEN[3:])
    assert value(result, "depth_reached") == pytest.approx(0.42)
    assert result.codes() == ["missing-reading"]


def test_a_rule_that_goes_back_is_told_as_it_was_read():
    up, down = driven(*EVEN, (5, 510)), driven((5, 90), (5, 60), (5, 70), rule="down")
    assert next(f.message for f in up.findings if f.code == "rule-back").startswith(
        "Row 11: the rule goes from 520 to 510"
    )
    assert next(f.message for f in down.findings if f.code == "rule-back").startswith(
        "Row 3: the rule goes from 60 to 70"
    )


@pytest.mark.parametrize(
    ("mistake", "code"),
    [
        ("miscounted", "row-odd"),
        ("rule-slipped", "rule-back"),
        ("services", "services-unknown"),
        ("worn", "cone-worn"),
        ("leaning", "not-upright"),
        ("coarse", "row-coarse"),
    ],
)
def test_each_mistake_at_the_rod_is_caught(mistake, code):
    found = next(f for f in CONE.reduce_raw(virtual(mistakes=[mistake])).findings if f.code == code)
    assert found.action


def test_centimetres_are_not_a_bearing_ratio():
    result = CONE.reduce_raw(virtual(mistakes=["centimetres"]))
    assert not result.reportable or any(f.severity != "note" for f in result.findings)


def test_a_stone_ends_it_and_few_rows_tell_no_layers():
    readings = virtual()
    last = readings["blows"][-1]
    readings["blows"].append({"blows": 20, "rule_mm": last["rule_mm"] + 2})
    assert "on-a-stone" in CONE.reduce_raw(readings).codes()
    assert "few-rows" in CONE.reduce_raw(virtual() | {"blows": virtual()["blows"][:2]}).codes()


def test_lean_clay_has_its_own_relation_below_ten_percent():
    lean = {"relation": "astm-d6951-cl"}
    assert "outside-relation" in CONE.reduce_raw(virtual(), lean).codes()


def test_first_and_last_row_are_held_against_their_neighbours():
    readings = virtual()
    assert "first-odd" in CONE.reduce_raw(readings | {"zero_mm": readings["zero_mm"] - 60}).codes()
    rows = [dict(row) for row in readings["blows"]]
    rows[-1]["blows"] *= 6
    assert "last-odd" in CONE.reduce_raw(readings | {"blows": rows}).codes()


def test_what_comes_next_follows_the_last_row():
    readings = virtual() | {"ended": None}
    rows = readings["blows"][:6]
    assert "as many blows again" in CONE.reduce_raw(readings | {"blows": rows}).next_action
    rows = [*rows[:-1], rows[-1] | {"rule_mm": rows[-2]["rule_mm"] + 70}]
    assert "fewer blows" in CONE.reduce_raw(readings | {"blows": rows}).next_step

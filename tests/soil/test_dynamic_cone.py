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

"""Every group of both systems and the boundary values between them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.soil.classify import highway, unified
from vadum.soil.classify.deciding import cheapest_deciding
from vadum.soil.classify.texture import FIELDS, texture_class
from vadum.soil.classify.tree import groups_of, possible, walk
from vadum.soil.registry import METHODS

METHOD = METHODS["classification"]


def soil(fines, gravel=0.0, ll=None, pi=None, cu=None, cc=None, organic=0.0, peat=0.0):
    """Return facts of the unified tree; what is None is not known. PI 0 is non-plastic."""
    facts = {"fines": fines, "gravel": gravel, "sand": 100.0 - fines - gravel, "organic": organic, "peat": peat}
    more = {"LL": ll, "PI": pi, "Cu": cu, "Cc": cc}
    return facts | {name: float(value) for name, value in more.items() if value is not None}


# ASTM D2487, figures 1 to 3 and table 1: facts, symbol, name. Boundaries lie on the side the standard puts them.
UNIFIED = [
    # fine-grained, LL below 50
    (soil(95, 0, 30, 12), "CL", "Lean clay"),
    (soil(90, 0, 49, 30), "CL", "Lean clay"),
    (soil(85.1, 0, 40, 20), "CL", "Lean clay"),
    (soil(85, 0, 40, 20), "CL", "Lean clay with sand"),
    (soil(80, 12, 40, 20), "CL", "Lean clay with gravel"),
    (soil(70, 0, 40, 20), "CL", "Sandy lean clay"),
    (soil(70.1, 0, 40, 20), "CL", "Lean clay with sand"),
    (soil(60, 15, 40, 20), "CL", "Sandy lean clay with gravel"),
    (soil(60, 14.9, 40, 20), "CL", "Sandy lean clay"),
    (soil(60, 30, 40, 20), "CL", "Gravelly lean clay"),
    (soil(55, 30, 40, 20), "CL", "Gravelly lean clay with sand"),
    (soil(50, 10, 40, 20), "CL", "Sandy lean clay"),
    (soil(95, 0, 30, 7.3), "CL", "Lean clay"),
    (soil(95, 0, 30, 7.2), "ML", "Silt"),
    (soil(95, 0, 35, 11), "CL", "Lean clay"),
    (soil(95, 0, 35, 10), "ML", "Silt"),
    (soil(95, 0, 40, 14.6), "CL", "Lean clay"),
    (soil(95, 0, 40, 14.5), "ML", "Silt"),
    (soil(95, 0, 25, 8), "CL", "Lean clay"),
    (soil(95, 0, 25, 7), "CL-ML", "Silty clay"),
    (soil(95, 0, 20, 4), "CL-ML", "Silty clay"),
    (soil(95, 0, 20, 3.9), "ML", "Silt"),
    (soil(60, 0, 22, 5), "CL-ML", "Sandy silty clay"),
    (soil(95, 0, 0, 0), "ML", "Silt"),
    (soil(65, 5, 0, 0), "ML", "Sandy silt"),
    (soil(95, 0, 45, 12), "ML", "Silt"),
    (soil(95, 0, 45, 20, organic=1.0), "OL", "Organic clay"),
    (soil(95, 0, 45, 10, organic=1.0), "OL", "Organic silt"),
    (soil(75, 0, 45, 10, organic=1.0), "OL", "Organic silt with sand"),
    # fine-grained, LL 50 and more
    (soil(95, 0, 50, 30), "CH", "Fat clay"),
    (soil(95, 0, 50, 21.9), "CH", "Fat clay"),
    (soil(95, 0, 50, 21.8), "MH", "Elastic silt"),
    (soil(95, 0, 80, 50), "CH", "Fat clay"),
    (soil(65, 20, 80, 50), "CH", "Gravelly fat clay with sand"),
    (soil(95, 0, 80, 30), "MH", "Elastic silt"),
    (soil(75, 0, 60, 20), "MH", "Elastic silt with sand"),
    (soil(95, 0, 80, 50, organic=1.0), "OH", "Organic clay"),
    (soil(95, 0, 80, 30, organic=1.0), "OH", "Organic silt"),
    # gravels
    (soil(4.9, 60, cu=4, cc=1), "GW", "Well-graded gravel with sand"),
    (soil(2, 85, cu=8, cc=3), "GW", "Well-graded gravel"),
    (soil(2, 85, cu=3.9, cc=2), "GP", "Poorly graded gravel"),
    (soil(2, 60, cu=8, cc=3.1), "GP", "Poorly graded gravel with sand"),
    (soil(2, 60, cu=8, cc=0.9), "GP", "Poorly graded gravel with sand"),
    (soil(5, 60, 0, 0, 5, 2), "GW-GM", "Well-graded gravel with silt and sand"),
    (soil(12, 80, 30, 12, 50, 2), "GW-GC", "Well-graded gravel with clay"),
    (soil(10, 60, 22, 5, 50, 2), "GW-GC", "Well-graded gravel with silty clay and sand"),
    (soil(8, 80, 0, 0, 3, 2), "GP-GM", "Poorly graded gravel with silt"),
    (soil(8, 60, 60, 35, 3, 2), "GP-GC", "Poorly graded gravel with clay and sand"),
    (soil(12.1, 60, 0, 0), "GM", "Silty gravel with sand"),
    (soil(20, 70, 55, 15), "GM", "Silty gravel"),
    (soil(20, 60, 35, 15), "GC", "Clayey gravel with sand"),
    (soil(20, 60, 22, 6), "GC-GM", "Silty, clayey gravel with sand"),
    (soil(20, 60, 45, 12, organic=1.0), "GM", "Silty gravel with sand with organic fines"),
    # sands
    (soil(4, 15, cu=6, cc=1), "SW", "Well-graded sand with gravel"),
    (soil(4, 5, cu=6, cc=3), "SW", "Well-graded sand"),
    (soil(4, 5, cu=5.9, cc=2), "SP", "Poorly graded sand"),
    (soil(4, 20, cu=7, cc=0.99), "SP", "Poorly graded sand with gravel"),
    (soil(5, 5, 0, 0, 6, 2), "SW-SM", "Well-graded sand with silt"),
    (soil(12, 20, 35, 16, 30, 2), "SW-SC", "Well-graded sand with clay and gravel"),
    (soil(9, 5, 0, 0, 3, 1), "SP-SM", "Poorly graded sand with silt"),
    (soil(9, 5, 23, 6, 3, 1), "SP-SC", "Poorly graded sand with silty clay"),
    (soil(13, 5, 0, 0), "SM", "Silty sand"),
    (soil(49.9, 15, 0, 0), "SM", "Silty sand with gravel"),
    (soil(30, 5, 35, 15), "SC", "Clayey sand"),
    (soil(30, 35, 35, 15), "SC", "Clayey sand with gravel"),
    (soil(30, 5, 22, 6), "SC-SM", "Silty, clayey sand"),
    (soil(40, 5, peat=1.0), "PT", "Peat"),
]


@pytest.mark.parametrize(("facts", "symbol", "name"), UNIFIED)
def test_unified(facts, symbol, name):
    assert walk(unified.TREE, facts).decided == symbol
    assert unified.group_name(symbol, facts) == name


def test_every_unified_group_is_in_the_table():
    assert {symbol for _, symbol, _ in UNIFIED} == set(groups_of(unified.TREE))
    assert len(UNIFIED) >= 60


def road(p10, p40, p200, ll=0, pi=0, peat=0):
    return {"passing 2 mm": p10, "passing 0.425 mm": p40, "passing 0.075 mm": p200, "LL": ll, "PI": pi, "peat": peat}


# AASHTO M 145, tables 1 and 2: facts, group, group index.
HIGHWAY = [
    (road(50, 30, 15, 20, 6), "A-1-a", 0),
    (road(51, 30, 15, 20, 6), "A-1-b", 0),
    (road(40, 31, 15, 0, 0), "A-1-b", 0),
    (road(90, 50, 25, 25, 6), "A-1-b", 0),
    (road(40, 20, 10, 30, 7), "A-2-4", 0),
    (road(100, 51, 10, 0, 0), "A-3", 0),
    (road(100, 95, 10, 0, 0), "A-3", 0),
    (road(100, 95, 11, 0, 0), "A-2-4", 0),
    (road(100, 50, 26, 0, 0), "A-2-4", 0),
    (road(90, 60, 35, 40, 10), "A-2-4", 0),
    (road(90, 60, 35, 41, 10), "A-2-5", 0),
    (road(90, 60, 35, 40, 11), "A-2-6", 0),
    (road(90, 60, 35, 38, 20), "A-2-6", 2),
    (road(90, 60, 35, 41, 11), "A-2-7", 0),
    (road(90, 60, 30, 60, 35), "A-2-7", 4),
    (road(90, 60, 36, 40, 10), "A-4", 0),
    (road(100, 90, 90, 30, 8), "A-4", 7),
    (road(100, 90, 60, 0, 0), "A-4", 0),
    (road(90, 60, 36, 41, 10), "A-5", 0),
    (road(100, 95, 80, 55, 9), "A-5", 12),
    (road(90, 60, 36, 40, 11), "A-6", 0),
    (road(100, 90, 78, 31, 14), "A-6", 9),
    (road(90, 60, 36, 41, 11), "A-7-5", 0),
    (road(100, 90, 80, 50, 20), "A-7-5", 18),
    (road(100, 90, 80, 50, 21), "A-7-6", 18),
    (road(100, 90, 62, 45, 22), "A-7-6", 12),
    (road(100, 100, 95, 80, 50), "A-7-5", 56),
    (road(100, 100, 100, 0, 0, 1), "A-8", None),
]


@pytest.mark.parametrize(("facts", "group", "index"), HIGHWAY)
def test_highway(facts, group, index):
    facts = highway.whole(facts)
    assert walk(highway.TREE, facts).decided == group
    assert highway.group_index(group, facts["passing 0.075 mm"], facts["LL"], facts["PI"]) == index


def test_every_highway_group_is_in_the_table():
    assert {group for _, group, _ in HIGHWAY} == set(groups_of(highway.TREE))
    assert all(highway.group_words(group) for _, group, _ in HIGHWAY)


def test_the_group_index_follows_its_equation():
    # (80-35)(0.2 + 0.005 (50-40)) + 0.01 (80-15)(30-10) = 11.25 + 13 = 24.25
    assert highway.group_index("A-7-6", 80, 50, 30) == 24
    # A-2-6 counts the second part only: 0.01 (30-15)(20-10) = 1.5, a tie to the even number.
    assert highway.group_index("A-2-6", 30, 35, 20) == 2
    assert highway.group_index("A-2-7", 20, 45, 12) == 0
    assert highway.group_index("A-6", 36, 30, 11) == 0


def test_shares_are_judged_as_whole_numbers():
    assert walk(highway.TREE, highway.whole(road(90, 60, 35.4, 40, 10))).decided == "A-2-4"
    assert walk(highway.TREE, highway.whole(road(90, 60, 35.6, 40, 10))).decided == "A-4"


@pytest.mark.parametrize(
    ("sand", "silt", "clay", "name"),
    [
        (92, 5, 3, "sand"),
        (82, 12, 6, "loamy sand"),
        (65, 25, 10, "sandy loam"),
        (45, 49, 6, "sandy loam"),
        (40, 40, 20, "loam"),
        (20, 65, 15, "silt loam"),
        (10, 85, 5, "silt"),
        (8, 80, 12, "silt loam"),
        (60, 13, 27, "sandy clay loam"),
        (33, 33, 34, "clay loam"),
        (10, 57, 33, "silty clay loam"),
        (52, 6, 42, "sandy clay"),
        (6, 48, 46, "silty clay"),
        (20, 20, 60, "clay"),
        (85, 15, 0, "loamy sand"),
    ],
)
def test_texture(sand, silt, clay, name):
    assert texture_class(sand, silt, clay) == name


def test_the_middle_of_each_field_has_the_fields_name():
    """The drawn fields and the written rules are two sources; they must agree."""
    for name, corners in FIELDS.items():
        clay = sum(c for c, _ in corners) / len(corners)
        sand = sum(s for _, s in corners) / len(corners)
        assert texture_class(sand, 100 - sand - clay, clay) == name


def test_texture_refuses_what_is_not_a_whole():
    with pytest.raises(ValueError, match="do not make 100"):
        texture_class(50, 20, 20)


@given(
    st.fixed_dictionaries(
        {
            "fines": st.floats(0, 100),
            "LL": st.floats(0, 120),
            "PI": st.floats(0, 60),
            "Cu": st.floats(1, 100),
            "Cc": st.floats(0.1, 5),
            "organic": st.sampled_from([0.0, 1.0]),
            "peat": st.just(0.0),
        }
    ),
    st.floats(0, 1),
)
def test_knowing_less_never_excludes_the_truth(facts, share):
    whole = facts | {"gravel": (100 - facts["fines"]) * share, "sand": (100 - facts["fines"]) * (1 - share)}
    (group,) = possible(unified.TREE, whole)
    for missing in whole:
        left = possible(unified.TREE, {name: value for name, value in whole.items() if name != missing})
        assert group in left


@pytest.mark.parametrize(
    ("facts", "tests"),
    [
        (soil(60), ["liquid and plastic limit"]),
        (soil(8, 30, 0, 0), ["sieve analysis"]),
        (soil(8, 30, cu=7, cc=2), ["liquid and plastic limit"]),
        (soil(11, 30, 0, 0), ["hydrometer analysis"]),
        ({"LL": 45.0, "PI": 20.0, "organic": 0.0, "peat": 0.0}, ["sieve analysis"]),
    ],
)
def test_the_cheapest_deciding_test(facts, tests):
    assert [source.title for source in cheapest_deciding(unified.TREE, facts)] == tests


def test_facts_missing_say_what_is_possible_and_what_decides():
    result = METHOD.reduce_raw({"fines_percent": 8, "gravel_percent": 30, "uniformity": 7, "curvature": 2})
    assert result.parameter("group_symbol").text == "SW-SM or SW-SC"
    assert not result.complete
    assert "liquid and plastic limit" in result.next_action
    path = result.figures[0]
    assert path.forks[-1].open
    assert path.forks[1].answer == "8 % fines"


def test_a_path_tells_each_fork_with_its_number():
    result = METHOD.reduce_raw(
        {"fines_percent": 62, "sand_percent": 30, "gravel_percent": 8, "liquid_limit": 45, "plasticity_index": 22}
    )
    told = [(fork.answer, fork.taken) for fork in result.figures[0].forks]
    assert told[1:3] == [("62 % fines", "fine-grained"), ("LL 45", "below 50")]
    assert result.figures[0].end == "CL"
    assert "CH" in result.figures[0].forks[2].others
    assert result.parameter("highway_group").text == "A-7-6 (12)"


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (
            {"fines_percent": 60, "sand_percent": 20, "gravel_percent": 10, "liquid_limit": 40, "plasticity_index": 20},
            "shares-off",
        ),
        ({"fines_percent": 60, "liquid_limit": 40, "plasticity_index": 41}, "pi-above-ll"),
        ({"fines_percent": 60, "liquid_limit": 40, "plasticity_index": 35}, "above-u-line"),
        ({"passing_2_mm_percent": 40, "passing_0_425_mm_percent": 60}, "passing-rises"),
        # Exchanged, they gave no texture and nothing was said.
        ({"fines_percent": 60, "finer_0_05_mm_percent": 14, "clay_percent": 38}, "passing-rises"),
        (
            {
                "fines_percent": 60,
                "liquid_limit": 60,
                "plasticity_index": 30,
                "liquid_limit_oven_dried": 40,
                "organic_look": "no",
            },
            "organic-by-limit",
        ),
    ],
)
def test_facts_that_cannot_be(readings, code):
    assert code in METHOD.reduce_raw(readings).codes()


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        ({"fines_percent": 2, "gravel_percent": 40, "uniformity": 3, "curvature": 9}, "curvature-off"),
        ({"fines_percent": 2, "gravel_percent": 40, "uniformity": 8, "curvature": 0.1}, "curvature-off"),
        ({"fines_percent": 10, "gravel_percent": 60, "passing_2_mm_percent": 70}, "gravel-off"),
        ({"fines_percent": 30, "gravel_percent": 0, "clay_percent": 45}, "clay-above-fines"),
        ({"fines_percent": 60, "gravel_percent": 0, "passing_0_075_mm_percent": 35}, "fines-twice"),
    ],
)
def test_shares_that_are_not_of_one_soil_stop(readings, code):
    result = METHOD.reduce_raw(readings | {"liquid_limit": 40, "plasticity_index": 20})
    assert code in result.codes()
    assert not result.reportable


def test_peat_has_no_group_index():
    result = METHOD.reduce_raw({"peat": "yes", "fines_percent": 80, "gravel_percent": 0})
    assert result.parameter("highway_group").text == "A-8"
    assert result.parameter("group_index") is None


@pytest.mark.parametrize(("dried", "limit"), [(33, 44), (45.3, 60.4), (0.3, 0.4)])
def test_a_ratio_of_three_quarters_is_not_below_it(dried, limit):
    facts = {"fines_percent": 95, "gravel_percent": 0, "plasticity_index": 10, "liquid_limit": limit}
    assert METHOD.reduce_raw(facts | {"liquid_limit_oven_dried": dried}).parameter("group_symbol").text[0] != "O"


def test_what_the_limits_are_of_is_said():
    context = {"liquid_limit": 60, "plasticity_index": 20, "by_cone": True, "air_dried": True}
    assert METHOD.reduce_raw({"fines_percent": 95, "gravel_percent": 0}, None, context).codes() == ["by-cone"]
    compared = METHOD.reduce_raw({"liquid_limit_oven_dried": 40}, None, context)
    assert set(compared.codes()) == {"by-cone", "air-dried"}


def test_the_oven_dried_limit_of_another_test_decides_and_stands_in_its_cell():
    context = {"liquid_limit": 75, "plasticity_index": 27, "liquid_limit_oven_dried": 52}
    result = METHOD.reduce_raw({"fines_percent": 96, "gravel_percent": 0}, None, context)
    assert result.parameter("group_symbol").text == "OH"
    assert result.expected["liquid_limit_oven_dried"] == (52, 52)


def test_organic_soil_is_decided_by_the_oven_dried_limit():
    facts = {"fines_percent": 95, "sand_percent": 5, "gravel_percent": 0, "liquid_limit": 60, "plasticity_index": 20}
    assert METHOD.reduce_raw(facts | {"organic_look": "yes"}).parameter("group_symbol").text == "OH or MH"
    assert METHOD.reduce_raw(facts | {"liquid_limit_oven_dried": 45}).parameter("group_symbol").text == "MH"
    assert METHOD.reduce_raw(facts | {"liquid_limit_oven_dried": 44.9}).parameter("group_symbol").text == "OH"


def test_an_organic_soil_whose_plastic_limit_is_not_measured_yet_waits_for_its_name():
    """ASTM D2487 (2017), figure 2: organic clay and organic silt are one symbol, PI against the A-line tells which."""
    limits = {"liquid_limit": 60, "liquid_limit_oven_dried": 40}
    facts = {"fines_percent": 95, "sand_percent": 5, "gravel_percent": 0} | limits
    said = METHOD.reduce_raw(facts)
    assert (said.parameter("group_symbol").text, said.complete) == ("OH", False)
    assert said.parameter("group_name").text == "Organic clay or organic silt"
    assert said.next_action == "OH, an organic clay or an organic silt: the plastic limit tells which."
    assert METHOD.reduce_raw(facts, {"first": "highway"}).parameter("group_symbol").text == "OH"
    for index, name in ((35, "Organic clay"), (20, "Organic silt")):
        done = METHOD.reduce_raw(facts | {"plasticity_index": index})
        assert (done.parameter("group_name").text, done.complete) == (name, True)


def test_other_tests_supply_the_facts_and_a_typed_one_wins():
    context = {
        "sieve_curve": {"points": [[0.075, 20], [0.425, 40], [2, 60], [4.75, 70], [75, 100]], "source": "test 3"},
        "liquid_limit": 35,
        "plasticity_index": 15,
    }
    measured = METHOD.reduce_raw({}, None, context)
    assert measured.parameter("group_symbol").text == "SC"
    assert measured.parameter("group_name").text == "Clayey sand with gravel"
    assert measured.expected["fines_percent"] == (20, 20)
    assert "test 3" in measured.school
    typed = METHOD.reduce_raw({"fines_percent": 55, "sand_percent": 20, "gravel_percent": 25}, None, context)
    assert typed.parameter("group_symbol").text == "CL"
    assert "typed-over-measured" in typed.codes()


def test_non_plastic_comes_from_the_plastic_limit():
    context = {"non_plastic": True}
    assert (
        METHOD.reduce_raw({"fines_percent": 80, "gravel_percent": 0}, None, context).parameter("group_symbol").text
        == "ML"
    )


def test_the_highway_system_can_speak_first():
    facts = {"fines_percent": 62, "gravel_percent": 8, "liquid_limit": 45, "plasticity_index": 22}
    result = METHOD.reduce_raw(facts, {"first": "highway"})
    assert result.parameters[0].text == "A-7-6 (12)"
    assert result.figures[0].key == "highway"


def test_cobbles_join_the_name():
    facts = {"fines_percent": 2, "gravel_percent": 85, "uniformity": 8, "curvature": 2, "cobbles": "cobbles"}
    assert METHOD.reduce_raw(facts).parameter("group_name").text == "Well-graded gravel with cobbles"

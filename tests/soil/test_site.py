"""What the tests of a site say together: spread, spread_by_layer, cautious value, figures."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.drawing import render
from vadum.soil.bench.position import Position
from vadum.soil.registry import METHODS
from vadum.soil.site import QUANTITIES, spread, spread_by_layer, values_from
from vadum.soil.site.figures import consistency_figure, depth_figure, gradings_figure, limits_figure, place_figure
from vadum.soil.site.map import Sited
from vadum.soil.site.values import Value

BY_KEY = {q.key: q for q in QUANTITIES}
MEASURED = st.lists(st.floats(0.5, 500), min_size=3, max_size=30)


def value(key, reported, location="BH1", sample="U1", top=1.0, test=1):
    return Value(BY_KEY[key], location, sample, top, top + 0.4, test, reported, f"{reported:g}")


@pytest.mark.parametrize(
    ("n", "t"), [(3, 2.920), (4, 2.353), (5, 2.132), (11, 1.812), (31, 1.697)], ids="n={}".format
)  # one-sided 95 % points of Student's t, as printed in tables
def test_the_cautious_mean_follows_the_printed_points_of_t(n, t):
    values = np.linspace(40, 60, n)
    found = spread(values.tolist(), "low")
    assert found.cautious == pytest.approx(values.mean() - t * values.std(ddof=1) / np.sqrt(n), rel=2e-4)
    assert spread(values.tolist(), "high").cautious == pytest.approx(2 * values.mean() - found.cautious)


def test_five_strengths_by_hand():
    # mean 50, s = sqrt(1000 / 4) = 15.81, 50 - 2.132 * 15.81 / sqrt(5) = 34.93
    found = spread([30.0, 40.0, 50.0, 60.0, 70.0], "low")
    assert (found.n, found.least, found.most, found.mean) == (5, 30.0, 70.0, 50.0)
    assert found.deviation == pytest.approx(15.811, abs=1e-3)
    assert found.cautious == pytest.approx(34.93, abs=0.01)


def test_conductivities_spread_by_factors():
    found = spread([1.0, 10.0, 100.0], "low", log=True)
    assert found.mean == pytest.approx(10.0)
    assert found.deviation == pytest.approx(10.0)
    # 10 ** (1 - 2.920 / sqrt(3))
    assert found.cautious == pytest.approx(10 ** (1 - 2.920 / np.sqrt(3)), rel=1e-3)
    assert found.cautious > 0
    assert not spread([0.0, 1.0, 2.0], log=True).factor, "a zero has no logarithm"


@pytest.mark.parametrize("few", [[7.0], [7.0, 9.0]])
def test_of_fewer_than_three_nothing_is_suggested(few):
    assert spread(few, "low").cautious is None


def test_a_cautious_value_is_of_one_layer():
    """A dry density of 1.48 was suggested for a natural clay and a rolled gravel together: that of no ground."""
    clay, gravel = [("brown clay", v) for v in (1.56, 1.58, 1.60)], [("Brown clay ", 1.62), ("gravel", 1.93)]
    whole, *layers = spread_by_layer([*clay, *gravel], "low")
    assert (whole[0], whole[1].n, whole[1].cautious) == ("", 5, None)
    [(name, of_clay)] = layers
    assert (name, of_clay.n) == ("brown clay", 4), "however it was written; one value of gravel suggests nothing"
    assert of_clay.cautious == pytest.approx(spread([1.56, 1.58, 1.60, 1.62], "low").cautious)


@pytest.mark.parametrize("layer", ["", "clay"])
def test_where_one_layer_is_all_there_is_its_values_are_all(layer):
    [(name, found)] = spread_by_layer([(layer, v) for v in (40.0, 50.0, 60.0)], "low")
    assert name == ""
    assert found == spread([40.0, 50.0, 60.0], "low")


def test_values_of_ground_that_nobody_logged_are_of_no_layer():
    spreads = spread_by_layer([("clay", 40.0), ("clay", 50.0), ("", 60.0), ("", 70.0), ("", 80.0)], "low")
    assert [(name, found.n, found.cautious) for name, found in spreads] == [("", 5, None)]


def test_an_index_has_no_cautious_side():
    assert spread([20.0, 30.0, 40.0]).cautious is None
    assert {q.key for q in QUANTITIES if q.side} >= {
        "friction",
        "cohesion",
        "su_unconfined",
        "cbr",
        "ev2",
        "conductivity",
    }
    assert not any(
        BY_KEY[key].side
        for key in ("water_content", "liquid_limit", "plastic_limit", "plasticity_index", "fines_percent")
    )


@given(values=MEASURED, factor=st.floats(0.1, 10))
def test_units_and_order_do_not_matter(values, factor):
    one = spread(values, "low")
    assert spread(values[::-1], "low").cautious == pytest.approx(one.cautious, abs=1e-6)
    scaled = spread([factor * v for v in values], "low")
    assert scaled.cautious == pytest.approx(factor * one.cautious, rel=1e-6, abs=1e-6)
    assert 0 <= one.cautious <= one.mean + 1e-9
    assert one.least - 1e-9 <= one.mean <= one.most + 1e-9


@given(values=MEASURED)
def test_geometric_and_arithmetic_caution_stay_on_their_side(values):
    low, high = (spread(values, side, log=True) for side in ("low", "high"))
    assert low.cautious <= low.mean * (1 + 1e-9) <= high.cautious * (1 + 1e-8)
    assert low.cautious * high.cautious == pytest.approx(low.mean**2, rel=1e-6)


def test_every_source_of_a_quantity_is_a_parameter_that_its_method_gives():
    """A key that no method gives would leave a column empty for good."""
    rng = np.random.default_rng(5)
    given_keys = {}
    for method in METHODS.values():
        keys = set(method.headline)
        for _ in range(6):
            readings = method.virtual(method.a_soil(rng), method.Settings(), rng)
            keys |= {p.key for p in method.reduce(readings, method.Settings(), method.Context()).parameters}
        given_keys[method.code] = keys
    given_keys["hydrometer"] |= given_keys["sieve"]  # with a sieve beside it, it gives the joint fractions
    sources = {q.key: [(m, r) for m in METHODS.values() for r in m.results if r.quantity == q.key] for q in QUANTITIES}
    for quantity in QUANTITIES:
        assert any(result.key in given_keys[method.code] for method, result in sources[quantity.key]), quantity.key
        assert {result.unit for _, result in sources[quantity.key]} == {quantity.unit}
        if len(sources[quantity.key]) == 1:
            ((_, result),) = sources[quantity.key]
            assert quantity.symbol.startswith(result.symbol), quantity.key


def test_values_carry_their_place_and_leave_words_out():
    parameters = {
        "plastic_limit": {"reported": None, "text": "NP"},
        "plasticity_index": {"reported": 14.0, "text": "14"},
        "spread": {"reported": 0.3, "text": "0.3"},
    }
    (found,) = values_from(
        METHODS["plastic-limit"].results, parameters, location="TP4", sample="B3", top_m=2.4, base_m=2.7, test=10
    )
    assert (found.quantity.key, found.location, found.sample, found.reported, found.test) == (
        "plasticity_index",
        "TP4",
        "B3",
        14.0,
        10,
    )
    assert found.depth_m == pytest.approx(2.55)


def test_the_chart_shows_only_samples_with_both_limits():
    values = [value("liquid_limit", 62), value("plasticity_index", 38), value("liquid_limit", 44, sample="U5")]
    figure = limits_figure(values)
    assert [(m.x, m.y) for s in figure.series for m in s.marks] == [(62.0, 38.0)]
    assert limits_figure([value("liquid_limit", 62)]) is None
    assert "LL 62, PI 38" in figure.description


def test_water_content_stands_between_its_own_limits():
    values = [
        value("water_content", 33),
        value("plastic_limit", 24),
        value("liquid_limit", 62),
        value("water_content", 20, sample="U2", top=3.0),
    ]
    figure = consistency_figure(values)
    (bar,) = figure.lines
    assert bar.points == [(24.0, pytest.approx(1.2)), (62.0, pytest.approx(1.2))]
    assert figure.y.down
    assert figure.x.high > 62
    assert consistency_figure([]) is None


def test_many_gradings_become_an_envelope_that_holds_them_all():
    rng = np.random.default_rng(3)
    d = np.geomspace(0.001, 20, 15)
    curves = []
    for number in range(12):
        middle = rng.uniform(0.01, 2)
        finer = 100 / (1 + (middle / d) ** rng.uniform(0.7, 2))
        finer[-1] = 100.0
        curves.append((f"S{number}", [*zip(d.tolist(), finer.tolist(), strict=True)]))
    few, many = gradings_figure(curves[:3]), gradings_figure(curves)
    assert not few.regions
    assert [line.label for line in few.lines if line.label] == ["S0", "S1", "S2"]
    (region,) = many.regions
    half = len(region.points) // 2
    top, bottom = region.points[:half], region.points[half:][::-1]
    for _, points in curves:
        at = np.array([x for x, _ in points])
        percent = np.array([y for _, y in points])
        upper = np.interp(np.log(at), np.log([x for x, _ in top]), [y for _, y in top])
        lower = np.interp(np.log(at), np.log([x for x, _ in bottom]), [y for _, y in bottom])
        # The envelope is drawn through sixty diameters: between them it may cut a bend by a little.
        assert (percent <= upper + 2).all()
        assert (percent >= lower - 2).all()
    assert not any(line.label for line in many.lines if line.role == "company"), "no room for twelve names"


def test_a_profile_is_drawn_as_one_line_downward():
    figure = depth_figure(
        [value("su_unconfined", 92)],
        ["su_unconfined", "su_vane"],
        key="s",
        title="t",
        label="undrained strength",
        unit="kPa",
        profiles=[("BH2 vane", [(30.0, 0.6), (25.0, 1.2)])],
    )
    assert [line.points for line in figure.lines] == [[(30.0, 0.6), (25.0, 1.2)]]
    assert "92 kPa at 1.20 m" in figure.description
    assert depth_figure([], ["su_unconfined"], key="s", title="t", label="x", unit="kPa") is None


def test_results_of_one_place_share_a_label():
    here, there = Position(52.1, -1.2), Position(52.2, -1.2)
    figure = place_figure(
        [Sited(here, "CBR 9 %"), Sited(there, "CBR 4 %"), Sited(here, "Ev2 96 MPa")], key="b", title="B"
    )
    assert sorted(m.label for m in figure.series[0].marks) == ["CBR 4 %", "CBR 9 %, Ev2 96 MPa"]
    assert place_figure([], key="b", title="B") is None


@pytest.mark.parametrize("make", [limits_figure, consistency_figure])
@given(data=st.data())
def test_any_site_can_be_drawn(make, data):
    numbers = st.floats(0.1, 400)
    values = [
        value(key, data.draw(numbers), sample=f"U{i}", top=data.draw(st.floats(0, 80)))
        for i in range(data.draw(st.integers(1, 5)))
        for key in ("water_content", "liquid_limit", "plastic_limit", "plasticity_index")
    ]
    svg = render(make(values), 560, 330, theme="print")
    assert svg.startswith("<svg")
    assert "nan" not in svg.casefold().replace("dominant", "")


def test_many_profiles_are_lines_alone_and_few_keep_their_marks_and_names():
    points = [(30.0, 0.6), (25.0, 1.2)]
    few, many = (
        depth_figure([], [], key="s", title="t", label="x", unit="kPa", profiles=[(f"V{i}", points) for i in range(n)])
        for n in (3, 12)
    )
    assert [m.label for s in few.series for m in s.marks if m.label] == ["V0", "V1", "V2"]
    assert many.series == []
    assert len(many.lines) == 12

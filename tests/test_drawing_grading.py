"""Bands, named places, paths, hidden axes and grains of the ground column."""

import re
from itertools import pairwise

import pytest

from vadum.drawing import render
from vadum.drawing.column import Layer, Pin, Texture, draw_ground
from vadum.soil.bench.grading.figure import grading_figure, sample_figure
from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.bench.phases import Phases, phase_diagram
from vadum.soil.classify.texture import texture_triangle
from vadum.soil.contract.figure import Fork, Path
from vadum.soil.physics.grading import Curve

CURVE = Curve.through([0.002, 0.02, 0.075, 0.425, 2.0, 4.75], [10, 30, 45, 70, 95, 100])


def texts(svg):
    return re.findall(r"<text[^>]*>([^<]*)</text>", svg)


def xs_of(svg, words):
    return [float(x) for x in re.findall(rf'<text[^>]*x="([\d.]+)"[^>]*>{re.escape(words)}</text>', svg)]


def test_bands_stand_above_their_stretch_of_the_axis():
    svg = render(grading_figure([], CURVE, "unified"), 640, 420)
    order = [xs_of(svg, name)[0] for name in ("clay", "silt", "sand", "gravel")]
    assert order == sorted(order)
    # Sand is divided, and its parts lie within it.
    assert {"fine", "medium"} <= set(texts(svg))


def test_names_of_sieves_never_overlap():
    svg = render(grading_figure([], CURVE, "unified"), 420, 300)
    placed = [(float(x), len(name)) for x, name in re.findall(r'class="vf-tiny" x="([\d.]+)"[^>]*>([^<]*)<', svg)]
    for (x1, n1), (x2, n2) in pairwise(placed):
        assert x2 - x1 > 0.5 * 11 * 0.5 * (n1 + n2)


@pytest.mark.parametrize(("convention", "name"), [(Convention.UNIFIED, "No. 200"), (Convention.ISO, "0.063")])
def test_sieves_are_named_as_the_convention_does(convention, name):
    assert name in " ".join(texts(render(grading_figure([], CURVE, convention), 900, 500))).replace("No. 230", "0.063")


def test_company_is_drawn_in_its_own_line_and_named():
    figure = sample_figure(
        CURVE, Curve.through([], []), "unified", [("TP9 B1", [(0.01, 20.0), (0.1, 60.0), (1.0, 100.0)]), ("empty", [])]
    )
    svg = render(figure, 640, 420)
    assert svg.count("vf-line-company") == 1
    assert "TP9 B1" in texts(svg)
    assert "empty" not in svg


def test_d_values_drop_to_the_axis():
    figure = grading_figure([], CURVE, "unified")
    d60 = next(line for line in figure.lines if line.key == "d60")
    assert d60.points[1] == (pytest.approx(CURVE.diameter_at(60)), 60)
    assert d60.points[2][1] == 0


FORKS = [
    Fork(question="Fines 50 % or more?", answer="62 % fines", taken="fine-grained", others="GW, GP, SW, SP"),
    Fork(question="LL?", answer="not known", taken="needs LL", open=True),
]


@pytest.mark.parametrize("theme", [None, "light", "dark", "print"])
def test_a_path_tells_every_fork(theme):
    path = Path(
        key="unified",
        title="Unified",
        description="as told",
        forks=FORKS,
        end="CL or ML",
        end_note="still possible: CL, ML",
    )
    svg = render(path, 600, 500, theme)
    told = " ".join(texts(svg))
    for words in ("Fines 50 % or more?", "62 % fines: fine-grained", "GW, GP, SW, SP", "CL or ML"):
        assert words in told
    assert svg.count("vf-knot-open") >= 1
    assert ("var(--" in svg) == (theme is None and "var(--" in svg)


def test_a_long_path_stays_within_its_height():
    path = Path(key="p", title="t", description="d", forks=FORKS[:1] * 9, end="CL")
    svg = render(path, 500, 420)
    assert max(float(y) for y in re.findall(r'y="([\d.]+)"', svg)) <= 420


def test_words_are_escaped():
    path = Path(
        key="p", title="a < b", description="d", forks=[Fork(question="<x>", answer="&", taken="y")], end="<CL>"
    )
    svg = render(path, 500, 420)
    assert "<x>" not in svg
    assert "&lt;x&gt;" in svg


def test_a_hidden_axis_has_neither_ticks_nor_title():
    svg = render(texture_triangle(40, 40, 20), 500, 450)
    assert "this sample" in texts(svg)
    assert not re.search(r">0\.\d<", svg)
    assert 'class="vf-axis"' not in svg
    bars = render(phase_diagram(Phases(1.6, 20, 2.7)), 500, 450)
    assert {"by volume", "by mass"} <= set(texts(bars))
    assert "share, %" in texts(bars)


def test_the_field_of_the_sample_is_the_only_chosen_one():
    svg = render(texture_triangle(40, 40, 20), 500, 450)
    assert svg.count('class="vf-chosen"') == 1
    assert render(texture_triangle(None, None, None), 500, 450).count("vf-chosen") == 0


def column(texture, **pin):
    pins = [Pin(1.0, 1.3, "B1", "running", "/samples/1", "Sample B1", **pin)]
    return draw_ground("k", 4.0, [Layer(0.5, 3.0, "sand", texture)], pins, width=300, height=420)


def grains(svg):
    return [(kind, float(r)) for kind, r in re.findall(r'class="gc-(dot|open)"[^>]*r="([\d.]+)"', svg)]


def test_grains_are_as_many_and_as_large_as_the_curve_says():
    sandy = grains(column(Texture(3, grading=((0.075, 5.0), (0.3, 60.0), (2.0, 100.0)))))
    gravelly = grains(column(Texture(3, grading=((0.075, 5.0), (4.75, 40.0), (37.5, 100.0)))))
    silty = grains(column(Texture(3, grading=((0.002, 10.0), (0.075, 90.0), (0.4, 100.0)))))
    assert len(silty) < len(sandy) / 4
    assert not any(kind == "open" for kind, _ in sandy)
    assert sum(kind == "open" for kind, _ in gravelly) > len(gravelly) / 3
    assert max(r for _, r in gravelly) > max(r for _, r in sandy)


def test_the_column_never_flickers():
    texture = Texture(7, plasticity_index=20, grading=((0.01, 30.0), (0.075, 60.0), (2.0, 100.0)))
    assert column(texture) == column(texture)
    assert "gc-wave" in column(texture)


@pytest.mark.parametrize("count", [3, 6, 9, 14])
def test_many_tests_of_a_sample_keep_within_the_column(count):
    marks = tuple(("reduced", "LL", f"Liquid limit {i}") for i in range(count))
    svg = column(None, marks=marks, group="SW")
    more = re.search(r">\+(\d+)<", svg)
    assert svg.count("<title>Liquid limit") == count - (int(more[1]) if more else 0)
    assert ">LL<" not in svg
    assert float(re.search(r'class="gc-group" x="([\d.]+)"', svg)[1]) < 300 - 20
    assert (more is None) == (count < 8)
    assert ">LL<" in column(None, marks=marks[:2])


def test_where_other_roads_lead_stands_clear_of_a_question_as_long_as_the_paper_is_wide():
    fork = Fork(question="Organic: LL after oven drying below 0.75 of LL?", answer="no", taken="not", others="OL")
    path = Path(key="p", title="t", description="d", forks=[fork] * 5, end="CL")
    texts = re.findall(r'<text class="vf-soft" x="([\d.]+)" y="([\d.]+)">([^<]+)<', render(path, 350, 360))
    questions = [float(y) for _, y, words in texts if words.endswith("LL?")]
    for x, y, words in texts:
        if words == "OL":
            assert float(x) > 240
            assert min(abs(float(y) - at) for at in questions) > 13, "a line of 13 px"

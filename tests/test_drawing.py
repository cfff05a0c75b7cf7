"""The renderer: scales, ticks, labels, what a file and a page each carry."""

import re
import xml.etree.ElementTree as ET
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.drawing import THEMES, render
from vadum.drawing.labels import Box, Labels, text_width
from vadum.drawing.render import TOP
from vadum.drawing.scale import Scale, linear_ticks, log_ticks
from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Region, Series


def test_scales_at_their_ends_and_in_the_middle():
    assert Scale(Axis(label="", low=0, high=10), 100, 200)(5) == 150
    assert Scale(Axis(label="", scale="log", low=1, high=100), 0, 100)(10) == pytest.approx(50)
    assert Scale(Axis(label="", scale="root-time", low=0, high=100), 0, 100)(25) == pytest.approx(50)
    assert Scale(Axis(label="", scale="log", low=1, high=100), 0, 100)(0) == -200, "never at infinity"


@given(st.floats(-1e4, 1e4), st.floats(0.01, 1e4))
def test_linear_ticks_are_inside_round_and_even(low, span):
    ticks = linear_ticks(low, low + span, 6)
    assert all(low - span * 1e-6 <= tick <= low + span * (1 + 1e-6) for tick in ticks)
    assert 2 <= len(ticks) <= 14
    steps = {round(b - a, 6) for a, b in pairwise(ticks)}
    assert max(steps) - min(steps) <= 1e-5 * span + 2e-6


def test_log_and_root_ticks():
    assert log_ticks(0.01, 1) == [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0]
    assert log_ticks(1e-4, 100) == [1e-4, 1e-3, 1e-2, 0.1, 1, 10, 100]
    roots = Scale(Axis(label="", scale="root-time", low=0, high=100), 0, 400).ticks()
    assert roots == [0, 4, 16, 36, 64, 100]


@given(st.lists(st.tuples(st.floats(20, 380), st.floats(20, 380)), min_size=1, max_size=25))
def test_labels_never_overlap_or_leave_the_plot(points):
    labels, boxes = Labels(Box(0, 0, 400, 400)), []
    for x, y in points:
        labels.keep_clear(x, y, 7)
    for x, y in points:
        if spot := labels.place("T-14", x, y):
            boxes.append(Box(spot.x, spot.y - 10, spot.x + text_width("T-14", 13), spot.y + 2))
    assert all(min(box.left, box.top) >= 0 and max(box.right, box.bottom) <= 400 for box in boxes)
    assert not any(a.overlaps(b) for i, a in enumerate(boxes) for b in boxes[i + 1 :])


def test_a_label_prefers_to_stay_off_lines_but_is_never_dropped_for_one():
    labels = Labels(Box(0, 0, 200, 200))
    labels.keep_lines_clear([("", [(110, 0), (110, 200)])])
    assert labels.place("here", 100, 100).x < 75, "left of the point, away from the line"
    hemmed = Labels(Box(0, 0, 200, 200))
    for x in range(0, 201, 10):
        hemmed.keep_lines_clear([("", [(x, 0), (x, 200)])])
    assert hemmed.place("here", 100, 100) is not None


def test_a_lines_label_stands_nearer_to_its_line_than_to_any_other_named_one():
    labels = Labels(Box(0, 0, 400, 200))
    for height, name in ((80, "above"), (100, "below")):
        labels.keep_lines_clear([(name, [(0, height), (400, height)])])
    above = labels.name_line("above", "second loading", iter([(200, 80)]))
    below = labels.name_line("below", "unloading", iter([(200, 100)]))
    assert above.y < 80, "not between the two lines"
    assert below.y - 10 > 100


def test_a_line_of_many_points_to_a_pixel_is_kept_clear_once():
    labels = Labels(Box(0, 0, 400, 200))
    labels.keep_lines_clear([("", [(i / 10, 100) for i in range(4001)])])
    assert len(labels.strips) < 200


FIGURE = Figure(
    key="demo",
    title="A <title> & more",
    description="words",
    caption="caption",
    x=Axis(label="time", unit="min", scale="root-time", low=0, high=100),
    y=Axis(label="s", unit="mm", low=0, high=5),
    regions=[Region(key="r", label="zone", role="zone", points=[(0, 0), (10, 0), (10, 2)])],
    lines=[Line(key="l", label="tangent", points=[(0, 0), (100, 5)], role="construction")],
    series=[
        Series(
            key="s",
            label="",
            marks=[Mark(x=9, y=1, label="9", path="rows.0"), Mark(x=25, y=2, left_out=True, path="rows.1")],
        )
    ],
    handles=[Handle(setting="zero", label="zero", x=4, y=1, along="y", low=0, high=5, step=0.1)],
)


def test_a_page_gets_operable_parts_and_a_file_gets_fixed_colours():
    page = ET.fromstring(render(FIGURE, operable=True))
    roles = [e.get("role") for e in page.iter() if e.get("role")]
    assert roles == ["group", "button", "button", "slider"]
    # Where nothing may be changed a point still tells its values, and nothing can be pressed.
    locked = ET.fromstring(render(FIGURE))
    assert [e.get("role") for e in locked.iter() if e.get("role")] == ["img"]
    assert [e.get("data-values") for e in locked.iter() if e.get("data-values")] == ["9 min, 1 mm", "25 min, 2 mm"]
    assert not [e for e in locked.iter() if e.get("tabindex")]
    assert page.find("{*}style") is None
    for theme in THEMES:
        text = render(FIGURE, theme=theme)
        file = ET.fromstring(text)
        assert file.get("role") == "img"
        assert "var(--" not in text
        assert "tabindex" not in text
        assert file.find("{*}title").text == "A <title> & more"


def test_the_left_out_point_is_a_cross_not_a_circle():
    svg = render(FIGURE, theme="print")
    assert svg.count('class="vf-point"') == 1
    assert svg.count('class="vf-out"') == 1


@pytest.mark.parametrize(
    ("x", "y", "edge", "turned"),
    [(4, 9, (300, TOP), -90), (4, -45.6, (300, 568), 90), (400, 2, (640, 400), 0), (400, 9, (640, TOP), None)],
)
def test_a_reading_beyond_the_plot_points_from_its_edge_and_is_never_lost(x, y, edge, turned):
    """Of a wrong reading the figure says where it lies; drawn there it would stand on the headings or not at all."""
    plain = replace(FIGURE, series=[Series(key="s", label="", marks=[Mark(x=x, y=y, path="rows.0")])], regions=[])
    drawn = ET.fromstring(render(plain, 660, 620, operable=True))
    (mark,) = [e for e in drawn.iter() if e.get("data-path") == "rows.0"]
    (arrow,) = [e for e in mark.iter() if e.get("class") == "vf-beyond"]
    at, angle = re.fullmatch(r"translate\((.+)\) rotate\((.+)\)", arrow.get("transform")).groups()
    left, top = (float(n) for n in at.split())
    assert (top if y > 5 or y < 0 else left) == (edge[1] if y > 5 or y < 0 else edge[0])
    assert turned is None or float(angle) == turned
    assert f"{y:.4g} mm" in mark.get("aria-label")
    assert "beyond the figure" in mark.get("aria-label")
    assert "vf-point" not in ET.tostring(mark, "unicode")
    assert not any(e.get("class") == "vf-beyond" for e in ET.fromstring(render(FIGURE)).iter())

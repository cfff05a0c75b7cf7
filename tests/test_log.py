"""The log of a location: everything to one scale, nothing over anything else."""

import re
from xml.etree import ElementTree

from hypothesis import given
from hypothesis import strategies as st

from vadum.drawing.column import Layer, Texture
from vadum.drawing.log import Reading, Taken, Track, draw_log

WIDTH, HEIGHT = 700.0, 790.0
LAYERS = [Layer(0.0, 0.4, "topsoil"), Layer(0.4, 2.0, "brown clay", Texture(1, 38.0)), Layer(2.0, 4.0, "silt")]
TRACK = Track("w, %", "bar: PL to LL", 80.0, [Reading(33.0, 0.6, 0.9, (24.0, 62.0)), Reading(22.0, 2.4, 2.7)])


def drawn(samples=(), tracks=(), layers=tuple(LAYERS), depth=4.0):
    svg = draw_log("x", depth, list(layers), list(samples), list(tracks), width=WIDTH, height=HEIGHT)
    return ElementTree.fromstring(svg)


def texts(root):
    return [(float(e.get("x")), float(e.get("y")), e.text or "") for e in root.iter("{http://www.w3.org/2000/svg}text")]


def circles(root):
    return [
        (float(e.get("cx")), float(e.get("cy")))
        for e in root.iter("{http://www.w3.org/2000/svg}circle")
        if e.get("class") == "gc-value"
    ]


def test_a_value_stands_at_its_depth_and_its_share_of_the_track():
    root = drawn(tracks=[TRACK])
    (x0, y0), (_, y1) = circles(root)
    ticks = {float(t): (x, y) for x, y, t in texts(root) if re.fullmatch(r"\d+", t) and x > 500}
    zero, fifty = ticks[0.0][0], ticks[50.0][0]
    assert abs((x0 - zero) / (fifty - zero) * 50 - 33) < 0.1
    depths = {float(t): y for x, y, t in texts(root) if x < 60 and re.fullmatch(r"[\d.]+", t)}
    per_m = (depths[4.0] - depths[0.0]) / 4
    assert abs((y1 - y0) / per_m - (2.55 - 0.75)) < 0.01


def test_words_of_a_layer_stay_within_it():
    thin = [Layer(0.0, 1.0, "made ground of brick, ash, glass and clay, loose, wet, with roots and a smell of oil" * 3)]
    root = drawn(layers=[*thin, Layer(1.0, 4.0, "clay")])
    below = next(y for _, y, t in texts(root) if t.startswith("1–4 m"))
    above = [y for x, y, t in texts(root) if 100 < x < 200 and y < below and t not in ("ground",)]
    assert max(above) < below - 12


def test_results_of_a_sample_with_a_long_name_stand_below_it():
    name = "Undisturbed sample tube no. 2026-0147-U3, lower half, resealed in the laboratory"
    root = drawn([Taken(name, 1.0, 1.4, "w 22 %"), Taken("B1", 1.5, 1.6, "LL 40")], [TRACK])
    at = {t: (x, y) for x, y, t in texts(root)}
    lines = [t for t in at if len(t) > 8 and t in name]
    assert " ".join(lines) == name
    assert at["w 22 %"][1] == at[lines[-1]][1] + 14
    assert at["LL 40"][1] == at["B1"][1] > at["w 22 %"][1] + 10


@given(tops=st.lists(st.floats(0, 3.6), min_size=1, max_size=14), words=st.text("abc ", max_size=60))
def test_samples_close_together_never_write_over_each_other(tops, words):
    samples = [Taken(f"S{i}", top, top + 0.3, words) for i, top in enumerate(tops)]
    labels = sorted(y for _, y, t in texts(drawn(samples, [TRACK])) if re.fullmatch(r"S\d+", t))
    assert len(labels) == len(tops)
    # The last ones of a crowded foot share what room there is; the drawing never leaves its page.
    assert labels[-1] <= HEIGHT


def test_signs_in_names_are_not_markup():
    root = drawn([Taken("<B&1>", 1.0, 1.3, "w < 5 & more")])
    assert any(t == "<B&1>" for _, _, t in texts(root))

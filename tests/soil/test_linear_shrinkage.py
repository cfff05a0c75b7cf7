"""Linear shrinkage: worked by hand, recovered from virtual bars, and each slip with its finding."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.methods.linear_shrinkage.equations import linear_shrinkage_percent, plasticity_index_estimate
from vadum.soil.registry import method

METHOD = method("linear-shrinkage")


def bar(mould=140.0, top=119.0, bottom=119.0, **more):
    return {"length_mould_mm": mould, "length_top_mm": top, "length_bottom_mm": bottom} | more


def reduce(*bars, settings=None, context=None, **more):
    return METHOD.reduce_raw({"bars": list(bars), **more}, settings, context)


def test_a_bar_of_140_that_dries_to_119_shrinks_by_15_percent():
    # BS 1377-2 clause 6.5: 100 (1 - 119/140) = 15.0; the guide to the plasticity index is 2.13 x 15 = 31.95.
    assert linear_shrinkage_percent(140.0, 119.0) == pytest.approx(15.0)
    assert plasticity_index_estimate(15.0) == pytest.approx(31.95)
    result = reduce(bar())
    assert result.parameter("linear_shrinkage").text == "15"
    assert result.parameter("plasticity_index_estimate").text == "32"
    assert result.reportable
    assert result.findings == []


def test_of_a_curved_bar_the_mean_of_both_faces_counts():
    result = reduce(bar(top=116.0, bottom=122.0, state="curved"))
    assert result.parameter("linear_shrinkage").value == pytest.approx(15.0)
    assert result.findings == []


def test_a_bar_that_does_not_shrink_and_no_soil_at_all_are_the_limits():
    assert reduce(bar(top=140.0, bottom=140.0)).parameter("linear_shrinkage").value == pytest.approx(0.0)
    assert not reduce().complete
    assert reduce().next_action.startswith("Fill mould 1 of 1")


@pytest.mark.parametrize(
    ("bars", "more", "code", "severity"),
    [
        ([bar(mould=119.0, top=140.0, bottom=140.0)], {}, "dry-longer", "stop"),
        ([bar(state="in pieces")], {}, "in-pieces", "stop"),
        ([bar(state="cracked")], {}, "cracked", "warn"),
        ([bar(bottom=None, state="curved")], {}, "one-face", "warn"),
        ([bar(top=115.0, bottom=123.0)], {}, "faces-apart", "warn"),
        ([bar(top=131.0, bottom=116.0, state="curved")], {}, "bent-too-far", "warn"),
        ([bar(top=116.0, bottom=161.0, state="curved")], {}, "face-longer", "warn"),
        ([bar(mould=100.0, top=90.0, bottom=90.0)], {}, "mould-length", "warn"),
        ([bar()], {"mixed_at": "drier"}, "not-at-limit", "warn"),
        ([bar(), bar(top=112.0, bottom=112.0)], {}, "bars-apart", "warn"),
        ([bar(top=11.9, bottom=11.9)], {}, "impossible-result", "stop"),
        ([bar(top=92.0, bottom=92.0)], {}, "unusual-result", "warn"),
    ],
)
def test_each_slip_is_named_with_its_reading(bars, more, code, severity):
    found = {finding.code: finding for finding in reduce(*bars, **more).findings}
    assert code in found
    assert found[code].severity == severity
    assert found[code].action


def test_a_plasticity_far_from_the_guide_is_worth_a_look():
    near = reduce(bar(), context={"plasticity_index": {"value": 30.0, "source": "test 3"}})
    far = reduce(bar(), context={"plasticity_index": {"value": 8.0, "source": "test 3"}})
    assert near.codes() == []
    assert far.codes() == ["far-from-plasticity"]
    assert far.reportable


def test_a_bar_left_out_does_not_count_and_the_next_one_is_asked_for():
    result = reduce(bar(), bar(top=100.0, bottom=100.0, left_out="fell"), settings={"needed": 2})
    assert not result.complete
    assert result.next_action.startswith("Fill mould 2 of 2")
    assert reduce({"length_mould_mm": 140.0}).next_action.startswith("Dry in air")


def test_virtual_bars_give_their_shrinkage_back():
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        soil = METHOD.a_soil(rng)
        result = METHOD.reduce(METHOD.virtual(soil, METHOD.Settings(), rng), METHOD.Settings(), METHOD.Context())
        assert result.findings == []
        # Lengths are read to 0.1 mm of 140.
        assert result.parameter("linear_shrinkage").value == pytest.approx(soil, abs=0.1)


def test_the_bars_are_drawn_in_their_moulds():
    (figure,) = reduce(bar()).figures
    assert [region.label for region in figure.regions] == ["bar 1: LS 15.0 %"]
    assert max(x for x, _ in figure.regions[0].points) == 119.0

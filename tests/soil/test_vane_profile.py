"""The vane by depth: tapered blades, a PI of each depth, the line of strength on depth."""

from math import cos, log10, pi, radians

import numpy as np
import pytest

from vadum.soil.methods.vane import equations as eq
from vadum.soil.registry import METHODS

VANE = METHODS["vane"]
HEAD = {"instrument": "torque-head"}


def value(result, key):
    return next((p.value for p in result.parameters if p.key == key), None)


def profile(torques, **of_vane):
    rows = [
        {"depth_m": round(0.5 + 0.2 * i, 1), "peak": t, "remoulded": t / 4, "friction": 0.5}
        for i, t in enumerate(torques)
    ]
    frame = {"diameter_mm": 65, "height_mm": 130, "soil": "clay", "pin_drawn": "yes", "services_located": "yes"}
    return frame | {"profile": rows} | of_vane


@pytest.mark.parametrize(("top", "bottom"), [(0, 0), (0, 45), (45, 45), (60, 30)])
def test_the_moment_of_a_tapered_vane_by_another_way(top, bottom):
    """A side turns in pi D H / 2 times D / 2; a cone's area, cut in rings, at its own radius: summed by hand."""
    d, h = 0.065, 0.130
    side = pi * d * h * d / 2
    radii = (np.arange(20_000) + 0.5) * d / 2 / 20_000
    ring = d / 2 / 20_000
    ends = sum(float((2 * pi * radii * ring / cos(radians(angle)) * radii).sum()) for angle in (top, bottom))
    assert eq.vane_constant_m3(65, 130, top, bottom) == pytest.approx(side + ends, rel=1e-6)


def test_a_taper_lowers_the_strength_and_stands_in_the_derivation():
    plain = VANE.reduce_raw(profile([20, 20, 20]), HEAD)
    tapered = VANE.reduce_raw(profile([20, 20, 20], taper_top_deg=45, taper_bottom_deg=45), HEAD)
    # H = 2 D: (6 + √2) / 7 of the rectangular vane's moment.
    assert value(plain, "su_mean") / value(tapered, "su_mean") == pytest.approx((6 + 2**0.5 - 0) * 2 / 14, rel=1e-3)
    assert any("cos it" in step.formula for step in tapered.derivation)
    assert not any("cos it" in step.formula for step in plain.derivation if step.symbol == "su")


def test_each_vane_has_its_own_taper():
    readings = profile([20, 20, 20], others=[{"vane": 2, "diameter_mm": 65, "height_mm": 130, "taper_bottom_deg": 45}])
    readings["profile"][1]["vane"] = 2
    cells = VANE.reduce_raw(readings, HEAD | {"vanes": "several"}).computed
    assert cells["profile.0.su_kpa"] > cells["profile.1.su_kpa"] == cells["profile.2.su_kpa"]


def test_a_plasticity_index_by_depth_corrects_from_there_on():
    """PI 30 from the top, 70 from the second depth: Bjerrum's 1.7 - 0.54 log PI, 0.902 and 0.704."""
    readings = profile([20, 20, 20], plasticity_index=30)
    readings["profile"][1]["plasticity_index"] = 70
    result = VANE.reduce_raw(readings, HEAD | {"plasticity": "each"})
    by_hand = [1.7 - 0.54 * log10(pi_) for pi_ in (30, 70, 70)]
    for i, mu in enumerate(by_hand):
        cells = result.computed
        assert cells[f"profile.{i}.corrected_kpa"] / cells[f"profile.{i}.su_kpa"] == pytest.approx(mu, abs=1e-6)
    assert value(result, "su_corrected_mean") == pytest.approx(sum(by_hand) / 3 * value(result, "su_mean"), rel=1e-6)
    assert "PI 30-70 by depth" in result.school
    assert sum("PI" in step.put_in for step in result.derivation) == 2
    # With one PI for the profile the column is not asked for and not used.
    one = VANE.reduce_raw(readings, HEAD)
    assert one.computed["profile.2.corrected_kpa"] > cells["profile.2.corrected_kpa"]


def test_depths_above_the_first_known_index_are_not_corrected_and_it_is_said():
    readings = profile([20, 20, 20])
    readings["profile"][1]["plasticity_index"] = 70
    result = VANE.reduce_raw(readings, HEAD | {"plasticity": "each"})
    assert "profile.0.corrected_kpa" not in result.computed
    assert value(result, "su_corrected_mean") is None
    assert "plasticity-unknown" in " ".join(result.codes()) or "pi-unknown" in result.codes()


def test_the_line_of_strength_on_depth_by_hand():
    """K 1.00657e-3 m3: 5, 6, 7, 8 kPa a step of 0.2 m is 5 kPa/m exactly."""
    k = eq.vane_constant_m3(65, 130) * 1000
    readings = profile([0.5 + su * k for su in (5, 6, 7, 8)])
    result = VANE.reduce_raw(readings, HEAD)
    assert value(result, "gradient") == pytest.approx(5.0, abs=1e-6)
    assert value(result, "trend") == pytest.approx(1.0)
    assert any(line.key == "trend" for line in result.figures[0].lines)
    assert value(VANE.reduce_raw(profile([10, 12]), HEAD), "gradient") is None


def test_sand_has_no_line_of_strength():
    result = VANE.reduce_raw(profile([10, 12, 14], soil="sand"), HEAD)
    assert result.parameters == []
    assert not any(line.key == "trend" for line in result.figures[0].lines)

"""Shrinkage limit: worked by hand, by a second way, recovered from virtual pats, and each slip with its finding."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.methods.shrinkage_limit.equations import shrinkage_limit_estimate
from vadum.soil.registry import method

METHOD = method("shrinkage-limit")
# 20.00 cm3 hold 36.00 g of paste: 24.00 g of dry soil and 12.00 g of water, w = 50 %. Dry, 2.70 g of wax of 0.9 around
# it: 26.70 g in air, 10.75 g under water at 20 degrees: 15.95/0.9982 - 3.00 = 12.979 cm3.
HAND = {
    "volume_mould_cm3": 20.0,
    "mass_mould_g": 40.0,
    "mass_mould_wet_g": 76.0,
    "mass_mould_dry_g": 64.0,
    "mass_waxed_g": 26.70,
    "mass_in_water_g": 10.75,
}


def reduce(*pats, settings=None, context=None, **more):
    return METHOD.reduce_raw({"pats": list(pats), "temperature_c": 20.0, **more}, settings, context)


def test_a_pat_by_hand():
    result = reduce(HAND)
    dry = 15.95 / 0.99821 - 3.0
    limit = 50.0 - 100 * (20.0 - dry) * 0.99821 / 24.0
    assert result.parameter("water_content").value == pytest.approx(50.0)
    assert result.parameter("shrinkage_limit").value == pytest.approx(limit, abs=0.01)
    assert result.parameter("shrinkage_ratio").value == pytest.approx(24.0 / (dry * 0.99821), abs=1e-4)
    # The loss of volume by its own definition: of the dry volume, from the mould to dry.
    assert result.parameter("volumetric_shrinkage").value == pytest.approx(100 * (20.0 - dry) / dry, abs=0.05)
    assert result.findings == []
    assert result.reportable


def test_two_hundred_clays_come_back_by_both_ways():
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        soil, chosen = METHOD.a_soil(rng), METHOD.Settings(needed=2)
        result = METHOD.reduce(METHOD.virtual(soil, chosen, rng), chosen, METHOD.Context())
        assert result.findings == [], seed
        found = result.parameter("shrinkage_limit").value
        assert found == pytest.approx(soil.limit, abs=0.25), seed
        # A second way, by the grains: dry, the pores hold what the limit says; SL = 100 (1/R - 1/Gs).
        ratio = result.parameter("shrinkage_ratio").value
        assert 100 * (1 / ratio - 1 / soil.grains) == pytest.approx(found, abs=0.4), seed


def test_the_chart_puts_soils_on_the_a_line_near_twenty():
    for liquid in (30, 50, 80):
        assert shrinkage_limit_estimate(liquid, 0.73 * (liquid - 20)) == pytest.approx(20, abs=0.5)
    # Above the A-line soils shrink on to less water.
    assert shrinkage_limit_estimate(60, 40) < shrinkage_limit_estimate(60, 20)


@pytest.mark.parametrize(
    ("change", "context", "code", "severity"),
    [
        ({"mass_mould_wet_g": 64.0, "mass_mould_dry_g": 76.0}, {}, "dry-heavier", "stop"),
        ({"mass_mould_g": 90.0}, {}, "mould-heavier", "stop"),
        ({"mass_waxed_g": 23.0}, {}, "wax-lighter", "stop"),
        ({"mass_in_water_g": 26.0}, {}, "nothing-left", "stop"),
        ({"mass_in_water_g": 1.0}, {}, "dry-larger", "stop"),
        # 9 g of wax around a pat of 13 cm3: 10 cm3 of it.
        ({"mass_waxed_g": 33.0, "mass_in_water_g": 10.1}, {}, "wax-thick", "warn"),
        ({"state": "broken"}, {}, "broken", "stop"),
        ({"state": "cracked"}, {}, "cracked", "warn"),
        ({}, {"liquid_limit": 70}, "mixed-too-dry", "warn"),
        ({}, {"plastic_limit": 18}, "above-plastic-limit", "warn"),
        ({"mass_in_water_g": 13.6}, {}, "unusual-result", "warn"),
        ({}, {"liquid_limit": 50, "plasticity_index": 40}, "far-from-chart", "note"),
    ],
)
def test_each_slip_is_named(change, context, code, severity):
    found = {finding.code: finding for finding in reduce(HAND | change, context=context).findings}
    assert found[code].severity == severity
    assert found[code].action


def test_two_pats_agree_or_another_is_made():
    other = HAND | {"mass_in_water_g": 9.75}
    assert "pats-apart" in reduce(HAND, other, settings={"needed": 2}).codes()
    assert not reduce(HAND, settings={"needed": 2}).complete


@pytest.mark.parametrize(
    ("pats", "words"),
    [
        ([], "Mould 1 of 1"),
        ([{"mould": "S1"}], "by the water it holds"),
        ([{"volume_mould_cm3": 20.0, "mass_mould_g": 40.0}], "Strike the paste off level"),
        ([{k: HAND[k] for k in ("volume_mould_cm3", "mass_mould_g", "mass_mould_wet_g")}], "until the colour turns"),
        ([{k: v for k, v in HAND.items() if k != "mass_in_water_g"}], "hanging under water"),
        ([HAND], "Let a second person check"),
    ],
)
def test_what_to_do_next(pats, words):
    assert words in reduce(*pats).next_action


@pytest.mark.parametrize("mistake", METHOD.mistakes)
def test_every_planted_mistake_is_caught(mistake):
    rng = np.random.default_rng(4)
    soil, chosen = METHOD.a_soil(rng), METHOD.Settings()
    result = METHOD.reduce(METHOD.virtual(soil, chosen, rng, frozenset({mistake})), chosen, METHOD.Context())
    assert [f for f in result.findings if f.severity in ("stop", "warn")], mistake


def test_why_there_is_no_mercury_is_said():
    assert any("Mercury is not offered" in words for words in METHOD.limits)

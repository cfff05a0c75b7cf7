"""The shear box beyond its envelope: states, rings, reversals, by hand and by virtual soils."""

from math import atan, degrees

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests import SOILS
from vadum.soil.methods.direct_shear.passes import forward_passes
from vadum.soil.registry import METHODS

BOX = METHODS["direct-shear"]
# 60 mm box, (dead x 10 + 4.51 + 0.86) kg x 9.80665 / 36 cm2: 49.99, 99.99, 199.98 kPa.
FRAME = {"side_mm": 60, "lever": 10, "hanger_kg": 4.51, "cap_kg": 0.86, "rate_mm_min": 0.05, "screws": "removed"}
DEADS = (1.298, 3.1335, 6.8045)
WEIGHED = {"mass_before_g": 400, "mass_after_g": 280, "height_mm": 20}


def value(result, key):
    return next(p.value for p in result.parameters if p.key == key)


def a_pass(specimen, top_n, end_n):
    """Return one pass: up to a top at 2 mm, down to its end at 6 mm, level there."""
    forces = np.interp(np.arange(0, 6.01, 0.5), [0, 2, 5.5, 6], [0, top_n, end_n, end_n])
    return [
        {"specimen": specimen, "horizontal_mm": float(h), "force_n": round(float(f), 1)}
        for h, f in zip(np.arange(0, 6.01, 0.5), forces, strict=True)
    ]


def reversed_box(ends=((75, 60, 58), (150, 120, 117), (300, 240, 233))):
    """Return three specimens of three passes each, by the forces at the ends."""
    record = [
        row
        for k, passes in enumerate(ends, 1)
        for n, end in enumerate(passes)
        for row in a_pass(k, end * (1.3 if n == 0 else 1.02), end)
    ]
    return FRAME | {"specimens": [WEIGHED | {"dead_mass_kg": d} for d in DEADS], "record": record}


def test_state_of_a_specimen_by_hand():
    """120 g moist and 108 g dry in 72 cm3 at Gs 2.65: w 11.11 %, 1.667 and 1.5 g/cm3, e 0.7640; Dr from 1.4 and 1.8."""
    readings = FRAME | {
        "specimens": [WEIGHED | {"dead_mass_kg": 1.298}],
        "after": [{"mass_dry_g": 108}],
        "particle_density": 2.65,
        "loosest_g_cm3": 1.4,
        "densest_g_cm3": 1.8,
    }
    cells = BOX.reduce_raw(readings).computed
    assert cells["after.0.water_content"] == pytest.approx(11.111, abs=0.001)
    assert cells["specimens.0.density"] == pytest.approx(1.6667, abs=0.0001)
    assert cells["after.0.dry_density"] == pytest.approx(1.5)
    # Water at 20 degrees: 2.65 x 0.99821 / 1.5 - 1.
    assert cells["after.0.void_ratio"] == pytest.approx(0.7635, abs=0.0005)
    # (e_max - e) / (e_max - e_min) with e = Gs rho_w / rho_d - 1, the second way.
    e = [2.65 / rho - 1 for rho in (1.4, 1.5, 1.8)]
    assert cells["after.0.relative_density"] == pytest.approx(100 * (e[0] - e[1]) / (e[0] - e[2]), abs=1e-6)


@pytest.mark.parametrize(
    ("change", "code", "cell"),
    [
        ({"mass_dry_g": 150}, "dry-heavier", "after.0.mass_dry_g"),
        ({"mass_dry_g": 90}, "relative-odd", "after.0.mass_dry_g"),
        ({"screws": "left-in"}, "screws-left-in", "after.0.screws"),
    ],
)
def test_a_state_that_cannot_be_names_its_cell(change, code, cell):
    readings = FRAME | {
        "specimens": [WEIGHED | {"dead_mass_kg": 1.298}],
        "after": [change],
        "particle_density": 2.65,
        "loosest_g_cm3": 1.4,
        "densest_g_cm3": 1.8,
    }
    found = {f.code: f for f in BOX.reduce_raw(readings).findings}
    assert cell in found[code].cells


def test_an_assumed_particle_density_is_said_only_where_it_is_leant_on():
    plain = reversed_box()
    assert "gs-assumed" not in BOX.reduce_raw(plain, {"reversals": True}).codes()
    plain["after"] = [{}, {"mass_dry_g": 110}]
    assert "gs-assumed" in BOX.reduce_raw(plain, {"reversals": True}).codes()


def test_a_ring_of_its_own_for_each_specimen():
    """The second specimen has a ring of 2.5 N a division, the others one of 1.25 N: the same forces, the same line."""
    rings = (1.25, 2.5, 1.25)
    divisions = reversed_box()
    for specimen, ring in zip(divisions["specimens"], rings, strict=True):
        specimen["ring_n_div"] = ring
    for row in divisions["record"]:
        row["force_div"] = row.pop("force_n") / rings[row["specimen"] - 1]
    by_newton = BOX.reduce_raw(reversed_box(), {"reversals": True})
    by_ring = BOX.reduce_raw(divisions, {"reversals": True, "force_read": "divisions"})
    for key in ("friction_peak", "friction_end", "friction_residual"):
        assert value(by_ring, key) == pytest.approx(value(by_newton, key), abs=1e-6)


def test_residual_strength_by_hand():
    """58, 117 and 233 N on 36 cm2 under 49.99, 99.99 and 199.98 kPa: least squares by hand."""
    result = BOX.reduce_raw(reversed_box(), {"reversals": True})
    sigma = [(10 * dead + 4.51 + 0.86) * 9.80665 / 3.6 for dead in DEADS]
    tau = [f / 3.6 for f in (58, 117, 233)]
    middle, level = sum(sigma) / 3, sum(tau) / 3
    slope = sum((s - middle) * (t - level) for s, t in zip(sigma, tau, strict=True)) / sum(
        (s - middle) ** 2 for s in sigma
    )
    assert value(result, "friction_residual") == pytest.approx(degrees(atan(slope)), abs=0.001)
    assert value(result, "cohesion_residual") == pytest.approx(max(0.0, level - slope * middle), abs=0.01)
    # The first pass alone says peak and end.
    assert value(result, "friction_end") > value(result, "friction_residual") + 4
    assert "BS 1377-7" in result.follows
    assert [f.message for f in result.findings if f.severity != "note"] == []
    assert result.reportable


def test_without_the_school_a_box_pushed_back_is_a_travel_that_goes_back():
    assert "travel-back" in BOX.reduce_raw(reversed_box()).codes()


@pytest.mark.parametrize(
    ("ends", "code"), [((75, 60, 50), "still-falling"), ((75,), "one-pass"), ((75, 60, 66), "pass-higher")]
)
def test_passes_that_do_not_agree_are_said(ends, code):
    readings = reversed_box((ends, (150, 120, 117), (300, 240, 233)))
    finding = next(f for f in BOX.reduce_raw(readings, {"reversals": True}).findings if f.code == code)
    assert finding.cells == ["record.12.force_n"]
    assert "Specimen 1" in finding.message


@given(st.lists(st.floats(3.0, 9.0), min_size=1, max_size=6), st.integers(0, 1000), st.booleans())
def test_every_pass_is_found_whether_the_way_back_is_on_record_or_not(reaches, seed, with_way_back):
    """A logger records the way back and trembles by a hundredth; a hand starts again at nothing."""
    rng = np.random.default_rng(seed)
    travel = []
    for reach in reaches:
        forward = np.linspace(0, reach, 25)
        travel.append(forward)
        if with_way_back:
            travel.append(forward[::-1][1:-1])
    trembling = np.concatenate(travel) + rng.normal(0, 0.01, sum(map(len, travel)))
    found = forward_passes(trembling)
    assert len(found) == len(reaches)
    for part, reach in zip(found, reaches, strict=True):
        assert trembling[part][-1] == pytest.approx(reach, abs=0.1)
        assert trembling[part][0] == pytest.approx(0, abs=0.3)


def test_virtual_boxes_give_back_their_residual_strength():
    settings = BOX.Settings(reversals=True)
    for seed in range(SOILS):
        soil = BOX.a_soil(np.random.default_rng(seed))
        readings = BOX.virtual(soil, settings, np.random.default_rng(seed))
        result = BOX.reduce(readings, settings, BOX.Context())
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed
        assert value(result, "friction_peak") == pytest.approx(soil.friction_peak_deg, abs=0.5), seed
        assert value(result, "friction_residual") == pytest.approx(soil.friction_residual_deg, abs=0.3), seed


@pytest.mark.parametrize("every_mm", [0.05, 0.1, 0.25])
def test_screws_left_in_are_seen_at_coarse_readings_too(every_mm):
    """The stress of the screws comes and goes within the first tenth of the way, however few lines show it."""
    readings = reversed_box(((75,), (150,), (300,)))
    travel = np.arange(0, 6.01, every_mm)
    forces = np.interp(travel, [0, 2, 5.5, 6], [0, 195, 150, 150]) + np.where((travel > 0) & (travel < 0.3), 140, 0)
    second = [
        {"specimen": 2, "horizontal_mm": round(float(h), 3), "force_n": round(float(f), 1)}
        for h, f in zip(travel, forces, strict=True)
    ]
    readings["record"] = [r for r in readings["record"] if r["specimen"] != 2]
    readings["record"][13:13] = second
    found = [f for f in BOX.reduce_raw(readings).findings if f.code == "spike"]
    assert len(found) == 1
    assert "Specimen 2" in found[0].message

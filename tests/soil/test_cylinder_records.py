"""Records of a cylinder: what a sensor does of itself, what a hand did, and moistures by mass."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.registry import METHODS

HEAD = METHODS["falling-head"]


def virtual(seed=1, **settings):
    chosen = HEAD.Settings.model_validate(settings)
    rng = np.random.default_rng(seed)
    soil = HEAD.a_soil(rng)
    return soil, HEAD.virtual(soil, chosen, rng).model_dump(mode="json", exclude_none=True)


def value(result, key):
    return result.parameter(key).value


def logged(plain, *, every=1 / 200, tremble=0.0, seed=5):
    """Return the first cylinder's record as a logger of 200 even steps would have it, trembling by so many mm."""
    rows = [row for row in plain["heads"] if row["cylinder"] == 1]
    last = rows[-1]["elapsed_min"]
    minutes = np.arange(0, 1 + every / 2, every) * last
    head = np.interp(minutes, [r["elapsed_min"] for r in rows], [r["head_mm"] for r in rows])
    head = np.maximum(head + np.random.default_rng(seed).normal(0, tremble, len(head)), 0.0)
    plain = {key: kept for key, kept in plain.items() if key != "heads"} | {"cylinders": plain["cylinders"][:1]}
    log = {"cylinder": [1.0] * len(minutes), "elapsed_min": minutes.tolist(), "head_mm": head.round(1).tolist()}
    return plain | {"log": log}


def test_a_sensor_that_trembles_is_no_head_that_rises():
    _, plain = virtual(3)
    for tremble in (0.0, 0.7, 2.0):
        assert "head-rising" not in HEAD.reduce_raw(logged(plain, tremble=tremble)).codes(), tremble


def test_water_that_was_added_is_seen_through_the_tremble():
    _, plain = virtual(3)
    readings = logged(plain, tremble=1.0)
    heads = readings["log"]["head_mm"]
    readings["log"]["head_mm"] = heads[:80] + [h + 60 for h in heads[80:]]
    finding = next(f for f in HEAD.reduce_raw(readings).findings if f.code == "head-rising")
    assert f"{readings['log']['elapsed_min'][80]:g}"[:5] in finding.message


def test_a_head_that_stands_still_with_water_left():
    _, plain = virtual(3)
    readings = logged(plain)
    heads = readings["log"]["head_mm"]
    k = next(i for i, h in enumerate(heads) if h < 0.3 * heads[0])
    readings["log"]["head_mm"] = heads[:k] + [heads[k]] * (len(heads) - k)
    result = HEAD.reduce_raw(readings)
    finding = next(f for f in result.findings if f.code == "stands-still")
    assert f"stands at {heads[k]:g} mm" in finding.message
    # An empty cylinder stands still too, and nobody minds.
    empty = logged(plain)
    empty["log"]["elapsed_min"] += [empty["log"]["elapsed_min"][-1] + 5 * i for i in range(1, 30)]
    empty["log"]["head_mm"] += [0.0] * 29
    empty["log"]["cylinder"] += [1.0] * 29
    assert "stands-still" not in HEAD.reduce_raw(empty).codes()


def test_a_hole_in_a_logger_s_record_is_named():
    _, plain = virtual(3)
    readings = logged(plain)
    for key, values in readings["log"].items():
        readings["log"][key] = values[:60] + values[110:]
    finding = next(f for f in HEAD.reduce_raw(readings).findings if f.code == "gap")
    assert f"between {readings['log']['elapsed_min'][59]:g} and" in finding.message
    # A hand reads when it has time: no hole.
    by_hand = plain | {"heads": [r for i, r in enumerate(plain["heads"]) if not 8 < i < 14]}
    assert "gap" not in HEAD.reduce_raw(by_hand).codes()


def test_moisture_by_mass_is_moisture_by_volume_times_the_dry_density():
    """8 and 22 % by mass at 1.50 g/cm3 are 12.02 and 33.06 % by volume: one deficit, one Ks."""
    _, plain = virtual(2)
    cylinder = plain["cylinders"][0]
    by_volume = plain | {
        "cylinders": [cylinder | {"moisture_before": 8 * 1.5 / 0.99820, "moisture_after": 22 * 1.5 / 0.99820}],
        "heads": [r for r in plain["heads"] if r["cylinder"] == 1],
    }
    by_mass = by_volume | {
        "cylinders": [cylinder | {"moisture_before": 8, "moisture_after": 22}],
        "dry_density_g_cm3": 1.5,
    }
    one = HEAD.reduce_raw(by_volume, {"moisture": "percent-by-volume"})
    other = HEAD.reduce_raw(by_mass, {"moisture": "percent-by-mass"})
    assert value(other, "ks_1") == pytest.approx(value(one, "ks_1"), rel=1e-4)


def test_more_water_by_mass_than_the_pores_hold_is_stopped():
    """45 % by mass at 1.7 g/cm3 are 77 % by volume, in pores of 37 %."""
    _, plain = virtual(2, moisture="percent-by-mass")
    plain["dry_density_g_cm3"] = 1.7
    plain["cylinders"][0]["moisture_after"] = 45
    finding = next(
        f for f in HEAD.reduce_raw(plain, {"moisture": "percent-by-mass"}).findings if f.code == "more-than-pores"
    )
    assert finding.cells == ["cylinders.0.moisture_after"]
    assert "77 % by volume in pores of 37 %" in finding.message


def test_clean_records_by_mass_draw_nothing():
    for seed in range(SOILS // 2):
        _, plain = virtual(seed, moisture="percent-by-mass")
        result = HEAD.reduce_raw(plain, {"moisture": "percent-by-mass"})
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed

"""The density gauge: by hand, lifts back, every slip at the gauge."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.registry import METHODS

GAUGE = METHODS["density-gauge"]


def virtual(seed=3, mistakes=()):
    rng = np.random.default_rng(seed)
    soil = GAUGE.a_soil(rng)
    readings = GAUGE.virtual(soil, GAUGE.Settings(), rng, frozenset(mistakes))
    return soil, readings.model_dump(mode="json", exclude_none=True)


def test_by_hand():
    # 1.960 shown and 0.020 to add at 11 + 1 % of water: 1.980 / 1.12 = 1.768 g/cm3.
    spot = {"place": "0+025", "rod_mm": 150, "bulk_density_g_cm3": 1.960, "water_percent": 11.0}
    readings = {"spots": [spot], "density_offset_g_cm3": 0.02, "water_offset_percent": 1.0, "standard_count": "yes"}
    result = GAUGE.reduce_raw(readings | {"finished": "yes"})
    assert result.parameter("dry_density").value == pytest.approx(1.768, abs=0.0005)
    assert result.parameter("water_content").text == "12.0"
    assert result.reportable


def test_lifts_come_back():
    for seed in range(SOILS):
        (water, dry), readings = virtual(seed)
        result = GAUGE.reduce_raw(readings)
        assert result.codes() == [], seed
        assert result.parameter("dry_density").value == pytest.approx(dry, rel=0.002), seed
        assert result.parameter("water_content").value == pytest.approx(water, abs=0.05), seed


@pytest.mark.parametrize(
    ("mistake", "code"),
    [
        ("count-off", "gauge-unfit"),
        ("exchanged", "above-zero-air"),
        ("hollow", "places-apart"),
        ("no-offset", "no-comparison"),
    ],
)
def test_each_mistake_at_the_gauge_is_caught(mistake, code):
    assert code in GAUGE.reduce_raw(virtual(mistakes=[mistake])[1]).codes()


def test_a_source_is_for_permitted_persons_alone():
    _, readings = virtual()
    nobody = readings | {"permitted": "no"}
    assert "not-permitted" in GAUGE.reduce_raw(nobody).codes()
    assert "not-permitted" not in GAUGE.reduce_raw(nobody, {"gauge": "electrical"}).codes()

"""Uncertainty by disturbing readings: by hand, and against readings rounded at random, for every method."""

from math import sqrt

import numpy as np
import pytest

from tests import THOROUGH, drawn
from vadum.soil.registry import METHODS
from vadum.soil.uncertainty.disturbing import Shared, cells_of, uncertainties

WATER = METHODS["water-content"]
# A class is words.
MEASURED = [code for code in METHODS if code != "classification"]
# Of so few the scatter itself is known to eight percent.
DRAWS = 150 if THOROUGH else 80


def of(method, readings, settings=None, **more):
    settings = settings or method.Settings()
    return {u.key: u for u in uncertainties(method, readings, settings, method.Context(), **more)}


def test_a_water_content_by_hand():
    # w = 100 (A - B) / (B - C) with A 92.76, B 73.88, C 20.00 g to 0.01 g: 53.88 g of dry soil, 18.88 g of water.
    readings = WATER.Readings.model_validate(
        {"determinations": [{"mass_tin_g": 20.0, "mass_tin_wet_g": 92.76, "mass_tin_dry_g": 73.88, "drying_h": 17}]}
    )
    found = of(WATER, readings)["water_content"]
    u, dry, water = 0.01 / sqrt(12), 53.88, 18.88
    by_wet, by_dry, by_tin = 100 * u / dry, 100 * u * (dry + water) / dry**2, 100 * u * water / dry**2
    assert found.standard == pytest.approx(sqrt(by_wet**2 + by_dry**2 + by_tin**2), rel=1e-3)
    assert [lead.label for lead in found.leading] == ["tin + dry, row 1", "tin + wet, row 1", "tin, row 1"]
    assert sum(lead.share for lead in found.leading) == pytest.approx(1)
    assert found.leading[0].share == pytest.approx(by_dry**2 / found.standard**2, rel=1e-3)


def test_a_coarser_balance_counts_by_its_own_step():
    readings = WATER.Readings.model_validate(
        {"determinations": [{"mass_tin_g": 20.0, "mass_tin_wet_g": 92.76, "mass_tin_dry_g": 73.88, "drying_h": 17}]}
    )
    coarse = {cell.path: 0.1 for cell in cells_of(readings)}
    fine, rough = of(WATER, readings)["water_content"], of(WATER, readings, resolutions=coarse)["water_content"]
    assert rough.standard == pytest.approx(10 * fine.standard, rel=1e-3)


def test_readings_are_left_as_they_were_and_rows_left_out_do_not_count():
    rows = [
        {"mass_tin_g": 20.0, "mass_tin_wet_g": 92.76, "mass_tin_dry_g": 73.88, "drying_h": 17},
        {"mass_tin_g": 20.0, "mass_tin_wet_g": 90.0, "mass_tin_dry_g": 72.0, "left_out": "spilled"},
    ]
    readings = WATER.Readings.model_validate({"determinations": rows})
    before = readings.model_dump()
    assert {cell.path.split(".")[1] for cell in cells_of(readings)} == {"0"}
    of(WATER, readings)
    assert readings.model_dump() == before


def test_nothing_read_nothing_known():
    for method in METHODS.values():
        assert of(method, method.Readings()) == {}


@pytest.mark.parametrize("code", drawn(MEASURED))
def test_it_is_what_readings_rounded_at_random_scatter_by(code):
    method, rng = METHODS[code], np.random.default_rng(11)
    settings = method.Settings()
    readings = method.virtual(method.a_soil(rng), settings, rng)
    found = of(method, readings, draws=DRAWS)
    cells = list(cells_of(readings))
    at = [cell.value for cell in cells]
    seen = {}
    for _ in range(DRAWS):
        for cell, value in zip(cells, at, strict=True):
            cell.set(value + float(rng.uniform(-0.5, 0.5)) * cell.resolution)
        for p in method.work_out(readings, settings, method.Context()).parameters:
            if p.value is not None:
                seen.setdefault(p.key, []).append(p.value)
    told = [key for key in method.headline if key in found and found[key].standard > 0 and len(seen[key]) == DRAWS]
    # No soil has less cohesion than none: what a bound cuts in half has no standard deviation to compare.
    told = [key for key in told if np.count_nonzero(seen[key]) == DRAWS]
    assert told, code
    # Two estimates from so many draws differ by eight percent themselves, more where a steepest part jumps.
    for key in told:
        assert found[key].standard == pytest.approx(np.std(seen[key]), rel=0.28), key


def test_a_balance_that_is_off_by_one_amount_does_not_move_a_difference():
    readings = WATER.Readings.model_validate(
        {"determinations": [{"mass_tin_g": 20.0, "mass_tin_wet_g": 92.76, "mass_tin_dry_g": 73.88, "drying_h": 17}]}
    )
    every = Shared("calibration of Balance 9", frozenset(c.path for c in cells_of(readings)), 0.5)
    plain, calibrated = of(WATER, readings), of(WATER, readings, shared=[every])
    assert calibrated["water_content"].standard == pytest.approx(plain["water_content"].standard, rel=1e-6)
    # The tin weighed on another balance: an error of 0.5 g in the two others is one in the dry soil alone.
    two = Shared(
        "calibration of Balance 9",
        frozenset({"determinations.0.mass_tin_wet_g", "determinations.0.mass_tin_dry_g"}),
        0.5,
    )
    off = of(WATER, readings, shared=[two])["water_content"]
    assert off.standard == pytest.approx(0.5 * 100 * 18.88 / 53.88**2, rel=1e-2)
    assert off.leading[0].label == "calibration of Balance 9"
    assert off.leading[0].share > 0.99


@pytest.mark.parametrize("code", ["particle-density", "ring-density", "cbr-lab", "unconfined", "lime-demand"])
def test_a_calibration_scatters_a_result_as_one_common_error_does(code):
    method, rng = METHODS[code], np.random.default_rng(12)
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng)
    first = next(iter(cells_of(readings)))
    moved = [c for c in cells_of(readings) if c.column == first.column]
    standard = 0.2 * first.resolution
    alone = of(method, readings)
    found = of(method, readings, shared=[Shared("calibration", frozenset(c.path for c in moved), standard)])
    at = [cell.value for cell in moved]
    seen = {}
    for error in rng.normal(0, standard, 200):
        for cell, value in zip(moved, at, strict=True):
            cell.set(value + float(error))
        for p in method.work_out(readings, method.Settings(), method.Context()).parameters:
            if p.value is not None and p.key in found:
                seen.setdefault(p.key, []).append(p.value)
    for key in method.headline:
        if key in found and len(seen.get(key, [])) == 200:
            common = np.sqrt(max(0.0, found[key].standard ** 2 - alone[key].standard ** 2))
            assert common == pytest.approx(np.std(seen[key]), rel=0.2, abs=1e-3 * found[key].standard), key

"""Findings that need a sample's other tests, a school or an end beside a slip: each with its reading and its action."""

import numpy as np
import pytest

from vadum.soil.registry import METHODS


def virtual(code, seed=1, **settings):
    method, rng = METHODS[code], np.random.default_rng(seed)
    chosen = method.Settings.model_validate(settings)
    return method.virtual(method.a_soil(rng), chosen, rng).model_dump(mode="json", exclude_none=True)


def finding(code, readings, wanted, settings=None, context=None):
    result = METHODS[code].reduce_raw(readings, settings, context)
    (found,) = [f for f in result.findings if f.code == wanted]
    assert found.action
    return found


@pytest.mark.parametrize(("code", "of"), [("sieve", "hydrometer_curve"), ("hydrometer", "sieve_curve")])
def test_limbs_that_do_not_meet_are_said_with_by_how_much(code, of):
    # The other limb lies wholly above or below what this test found where they meet at 0.075 mm.
    points = {"sieve_curve": [[0.075, 2], [0.425, 3], [2, 100]], "hydrometer_curve": [[0.002, 90], [0.07, 99]]}[of]
    context = {of: {"points": points, "source": "test 3"}}
    found = finding(code, virtual(code), "limbs-apart", context=context)
    assert "%" in found.message


def test_an_effort_of_ones_own_compares_with_nothing():
    assert finding("cbr-lab", virtual("cbr-lab"), "effort-other", {"scheme": "another"}).severity != "stop"


def test_a_mould_denser_than_the_maximum_is_said_with_its_share():
    readings = virtual("cbr-lab")
    dense = METHODS["cbr-lab"].reduce_raw(readings).parameter("dry_density").value
    context = {"maximum_dry_density": {"value": dense / 1.08, "source": "test 5"}}
    assert "108 %" in finding("cbr-lab", readings, "density-high", context=context).message


def test_a_loading_ended_early_is_three_findings():
    readings = virtual("plate-incremental")
    first, *_ = (row["pressure_kpa"] for row in readings["rows"] if row.get("pressure_kpa"))
    rows, pressure = [], None
    for row in readings["rows"]:
        pressure = row.get("pressure_kpa", pressure)
        if pressure is not None and pressure > first:
            break
        rows.append(row)
    short = readings | {"rows": rows, "ended": "reaction spent"}
    for wanted in ("few-increments", "rebound-missing"):
        finding("plate-incremental", short, wanted)
    assert f"{first:g}" in finding("plate-incremental", short, "ended-early", {"design_kpa": 10 * first}).message


@pytest.mark.parametrize("code", ["water-content", "liquid-limit", "cbr-lab", "cbr-in-situ", "triaxial", "unconfined"])
def test_a_tin_that_weighs_no_less_empty_than_full_is_said_at_its_row(code):
    """Wet soil and tin below the tin itself: in every method that weighs tins, at the reading."""
    readings = virtual(code)
    for table, rows in readings.items():
        for i, row in enumerate(rows if isinstance(rows, list) else []):
            if row.get("mass_tin_wet_g") is not None and row.get("mass_tin_g") is not None:
                spoilt = readings | {
                    table: [*rows[:i], row | {"mass_tin_wet_g": row["mass_tin_g"] - 1.0}, *rows[i + 1 :]]
                }
                found = METHODS[code].reduce_raw(spoilt).findings
                assert any(f"{table}.{i}." in cell for f in found if f.code == "wet-not-above-tin" for cell in f.cells)
                return
    raise AssertionError("no tin is weighed here")


def test_more_pore_pressure_than_cell_pressure_is_no_b_value():
    readings = virtual("triaxial")
    rows = [dict(row) for row in readings["saturation"]]
    last = max(i for i, row in enumerate(rows) if row.get("pore_kpa") is not None)
    rows[last]["pore_kpa"] += 0.3 * (rows[last]["cell_kpa"] - rows[last - 1]["cell_kpa"])
    assert "pore_kpa" in finding("triaxial", readings | {"saturation": rows}, "b-high").cells[0]


def test_a_gauge_that_counts_down_as_positive_is_said():
    method, rng = METHODS["direct-shear"], np.random.default_rng(3)
    soil = method.a_soil(rng)
    spoilt = method.virtual(soil, method.Settings(), rng, frozenset({"vertical-reversed"}))
    found = method.reduce(spoilt, method.Settings(), method.Context()).findings
    reversed_ones = [f for f in found if f.code == "vertical-reversed"]
    assert reversed_ones
    assert all("vertical_mm" in cell for f in reversed_ones for cell in f.cells)

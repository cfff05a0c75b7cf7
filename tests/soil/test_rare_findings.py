"""Findings that few slips draw: each shown by the readings that deserve it, and not by those that do not."""

from copy import deepcopy

import pytest

from tests.soil.test_missing_lines import said, virtual, without
from vadum.soil.physics.retention import brooks_corey, suction_kpa


@pytest.mark.parametrize("table", ["loading", "remoulded"])
def test_a_cylinder_that_was_read_beyond_the_limit_only_has_no_strength_at_the_limit(table):
    """A dial that was not counted from where loading began: 16 % of strain at the first reading."""
    method, settings, plain = virtual("unconfined")
    late = deepcopy(plain)
    for row in late[table]:
        row["shortening_mm"] += 0.16 * plain["calipers"][0]["length_mm"]
    result = method.reduce_raw(late, settings)
    assert said(result, "beyond-limit").cells == [f"{table}.0.shortening_mm"]
    assert not result.reportable
    assert "beyond-limit" not in method.reduce_raw(plain, settings).codes()


def test_a_remoulded_run_that_still_rises_makes_the_sensitivity_too_high():
    method, settings, plain = virtual("unconfined")
    top = max(plain["remoulded"], key=lambda row: row["force_n"])["shortening_mm"]
    result = method.reduce_raw(without(plain, "remoulded", lambda row: row["shortening_mm"] > 0.5 * top), settings)
    assert "the sensitivity is too high" in said(result, "remoulded-unfinished").message
    assert "remoulded-unfinished" not in method.reduce_raw(plain, settings).codes()


def test_a_pore_pressure_above_that_of_the_cell_is_named():
    """Water in a specimen cannot press harder on the membrane from inside than the cell does from outside."""
    method, settings, plain = virtual("triaxial")
    assert "pore-above-cell" not in method.reduce_raw(plain, settings).codes()
    row = next(row for row in plain["shearing"] if row["specimen"] == 2 and row["shortening_mm"] > 1)
    row["pore_kpa"] = plain["specimens"][1]["cell_kpa"] + 2
    assert said(method.reduce_raw(plain, settings), "pore-above-cell").message.startswith("Specimen 2")


def test_points_that_sag_between_have_no_maximum_of_a_cubic():
    """Densities 1.90, 1.50, 1.92, 1.50, 1.90 at 8 to 16 %: the cubic through them has a trough in the middle."""
    method, settings, plain = virtual("compaction", curve="cubic")
    assert "no-maximum" not in method.reduce_raw(plain, settings).codes()
    plain["points"] = [
        {
            "mass_mould_soil_g": plain["mass_mould_g"] + plain["volume_mould_cm3"] * dry * (1 + water / 100),
            "mass_tin_g": 20.0,
            "mass_tin_dry_g": 120.0,
            "mass_tin_wet_g": 120.0 + water,
        }
        for water, dry in zip((8, 10, 12, 14, 16), (1.90, 1.50, 1.92, 1.50, 1.90), strict=True)
    ]
    result = method.reduce_raw(plain, settings)
    assert said(result, "no-maximum").severity == "stop"


def test_the_curve_that_fits_clearly_better_is_named():
    """Water held by the law of Brooks and Corey, with its sharp entry of air, read by that of van Genuchten."""
    method, settings, plain = virtual("retention")
    assert "other-fits-better" not in method.reduce_raw(plain, settings).codes()
    empty_g = plain["mass_apparatus_g"] + plain["mass_ring_g"] + plain["mass_dry_g"]
    for row in plain["weighings"]:
        held = brooks_corey(suction_kpa(row["suction"], method.Settings().device), 0.06, 0.42, 6.0, 0.8)
        row["mass_g"] = round(empty_g + 0.998 * plain["volume_cm3"] * float(held), 2)
    assert said(method.reduce_raw(plain, settings), "other-fits-better").message.startswith("Brooks")


def test_clay_that_takes_water_like_gravel_is_doubted():
    method, settings, plain = virtual("well-permeameter", soil="clay")
    assert "fast-for-clay" not in method.reduce_raw(plain, settings).codes()
    for row in plain["levels"]:
        row["elapsed_min"] /= 2000
    assert said(method.reduce_raw(plain, settings), "fast-for-clay")

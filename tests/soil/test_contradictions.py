"""Readings of one sheet that cannot both be right: each is believable by itself."""

import json

import numpy as np
import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.registry import METHODS


def said(code, **typed):
    """Return what is said of a method's example with some readings typed otherwise, beyond what is said of it."""
    bench, method = json.loads(example_of(code)), METHODS[code]
    before = method.reduce_raw(bench["readings"], bench["settings"], bench["context"]).codes()
    after = method.reduce_raw(bench["readings"] | typed, bench["settings"], bench["context"])
    return {f.code: f for f in after.findings if f.code not in before}


# Water in the pores: at ρd 1.88 and Gs 2.70 they take 16 % of the dry soil's mass.
@pytest.mark.parametrize("soaked_g", [11498.0, 11850.0, 16000.0])
def test_a_soaked_mould_holds_no_more_water_than_its_pores(soaked_g):
    readings = {
        "mass_mould_g": 6480.0,
        "mass_mould_soil_g": 11380.0,
        "volume_mould_cm3": 2305.0,
        "mass_soaked_g": soaked_g,
        "swell": [{"elapsed_h": 0, "dial_mm": 0.0}, {"elapsed_h": 96, "dial_mm": 0.1}],
        "tins": [{"mass_tin_g": 20.0, "mass_tin_wet_g": 133.0, "mass_tin_dry_g": 120.0}],
        "top": [{"penetration_mm": 0, "ring_div": 0}, {"penetration_mm": 2.5, "ring_div": 60}],
    }
    reduction = METHODS["cbr-lab"].reduce_raw(readings)
    assert ("pores-overfull" in reduction.codes()) == (soaked_g > 11500)
    assert "pores-not-full" not in reduction.codes()
    # 4.13 g/cm³ is no soil.
    assert ("impossible-result" in reduction.codes()) == (soaked_g > 15000)


def test_two_ways_to_the_dry_mass_of_a_cylinder_agree():
    # 55.4 g at 2 % of water are 54.31 g dry.
    assert "dry-masses-differ" not in said("hydrometer", mass_air_dry_g=55.4, hygroscopic_percent=2.0)
    found = said("hydrometer", mass_air_dry_g=60.0, hygroscopic_percent=2.0)["dry-masses-differ"]
    assert "60.00 g with 2.0 % of water are 58.82 g dry" in found.message
    # Alone, either is enough.
    assert "dry-masses-differ" not in said("hydrometer", mass_dry_g=None, mass_air_dry_g=60.0, hygroscopic_percent=2.0)


def test_the_loosest_sand_is_lighter_than_the_densest():
    assert "limits-turned" in said("direct-shear", loosest_g_cm3=1.75, densest_g_cm3=1.42)
    assert "limits-turned" not in said("direct-shear", loosest_g_cm3=1.42, densest_g_cm3=1.75)


def test_drying_adds_no_plasticity():
    found = said("classification", liquid_limit=45.0, plasticity_index=20.0, liquid_limit_oven_dried=60.0)
    assert found["dried-above"].message.startswith("LL 60 oven-dried, 45 before")
    for dried in (20.0, 45.0, 49.0):
        less = said("classification", liquid_limit=45.0, plasticity_index=20.0, liquid_limit_oven_dried=dried)
        assert "dried-above" not in less


def test_the_trimmings_of_one_sample_are_alike():
    bench = json.loads(example_of("triaxial"))
    tins = bench["readings"]["tins"]
    slipped = said("triaxial", tins=[tins[0], tins[1] | {"mass_tin_dry_g": 30.26}, tins[2]])["water-contents-apart"]
    assert slipped.cells[0].startswith("tins.1.")
    # 27 % and 31 % are two specimens of one clay.
    assert said("triaxial", tins=[tins[0], tins[1] | {"mass_tin_dry_g": 59.0}, tins[2]]) == {}


def virtual(code):
    method = METHODS[code]
    settings, rng = method.Settings(), np.random.default_rng(2)
    readings = method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)
    return method, settings, readings


def twice(rows, group):
    """Return a table in which the second part reads as the first does."""
    first = [row | {group: 2} for row in rows if row[group] == 1]
    return [row for row in rows if row[group] == 1] + first + [row for row in rows if row[group] > 2]


@pytest.mark.parametrize(
    ("code", "table", "group"),
    [
        ("triaxial", "shearing", "specimen"),
        ("triaxial", "consolidation", "specimen"),
        ("direct-shear", "record", "specimen"),
        ("falling-head", "heads", "cylinder"),
    ],
)
def test_a_file_taken_for_two_parts_is_noticed(code, table, group):
    method, settings, readings = virtual(code)
    assert "same-readings" not in method.reduce_raw(readings, settings).codes()
    copied = method.reduce_raw(readings | {table: twice(readings[table], group)}, settings)
    found = next(f for f in copied.findings if f.code == "same-readings")
    assert found.message == f"{group.capitalize()} 2 reads like {group} 1 to the last figure."
    assert found.cells[0].startswith(f"{table}.")


def test_a_logger_file_with_one_fall_for_two_cylinders_is_noticed():
    method, settings, readings = virtual("falling-head")
    heads = readings["heads"]
    column = {key: [row[key] for row in twice(heads, "cylinder")] for key in ("cylinder", "elapsed_min", "head_mm")}
    logged = method.reduce_raw({k: v for k, v in readings.items() if k != "heads"} | {"log": column}, settings)
    assert [f.message for f in logged.findings if f.code == "same-readings"] == [
        "Cylinder 2 reads like cylinder 1 to the last figure."
    ]


@pytest.mark.parametrize(
    ("code", "table", "first", "second", "said_so"),
    [
        ("double-ring", "readings", "inner_mm", "outer_mm", "Outer tube reads like inner tube to the last figure."),
        ("plate-incremental", "rows", "gauge_a_mm", "gauge_c_mm", "C reads like A to the last figure."),
    ],
)
def test_a_column_typed_for_two_gauges_is_noticed(code, table, first, second, said_so):
    """Two rings take up alike, and a plate settles evenly; two gauges that agree in every figure are one page."""
    method, settings, readings = virtual(code)
    assert "same-readings" not in method.reduce_raw(readings, settings).codes()
    rows = [row | {second: row[first]} for row in readings[table]]
    copied = method.reduce_raw(readings | {table: rows}, settings)
    assert [f.message for f in copied.findings if f.code == "same-readings"] == [said_so]


def test_a_page_typed_for_both_ends_or_two_places_is_noticed():
    method, settings, readings = virtual("cbr-lab")
    copied = method.reduce_raw(readings | {"bottom": readings["top"]}, settings)
    assert [f.message for f in copied.findings if f.code == "same-readings"] == [
        "Bottom reads like top to the last figure."
    ]
    method, settings, readings = virtual("cbr-in-situ")
    copied = method.reduce_raw(readings | {"position_2": readings["position_1"]}, settings)
    assert "same-readings" in copied.codes()


@pytest.mark.parametrize(
    ("code", "table", "dry"),
    [("particle-density", "determinations", "mass_dry_g"), ("shrinkage-limit", "pats", "mass_mould_dry_g")],
)
def test_two_flasks_or_pats_never_weigh_the_same_throughout(code, table, dry):
    first, *_ = json.loads(example_of(code))["readings"][table]
    assert "same-readings" not in said(code)
    found = said(code, **{table: [first, first]})["same-readings"]
    assert found.message == "Row 2 reads like row 1 to the last figure."
    # A reading of its own is enough.
    assert "same-readings" not in said(code, **{table: [first, first | {dry: first[dry] + 0.03}]})


@pytest.mark.parametrize(("hours", "late"), [(0.0, False), (0.1, False), (1.0, True), (24.0, True)])
def test_swell_counts_from_the_dial_before_the_water(hours, late):
    swell = [{"elapsed_h": h, "dial_mm": d} for h, d in ((hours, 0.5), (48.0, 1.4), (96.0, 1.6))]
    found = said("cbr-lab", swell=swell)
    assert ("swell-begun-late" in found) == late
    if late:
        assert found["swell-begun-late"].cells == ["swell.0.elapsed_h", "swell.0.dial_mm"]
    # Known from the first row, so that it can still be put right while the mould stands in the water.
    assert "swell-begun-late" not in said("cbr-lab", swell=[{"elapsed_h": None, "dial_mm": 0.5}])


def test_two_bottles_of_one_lime_are_named():
    bottles = json.loads(example_of("lime-demand"))["readings"]["bottles"]
    k = next(i for i, one in enumerate(bottles) if one.get("lime_percent") == 3.0)
    # 4 % told as 3 %: the demand, the least lime that is enough, would be a quarter less.
    typed = [one | {"lime_percent": 3.0} if one.get("lime_percent") == 4.0 else one for one in bottles]
    found = said("lime-demand", bottles=typed)["percent-twice"]
    assert found.message == "Two bottles of 3 % lime."
    assert found.cells == [f"bottles.{k + 1}.lime_percent"]
    left_out = [*typed[:k], typed[k] | {"left_out": "made twice"}, *typed[k + 1 :]]
    assert "percent-twice" not in said("lime-demand", bottles=left_out)

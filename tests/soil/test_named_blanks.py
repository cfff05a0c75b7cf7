"""A reading that was forgotten is asked for by name: never work to be done that was done already."""

import json

import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.registry import METHODS


def without(code, *path):
    """Return what is made of a method's example without one of its readings."""
    bench = json.loads(example_of(code))
    at = bench["readings"]
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = None
    return METHODS[code].reduce_raw(bench["readings"], bench["settings"], bench["context"])


@pytest.mark.parametrize(
    ("code", "path", "words"),
    [
        ("direct-shear", ("specimens", 1, "dead_mass_kg"), "Type the dead mass that stood on specimen 2"),
        ("triaxial", ("specimens", 2, "cell_kpa"), "Type the cell pressure that specimen 3 was sheared under."),
        ("triaxial", ("specimens", 0, "back_kpa"), "Type the back pressure that specimen 1 was sheared under."),
        ("falling-head", ("cylinders", 1, "moisture_before"), "Cylinder 2: the moisture before the water"),
        ("falling-head", ("cylinders", 1, "moisture_after"), "Cylinder 2: measure the moisture right below it"),
        ("drop-plate", ("places", 1, "s_2_mm"), "0+040: drop 2 of 3 has no settlement."),
        ("drop-plate", ("places", 4, "s_3_mm"), "0+100, drop 3 of 3 that count: catch the weight"),
        ("density-gauge", ("spots", 2, "water_percent"), "0+075: read bulk density and water."),
    ],
)
def test_what_was_forgotten_is_asked_for_by_name(code, path, words):
    reduction = without(code, *path)
    assert reduction.next_action.startswith(words)
    assert not reduction.reportable


def test_an_undrained_test_asks_for_no_back_pressure():
    bench = json.loads(example_of("triaxial"))
    for specimen in bench["readings"]["specimens"]:
        specimen["back_kpa"] = None
    reduction = METHODS["triaxial"].reduce_raw(bench["readings"], bench["settings"] | {"kind": "UU"}, bench["context"])
    assert "back pressure" not in reduction.next_action


def test_half_a_reading_of_the_dispersant_solution_is_named():
    for name in ("temperature_c", "hydrometer"):
        (found,) = [f for f in without("hydrometer", "corrections", 1, name).findings if f.code == "correction-half"]
        assert found.cells == [f"corrections.1.{name}"]


@pytest.mark.parametrize(
    ("last", "shift"),
    [
        # 0.5 and 1.5 mm, then 1.1 and 2.1: a mean of 1.0, then of 1.6 mm.
        ((1.1, 2.1), None),
        # The mean of what is left goes from 1.0 to 2.1, and the gauge itself by 0.6 mm.
        ((None, 2.1), "+0.50 mm"),
        ((1.1, None), "-0.50 mm"),
    ],
)
def test_a_gauge_that_is_missed_moves_the_mean_and_is_named(last, shift):
    rows = [
        {"pressure_kpa": 50, "elapsed_min": 1, "gauge_a_mm": 0.5, "gauge_b_mm": 1.5},
        {"pressure_kpa": 100, "elapsed_min": 1, "gauge_a_mm": last[0], "gauge_b_mm": last[1]},
    ]
    found = [f for f in METHODS["plate-incremental"].reduce_raw({"rows": rows}).findings if f.code == "gauge-blank"]
    assert bool(found) == (shift is not None)
    if shift:
        name = "a" if last[0] is None else "b"
        assert found[0].cells == [f"rows.1.gauge_{name}_mm"]
        assert f"Gauge {name.upper()} is read in one row and not in the next" in found[0].message
        assert shift in found[0].message


def test_a_gauge_that_stands_with_the_others_may_be_missed():
    rows = [
        {"pressure_kpa": 50, "elapsed_min": 1, "gauge_a_mm": 0.50, "gauge_b_mm": 0.51, "gauge_c_mm": 0.49},
        {"pressure_kpa": 100, "elapsed_min": 1, "gauge_a_mm": 1.10, "gauge_b_mm": 1.11, "gauge_c_mm": None},
    ]
    assert "gauge-blank" not in METHODS["plate-incremental"].reduce_raw({"rows": rows}).codes()

"""A gauge that stands still while the specimen is loaded, typed or logged."""

import json

import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.registry import METHODS

COLUMNS = [
    ("direct-shear", "record", "horizontal_mm", "Specimen 1: travel stands at 0 in all 91 readings."),
    ("direct-shear", "record", "force_n", "Specimen 1: force stands at 0 in all 91 readings."),
    ("triaxial", "shearing", "shortening_mm", "Specimen 1: short. stands at 0 in all 65 readings."),
    ("triaxial", "shearing", "force_n", "Specimen 1: force stands at 0 in all 65 readings."),
    ("triaxial", "shearing", "pore_kpa", "Specimen 1: pore stands at 0 in all 65 readings."),
    ("unconfined", "loading", "force_n", "Loading: force stands at 0 in all 26 readings."),
    ("unconfined", "remoulded", "force_n", "Remoulded: force stands at 0 in all 21 readings."),
    ("cbr-lab", "top", "ring_div", "Top: ring stands at 0 in all 31 readings."),
    ("cbr-in-situ", "position_1", "ring_div", "Position 1: ring stands at 0 in all 31 readings."),
]


def example(code):
    bench = json.loads(example_of(code))
    return bench["readings"], bench["settings"], bench["context"]


@pytest.mark.parametrize(("code", "table", "name", "words"), COLUMNS)
def test_a_column_that_stands_still_stops_the_test(code, table, name, words):
    readings, *more = example(code)
    assert "stands-still" not in METHODS[code].reduce_raw(readings, *more).codes()
    still = [row | {name: 0.0} for row in readings[table]]
    reduction = METHODS[code].reduce_raw(readings | {table: still}, *more)
    found = [f for f in reduction.findings if f.code == "stands-still"]
    assert found[0].message == words
    assert found[0].cells[0] == f"{table}.0.{name}"
    assert not reduction.reportable


def test_a_hydrometer_that_never_sinks_is_noticed_and_one_that_has_just_begun_is_not():
    readings, *more = example("hydrometer")
    still = [row | {"hydrometer": 30.0} for row in readings["sedimentation"]]
    for count, noticed in ((len(still), True), (7, False)):
        some = readings | {"sedimentation": still[:count]}
        assert ("stands-still" in METHODS["hydrometer"].reduce_raw(some, *more).codes()) == noticed


@pytest.mark.parametrize(("code", "table"), [("direct-shear", "record"), ("triaxial", "shearing")])
def test_a_loggers_column_that_stands_still_is_noticed(code, table):
    readings, *more = example(code)
    method = METHODS[code]
    fields = method.Readings.model_fields["log"].annotation.__args__[0].model_fields
    names = [name for name, field in fields.items() if "unit" in (field.json_schema_extra or {})]
    log = {name: [float(row.get(name) or 0.0) for row in readings[table]] for name in names}
    number = 0.0
    for i, row in enumerate(readings[table]):
        number = row.get("specimen") or number
        log["specimen"][i] = float(number)
    rest = {key: value for key, value in readings.items() if key != table}
    assert "stands-still" not in method.reduce_raw(rest | {"log": log}, *more).codes()
    still = log | {"force_n": [0.0] * len(log["force_n"])}
    (first, *_) = [f for f in method.reduce_raw(rest | {"log": still}, *more).findings if f.code == "stands-still"]
    assert first.cells == ["log"]
    assert first.message.startswith("Specimen 1: force stands at 0 in all")
    if code == "triaxial":
        # Zeros are written where there is no such gauge: that is another finding's matter.
        dry = method.reduce_raw(rest | {"log": log | {"pore_kpa": [0.0] * len(log["pore_kpa"])}}, *more)
        assert "stands-still" not in dry.codes()


@pytest.mark.parametrize("table", ["loading", "remoulded"])
def test_a_record_that_begins_beyond_the_limit_is_no_strength(table):
    readings, *more = example("unconfined")
    far = [row | {"shortening_mm": 20.0 + i / 10} for i, row in enumerate(readings[table])]
    reduction = METHODS["unconfined"].reduce_raw(readings | {table: far}, *more)
    assert "beyond-limit" in reduction.codes()
    assert "not-reduced" not in reduction.codes()
    assert not reduction.reportable


def test_positions_that_took_no_force_are_reduced_all_the_same():
    readings, *more = example("cbr-in-situ")
    none = {t: [row | {"ring_div": 0.0} for row in readings[t]] for t in readings if t.startswith("position_")}
    assert "not-reduced" not in METHODS["cbr-in-situ"].reduce_raw(readings | none, *more).codes()


STOPPED = [
    ("direct-shear", "record", "force_n"),
    ("triaxial", "shearing", "force_n"),
    ("triaxial", "shearing", "pore_kpa"),
    ("unconfined", "loading", "force_n"),
    ("unconfined", "remoulded", "force_n"),
    ("cbr-lab", "bottom", "ring_div"),
    ("cbr-in-situ", "position_2", "ring_div"),
    ("retention", "weighings", "mass_g"),
]


@pytest.mark.parametrize(("code", "table", "name"), STOPPED)
def test_a_gauge_that_stops_on_the_way_is_named(code, table, name):
    """Half way up it touches no more, or is at its end: what it showed then stood in every row, and was a strength."""
    readings, *more = example(code)
    method = METHODS[code]
    assert "stopped" not in method.reduce_raw(readings, *more).codes()
    rows = readings[table]
    mine = [i for i, row in enumerate(rows) if row.get("specimen", 1) == rows[0].get("specimen", 1)]
    moved = [abs(rows[i][name] - rows[0][name]) for i in mine]
    since = next(i for i in mine if moved[i] > 0.6 * max(moved))
    stuck = [row | {name: rows[since][name]} if since <= i <= mine[-1] else row for i, row in enumerate(rows)]
    found = [f for f in method.reduce_raw(readings | {table: stuck}, *more).findings if f.code == "stopped"]
    assert found[0].cells[0] == f"{table}.{since}.{name}"
    assert f"in {mine[-1] - since + 1} readings on end" in found[0].message


def test_a_gauge_read_coarsely_may_stand():
    """A ring of 100 divisions of which soft clay takes twelve shows twelve for a third of the way."""
    readings, *more = example("unconfined")
    coarse = [row | {"force_n": float(round(row["force_n"] / 50))} for row in readings["loading"]]
    assert "stopped" not in METHODS["unconfined"].reduce_raw(readings | {"loading": coarse}, *more).codes()

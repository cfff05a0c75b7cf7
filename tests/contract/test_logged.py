"""A logger file is asked what its rows would be asked if somebody had typed them."""

import json

import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.registry import METHODS

# Method, the table that the file stands for, the column that a run goes along, how it is told what part it is.
FILES = [
    ("hydrometer", "sedimentation", "elapsed_min", ""),
    ("falling-head", "heads", "elapsed_min", "cylinder"),
    ("triaxial", "shearing", "shortening_mm", "specimen"),
    ("unconfined", "loading", "shortening_mm", ""),
    ("direct-shear", "record", "horizontal_mm", "specimen"),
]


def logged(code, table):
    """Return the example of a method with a table of it as a logger file, and what it is reduced with."""
    bench = json.loads(example_of(code))
    rows, rest = bench["readings"][table], {k: v for k, v in bench["readings"].items() if k != table}
    log = next(a for a in METHODS[code].Readings.model_fields["log"].annotation.__args__ if a is not type(None))
    columns = {name: [] for name in log.names()}
    part = 1.0
    for row in rows:
        for name, column in columns.items():
            if name in ("specimen", "cylinder"):
                part = float(row.get(name) or part)
                column.append(part)
            else:
                column.append(float(row.get(name) or 0.0))
    return METHODS[code], rest, columns, (bench["settings"], bench["context"])


def codes(method, rest, columns, more):
    return method.reduce_raw(rest | {"log": columns}, *more).codes()


@pytest.mark.parametrize(("code", "table", "along", "part"), FILES)
def test_a_file_that_is_as_it_should_be_is_left_in_peace(code, table, along, part):
    found = codes(*logged(code, table))
    assert not {"log-beyond", "log-back", "log-stands"} & set(found)


@pytest.mark.parametrize(("code", "table", "along", "part"), FILES)
def test_a_column_in_another_unit_is_beyond_what_could_be_typed(code, table, along, part):
    """A travel in thousandths was 7,000 mm of a box 60 mm wide, and its test could be signed."""
    method, rest, columns, more = logged(code, table)
    result = method.reduce_raw(rest | {"log": columns | {along: [1000 * x for x in columns[along]]}}, *more)
    assert "log-beyond" in result.codes()
    assert not result.reportable


@pytest.mark.parametrize(("code", "table", "along", "part"), FILES)
def test_a_file_whose_run_goes_back_holds_two_of_them(code, table, along, part):
    method, rest, columns, more = logged(code, table)
    last = [i for i, at in enumerate(columns[part]) if at == columns[part][-1]] if part else range(len(columns[along]))
    middle = list(last)[len(last) // 2]
    again = [x if i < middle or i not in last else x - columns[along][middle] for i, x in enumerate(columns[along])]
    result = method.reduce_raw(rest | {"log": columns | {along: again}}, *more)
    assert {"log-back", "time-back", "travel-back"} & set(result.codes())


@pytest.mark.parametrize(("code", "table", "along", "part"), FILES[:-1])
def test_a_gauge_or_clock_that_stops_in_a_file_is_named(code, table, along, part):
    method, rest, columns, more = logged(code, table)
    mine = [i for i, at in enumerate(columns[part]) if at == columns[part][-1]] if part else range(len(columns[along]))
    half = list(mine)[len(mine) // 2]
    stuck = [columns[along][half] if i in mine and i > half else x for i, x in enumerate(columns[along])]
    result = method.reduce_raw(rest | {"log": columns | {along: stuck}}, *more)
    assert {"log-stands", "time-back"} & set(result.codes())


def test_a_box_logged_without_a_gauge_on_its_lid_has_no_dilation():
    """Zeros in its column are no gauge: they were a dilation of 0.0 degrees."""
    method, rest, columns, more = logged("direct-shear", "record")
    assert method.reduce_raw(rest | {"log": columns}, *more).parameter("dilation") is not None
    without = columns | {"vertical_mm": [0.0] * len(columns["vertical_mm"])}
    assert method.reduce_raw(rest | {"log": without}, *more).parameter("dilation") is None


def test_a_logged_pore_pressure_begins_at_its_back_pressure():
    """11 kPa too high in every line were a cohesion of 5 kPa."""
    method, rest, columns, more = logged("triaxial", "shearing")
    plain = set(codes(method, rest, columns, more))
    high = columns | {"pore_kpa": [x + 11 for x in columns["pore_kpa"]]}
    assert set(codes(method, rest, high, more)) - plain == {"back-differs"}


def test_a_logger_stopped_before_the_clay_says_so():
    method, rest, columns, more = logged("hydrometer", "sedimentation")
    assert "log-ends" not in codes(method, rest, columns, more)
    early = [i for i, at in enumerate(columns["elapsed_min"]) if at < 100]
    assert "log-ends" in codes(method, rest, {k: [c[i] for i in early] for k, c in columns.items()}, more)


def test_a_logger_that_began_after_the_coarse_silt_says_so():
    """Grains of 0.02 mm have settled past the bulb within some ten minutes (ISO 17892-4, Stokes): without them d10 of a
    silt is not known, and was left away in silence."""
    method, rest, columns, more = logged("hydrometer", "sedimentation")
    assert "begins-late" not in codes(method, rest, columns, more)
    for minutes, told in ((3, False), (25, True)):
        late = [i for i, at in enumerate(columns["elapsed_min"]) if at >= minutes]
        found = codes(method, rest, {k: [c[i] for i in late] for k, c in columns.items()}, more)
        assert ("begins-late" in found) is told

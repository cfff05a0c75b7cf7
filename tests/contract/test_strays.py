"""What is told of a part that the test does not have is in no result: it is said, and no result is reported."""

import numpy as np
import pytest

from vadum.soil.contract.cells import logs
from vadum.soil.registry import METHODS

WITH_PARTS = [code for code, method in METHODS.items() if method.parts]


def virtual(code):
    method, rng = METHODS[code], np.random.default_rng(1)
    settings = method.Settings()
    readings = method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)
    return method, settings, readings, len(readings[method.parts.table])


@pytest.mark.parametrize("code", WITH_PARTS)
def test_rows_told_of_no_part_stop_the_test(code):
    method, settings, readings, count = virtual(code)
    column, tried = method.parts.column, 0
    for table, rows in readings.items():
        if not isinstance(rows, list) or table == method.parts.table or not any(column in row for row in rows):
            continue
        tried += 1
        for at in (0, len(rows) // 2, len(rows) - 1):
            slipped = readings | {table: [*rows[:at], rows[at] | {column: count + 1}, *rows[at + 1 :]]}
            reduction = method.reduce_raw(slipped, settings)
            said = next(f for f in reduction.findings if f.code == "no-such-part")
            assert said.cells[0] == f"{table}.{at}.{column}"
            assert f"{column} {count + 1}" in said.message
            assert not reduction.reportable
            slipped[table][at]["left_out"] = "another test's"
            assert "no-such-part" not in method.reduce_raw(slipped, settings).codes()
    assert tried


@pytest.mark.parametrize("code", ["triaxial", "direct-shear"])
def test_rows_beyond_the_last_part_stop_the_test(code):
    method, settings, readings, count = virtual(code)
    beyond = method.reduce_raw(readings | {"after": [{}] * count + [{"mass_dry_g": 240.0}]}, settings)
    assert next(f for f in beyond.findings if f.code == "no-such-part").cells == [f"after.{count}"]
    assert not beyond.reportable


@pytest.mark.parametrize("code", WITH_PARTS)
def test_a_logger_file_told_of_no_part_stops_the_test(code):
    method, settings, readings, count = virtual(code)
    columns = {key: [1.0, 2.0] for key in logs(method.Readings)["log"].model_fields if key != "file"}
    columns[method.parts.column] = [1, count + 1]
    said = [f for f in method.reduce_raw(readings | {"log": columns}, settings).findings if f.code == "no-such-part"]
    assert f"told of {method.parts.column} {count + 1}" in said[0].message

"""A row that is left out is kept on record and not used: nothing that is worked out hangs on it."""

import numpy as np
import pytest
from pydantic import ValidationError

from tests import THOROUGH
from tests.contract.slips import clean_under_every_school
from vadum.soil.registry import METHODS

# Rows that others refer to by their number: one more among them makes each of the next another specimen.
REFERRED_TO = {"specimens", "after", "cylinders", "fills", "headspaces"}
FACTORS = (1.0, 3.0, 0.3)


def clean(method):
    """Yield settings and clean readings: of the method's own school, of each in `make thorough`."""
    if THOROUGH:
        yield from clean_under_every_school(method, (1,))
        return
    settings, rng = method.Settings(), np.random.default_rng(1)
    yield settings, method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)


def with_a_row_left_out(readings):
    """Yield readings in which a row was written, left out and written anew below: the same, too high, too low."""
    for table, rows in readings.items():
        if not rows or not isinstance(rows, list) or table in REFERRED_TO:
            continue
        for at in sorted({0, len(rows) // 2, len(rows) - 1}):
            for factor in FACTORS:
                slip = {k: v * factor if isinstance(v, float) else v for k, v in rows[at].items()}
                yield (
                    f"{table}.{at} x{factor:g}",
                    readings | {table: [*rows[:at], slip | {"left_out": "written in the wrong row"}, *rows[at:]]},
                )


def said(reduction):
    results = {p.key: float(f"{p.value:.6g}") for p in reduction.parameters if p.value is not None}
    return results, sorted(f.code for f in reduction.findings if f.severity != "note"), reduction.reportable


@pytest.mark.filterwarnings("ignore::RuntimeWarning")
# Of a cone driven down the way of a row hangs on the rule above it: its own tests say what becomes of that.
@pytest.mark.parametrize("code", [code for code in METHODS if code != "dynamic-cone"])
def test_what_is_left_out_changes_nothing(code):
    method = METHODS[code]
    for settings, readings in clean(method):
        before = said(method.reduce_raw(readings, settings))
        for where, changed in with_a_row_left_out(readings):
            try:
                method.Readings.model_validate(changed)
            except ValidationError:
                continue  # refused where it is typed
            assert said(method.reduce_raw(changed, settings)) == before, (where, settings)


def told_of(readings, parts, part):
    """Yield each table with the places of its rows that are told of a part."""
    for table, rows in readings.items():
        if not isinstance(rows, list) or not rows:
            continue
        if table == parts.table or table in parts.in_order:
            yield table, [part - 1][: len(rows) - part + 1]
        elif parts.column in rows[0]:
            yield table, [i for i, row in enumerate(rows) if row[parts.column] == part]


def without(readings, parts, part):
    rows = readings[parts.table]
    return readings | {parts.table: [*rows[: part - 1], rows[part - 1] | {"left_out": "cracked"}, *rows[part:]]}


PARTED = [code for code, method in METHODS.items() if method.parts]


@pytest.mark.filterwarnings("ignore::RuntimeWarning")
@pytest.mark.parametrize("code", PARTED)
def test_all_that_is_told_of_a_part_is_left_out_with_it(code):
    """A specimen that did not saturate stops nothing once it is left out, whatever its rows say."""
    method, part = METHODS[code], 2
    for settings, readings in clean(method):
        if len(readings.get(method.parts.table, ())) < part:
            continue
        before = said(method.reduce_raw(without(readings, method.parts, part), settings))
        for table, places in told_of(readings, method.parts, part):
            for column in {
                key for i in places for key, value in readings[table][i].items() if isinstance(value, float)
            }:
                for factor in (0.0, 0.5, 2.0):
                    rows = [
                        row | {column: row[column] * factor} if i in places and column in row else row
                        for i, row in enumerate(readings[table])
                    ]
                    changed = without(readings | {table: rows}, method.parts, part)
                    try:
                        method.Readings.model_validate(changed)
                    except ValidationError:
                        continue
                    assert said(method.reduce_raw(changed, settings)) == before, (table, column, factor, settings)


def test_a_record_is_without_the_rows_of_a_part_that_is_left_out():
    method = METHODS["direct-shear"]
    settings, readings = next(clean(method))
    logged = {
        key: [row[key] for row in readings["record"]]
        for key in method.Readings.model_fields["log"].annotation.__args__[0].model_fields
        if key != "file"
    }
    typed = without(readings, method.parts, 2)
    spoilt = [
        force * (9 if number == 2 else 1) for number, force in zip(logged["specimen"], logged["force_n"], strict=True)
    ]
    filed = typed | {"record": [], "log": logged | {"force_n": spoilt}}
    assert said(method.reduce_raw(filed, settings)) == said(method.reduce_raw(typed, settings))


@pytest.mark.parametrize(
    ("code", "words"), [("triaxial", "Specimen 4 at another"), ("direct-shear", "hear specimen 4 under")]
)
def test_the_number_of_a_part_that_is_left_out_is_not_given_again(code, words):
    method = METHODS[code]
    settings, readings = next(clean(method))
    open_end = {key: value for key, value in readings.items() if key != "ended"}
    assert words in method.reduce_raw(without(open_end, method.parts, 2), settings).next_step

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

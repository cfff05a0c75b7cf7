"""Worksheets without a line and with a slow one: every reading in its own row, once."""

import pytest

from tests.browser.typing import all_saved, cut, differences, fast, filled, new_test, new_test_in_ground, slow, stored

pytestmark = pytest.mark.browser

LINES = {"cut": cut, "slow": slow}


def rows(table, columns, values):
    """Return what belongs where, in the order of the hand."""
    return {f"{table}.{i}.{key}": text for i, row in enumerate(values) for key, text in zip(columns, row, strict=True)}


WET = rows(
    "determinations",
    ("tin", "mass_tin_g", "mass_tin_wet_g"),
    [(f"X{i}", f"{20 + i / 10:.1f}", f"{50 + i / 10:.1f}") for i in range(1, 11)],
)
THREADS = rows(
    "threads",
    ("diameter_mm", "tin", "mass_tin_g", "mass_tin_wet_g"),
    [("3", f"Y{i}", f"{12 + i / 10:.1f}", f"{19 + i / 10:.1f}") for i in range(1, 11)],
)
LOADING = rows("loading", ("shortening_mm", "force_n"), [(str(i / 10), str(3 + 7 * i)) for i in range(1, 11)])
DEPTHS = rows(
    "profile",
    ("depth_m", "seconds_to_peak", "peak", "turns", "remoulded", "friction"),
    [(f"{i / 5}", "110", f"{30 + i}", "10", f"{12 + i}", "2") for i in range(1, 11)],
)
LEVELS = rows(
    "levels",
    ("head", "elapsed_min", "level_mm", "refilled"),
    [("1", str(2 * i), f"{400 - 7 * i}", "no") for i in range(1, 11)],
)
IN_GROUND = {"vane", "well-permeameter"}
TYPED = {
    "water-content": WET,
    "plastic-limit": THREADS,
    "unconfined": LOADING,
    "vane": DEPTHS,
    "well-permeameter": LEVELS,
}


@pytest.mark.parametrize("line", LINES)
@pytest.mark.parametrize("method", TYPED)
def test_ten_rows_typed_in_a_row_are_where_they_were_typed(page, method, line):
    test = (new_test_in_ground if method in IN_GROUND else new_test)(page, method)
    page.goto(f"/tests/{test}")
    typed = TYPED[method]
    with LINES[line](page):
        fast(page, typed.values(), next(iter(typed)))
    all_saved(page)
    readings = stored(page, test)
    assert differences(readings, typed) == {}
    assert set(filled(readings)) == set(typed)

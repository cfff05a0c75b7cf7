"""Worksheets without a line and with a slow one: every reading in its own row, once."""

import re

import pytest
from playwright.sync_api import expect

from tests import THOROUGH
from tests.browser.conftest import violations
from tests.browser.typing import all_saved, cut, differences, fast, filled, new_test, new_test_in_ground, slow, stored

pytestmark = pytest.mark.browser

MANY = 10 if THOROUGH else 3
LINES = {"cut": cut, "slow": slow}


def rows(table, columns, values):
    """Return what belongs where, in the order of the hand."""
    return {f"{table}.{i}.{key}": text for i, row in enumerate(values) for key, text in zip(columns, row, strict=True)}


WET = rows(
    "determinations",
    ("tin", "mass_tin_g", "mass_tin_wet_g"),
    [(f"X{i}", f"{20 + i / 10:.1f}", f"{50 + i / 10:.1f}") for i in range(1, MANY + 1)],
)
THREADS = rows(
    "threads",
    ("diameter_mm", "tin", "mass_tin_g", "mass_tin_wet_g"),
    [("3", f"Y{i}", f"{12 + i / 10:.1f}", f"{19 + i / 10:.1f}") for i in range(1, MANY + 1)],
)
LOADING = rows("loading", ("shortening_mm", "force_n"), [(str(i / 10), str(3 + 7 * i)) for i in range(1, MANY + 1)])
DEPTHS = rows(
    "profile",
    ("depth_m", "seconds_to_peak", "peak", "turns", "remoulded", "friction"),
    [(f"{i / 5}", "110", f"{30 + i}", "10", f"{12 + i}", "2") for i in range(1, MANY + 1)],
)
LEVELS = rows(
    "levels",
    ("head", "elapsed_min", "level_mm", "refilled"),
    [("1", str(2 * i), f"{400 - 7 * i}", "no") for i in range(1, MANY + 1)],
)
IN_GROUND = {"vane", "well-permeameter"}
TYPED = {
    "water-content": WET,
    "plastic-limit": THREADS,
    "unconfined": LOADING,
    "vane": DEPTHS,
    "well-permeameter": LEVELS,
}


# Rows from Enter to Enter are the table's own script, whatever is in them: a list and one of five columns are tried.
ALIKE = {"plastic-limit", "unconfined", "vane"}
# Every worksheet, on a slow line too: make thorough.
TRIED = [
    (method, line)
    for method in TYPED
    for line in LINES
    if THOROUGH or (line == "cut" and method not in ALIKE) or method == "water-content"
]


@pytest.mark.parametrize(("method", "line"), TRIED, ids=["-".join(one) for one in TRIED])
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


def test_an_empty_row_left_at_its_first_cell_ends_the_table(page):
    test = new_test(page, "unconfined")
    page.goto(f"/tests/{test}")
    with cut(page):
        fast(page, ["0.1", "12", "0.2", "20"], "loading.0.shortening_mm")
        focused = "document.activeElement.dataset.path"
        assert page.evaluate(focused) == "loading.2.shortening_mm"
        page.keyboard.press("Enter")
        assert page.evaluate(focused) == "remoulded.0.shortening_mm"
    all_saved(page)


def test_the_last_dry_tin_leads_out_of_the_table_and_not_into_a_row_without_a_tin(page):
    test = new_test(page, "water-content")
    page.goto(f"/tests/{test}")
    with cut(page):
        fast(page, ["A1", "20", "50", "A2", "21", "51"], "determinations.0.tin")
        fast(page, ["40.1", "41.2", "T-0"], "determinations.0.mass_tin_dry_g")
    all_saved(page)
    rows = stored(page, test)
    assert [row["mass_tin_dry_g"] for row in rows["determinations"]] == [40.1, 41.2]
    assert rows["reweighings"] == [{"tin": "T-0"}]


def test_a_choice_made_without_a_line_stands_and_says_since_when_it_is_unjudged(page):
    test = new_test_in_ground(page, "vane")
    page.goto(f"/tests/{test}")
    with cut(page):
        ground = page.get_by_label("ground", exact=True)
        ground.select_option("clay")
        expect(ground).to_have_value("clay")
        expect(page.get_by_role("status").first).to_have_text("1 waiting for the line")
        expect(page.get_by_test_id("as-of")).to_have_text(re.compile(r"as of \d\d:\d\d"))
        assert violations(page) == []
    all_saved(page)
    assert stored(page, test)["soil"] == "clay"


def test_done_measuring_without_a_line_says_so_and_holds_nothing_back(page):
    test = new_test(page, "unconfined")
    page.goto(f"/tests/{test}")
    fast(page, ["0.1", "12"], "loading.0.shortening_mm")
    all_saved(page)
    with cut(page):
        page.get_by_role("button", name="Done measuring").click()
        expect(page.get_by_role("alert")).to_contain_text("The line to the server is down")
        fast(page, ["0.2", "20"], "loading.1.shortening_mm")
    all_saved(page)
    assert differences(stored(page, test), {"loading.1.shortening_mm": "0.2", "loading.1.force_n": "20"}) == {}
    page.get_by_role("button", name="Done measuring").click()
    expect(page.get_by_role("alert")).to_contain_text("Not complete yet")


def test_a_panel_that_asks_the_server_is_not_shown_empty_without_a_line(page):
    test = new_test(page, "unconfined")
    page.goto(f"/tests/{test}")
    fast(page, ["0.1", "12"], "loading.0.shortening_mm")
    all_saved(page)
    for tool in ("History", "To check", "Instruments"):
        with cut(page):
            page.get_by_role("button", name=tool, exact=True).click()
            expect(page.get_by_role("alert")).to_contain_text("The line to the server is down")
            expect(page.get_by_role("button", name=tool, exact=True)).to_have_attribute("aria-expanded", "false")
        page.get_by_role("button", name=tool, exact=True).click()
        expect(page.get_by_role("button", name=tool, exact=True)).to_have_attribute("aria-expanded", "true")
        expect(page.get_by_role("alert")).to_have_count(0)
        page.keyboard.press("Escape")
    with cut(page):
        page.get_by_role("button", name="Mix", exact=True).click()
        page.get_by_role("button", name="Work out").click()
        expect(page.get_by_test_id("mix")).to_contain_text("The line to the server is down")


def test_the_row_where_the_hand_is_stays_though_the_one_above_was_cleared(page):
    test = new_test_in_ground(page, "vane")
    page.goto(f"/tests/{test}")
    fast(page, ["25.8"], "profile.0.seconds_to_peak")
    all_saved(page)
    with slow(page):
        page.locator('[data-path="profile.0.seconds_to_peak"]').click()
        page.keyboard.press("Delete")
        page.keyboard.press("Enter")
        page.locator('[data-path="profile.1.depth_m"]').click()
        all_saved(page)
    page.keyboard.type("24.6")
    page.keyboard.press("Enter")
    all_saved(page)
    assert filled(stored(page, test)) == ["profile.1.depth_m"]

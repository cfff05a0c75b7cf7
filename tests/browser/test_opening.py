"""A long sheet opens with the rows of its first screen; the others are there for whoever wants one of them."""

import pytest
from playwright.sync_api import expect

from tests.browser.gestures import reopen
from tests.browser.typing import cell

pytestmark = pytest.mark.browser
LONG, LAST = "/tests/52", "record.273.specimen"
NEVER_AT_LEISURE = "window.requestIdleCallback = () => 0"
LATER = ".grid tbody[hidden]"


def test_rows_below_the_first_screen_follow_by_themselves(page):
    page.goto(LONG)
    expect(cell(page, LAST)).to_be_visible()
    expect(page.locator(LATER)).to_have_count(0)


def test_a_hand_quicker_than_that_goes_into_them(page):
    reopen(page, LONG)
    page.add_init_script(NEVER_AT_LEISURE)
    page.goto(LONG)
    expect(page.locator(LATER).first).to_be_attached()
    shown = page.locator(".grid tbody").filter(visible=True).last.locator("input").last
    path = shown.get_attribute("data-path")
    shown.focus()
    page.keyboard.press("Enter")
    expect(page.locator(f":focus:not([data-path='{path}'])")).to_be_visible()
    expect(cell(page, LAST)).to_be_visible()


def test_the_cell_asked_for_has_the_hand_wherever_it_stands(page):
    reopen(page, LONG)
    page.add_init_script(NEVER_AT_LEISURE)
    page.goto(f"{LONG}?cell={LAST}")
    expect(cell(page, LAST)).to_be_focused()
    expect(cell(page, LAST)).to_be_visible()


def test_a_sheet_printed_at_once_prints_all_its_rows(page):
    page.add_init_script(NEVER_AT_LEISURE)
    page.goto(LONG)
    expect(page.locator(LATER).first).to_be_attached()
    page.pdf()
    expect(page.locator(LATER)).to_have_count(0)


@pytest.mark.parametrize("test", [46, 51], ids=["plate", "triaxial"])
def test_all_columns_of_a_wide_table_are_in_sight(page, test):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"/tests/{test}")
    expect(page.locator(LATER)).to_have_count(0)
    assert page.locator("main").evaluate("zone => zone.scrollWidth - zone.clientWidth") == 0

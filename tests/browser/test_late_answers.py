"""Answers that come late, or twice: what the hand has done since stands."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import saved
from tests.browser.gestures import reopen
from tests.browser.typing import new_test_in_ground

pytestmark = pytest.mark.browser
CBR, STEPS = "/tests/42", "/tests/45"


def test_a_late_preview_does_not_take_back_what_was_saved_since(page):
    reopen(page, CBR)
    saved(page)
    page.wait_for_load_state("networkidle")
    held = []
    page.route("**/preview", lambda route: held.append((route, route.fetch())))
    with page.expect_request("**/preview"):
        page.set_viewport_size({"width": 1180, "height": 820})
    handle = page.locator('.vf-handle[data-setting="tangent_top_mm"]')
    handle.focus()
    page.keyboard.press("ArrowRight")
    expect(handle).to_have_attribute("aria-valuetext", re.compile("set by hand"))
    saved(page)
    for route, answered_before in held:
        route.fulfill(response=answered_before)
    page.unroute("**/preview")
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(300)
    expect(handle).to_have_attribute("aria-valuetext", re.compile("set by hand"))


def test_reopening_leaves_the_figure_as_it_stood(page):
    page.goto(STEPS)
    page.get_by_role("button", name="Creep").click()
    figure = page.locator("[data-figure]")
    expect(figure).to_have_attribute("data-figure", "creep")
    page.wait_for_load_state("networkidle")
    before = figure.bounding_box()
    page.route("**/preview", lambda route: route.abort())
    page.get_by_role("button", name="Reopen").click()
    page.locator("[data-move-why]").fill("looked at again")
    page.get_by_role("button", name="Confirm").click()
    expect(page.get_by_test_id("state")).to_have_text("running")
    expect(figure).to_have_attribute("data-figure", "creep")
    assert figure.bounding_box() == before


def test_a_setting_that_is_being_typed_stays_when_the_one_before_is_saved(page):
    """Two settings one after the other: the answer to the first comes while the second is half typed."""
    test = new_test_in_ground(page, "percolation")
    page.goto(f"/tests/{test}")
    page.get_by_role("button", name="School").click()
    first, second = (page.locator(f'[data-setting="{name}"]') for name in ("safety_factor", "required_mm_h"))
    held = []
    page.route(f"**/api/tests/{test}/save", lambda route: held.append((route, route.fetch())))
    first.fill("3")
    with page.expect_request(f"**/api/tests/{test}/save"):
        first.press("Tab")
    second.press_sequentially("1")
    for route, answer in held:
        route.fulfill(response=answer)
    page.unroute(f"**/api/tests/{test}/save")
    expect(page.get_by_text("factor 3")).to_be_visible()
    expect(second).to_have_value("1")
    second.press_sequentially("2")
    second.press("Tab")
    saved(page)
    sheet = page.request.get(f"/tests/{test}/bench.json").json()
    assert (sheet["settings"]["safety_factor"], sheet["settings"]["required_mm_h"]) == (3.0, 12.0)

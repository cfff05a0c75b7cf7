"""Answers that come late, or twice: what the hand has done since stands."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import saved
from tests.browser.gestures import reopen

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

"""Pit, hole, borehole and rings in the browser: set up on a phone, read fill after fill, and the site's page."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.typing import all_saved, new_test_in_ground, stored

pytestmark = pytest.mark.browser


@pytest.fixture
def phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    return page


def set_up(page, method, answers):
    """Answer what is asked before the run, as a person does; return the test's number."""
    test = new_test_in_ground(page, method)
    page.goto(f"/tests/{test}/run")
    for label, text in answers.items():
        one = page.locator(".ask-one", has_text=label).first
        if text in ("yes", "no"):
            one.get_by_role("button", name=text, exact=True).click()
        elif one.locator("select").count():
            one.locator("select").select_option(label=text)
        elif one.locator("input").count():
            one.locator("input").fill(text)
            one.locator("input").press("Tab")
        else:
            one.get_by_role("button", name=text).click()
    page.get_by_test_id("begin").click()
    return test


def read(page, number, value):
    page.locator(f'[data-level="{number}"]').fill(value)
    page.get_by_test_id("take").click()


PIT = {
    "services located": "yes",
    "length at the base": "1800",
    "width at the base": "600",
    "down to the base": "1650",
    "down to full": "550",
}
BORE = {
    "services located": "yes",
    "casing, inside": "52",
    "section, diameter": "120",
    "section from": "5.4",
    "section to": "6.6",
    "section cleaned": "yes",
    "water at rest": "2.42",
}


def test_a_pit_is_dipped_fill_after_fill(phone):
    """A dipper's reading grows while the water falls: one that is less is asked about, one that is more is kept."""
    page = phone
    test = set_up(page, "soakage-pit", PIT)
    expect(page.locator(".series .one")).to_have_count(3)
    read(page, 1, "560")
    expect(page.locator(".series .one").first).to_contain_text("last 560 mm")
    # A quick machine reads twice in the same hundredth of a minute, no hand does.
    expect(page.locator(".series .one").first).not_to_contain_text("0:00")
    read(page, 1, "540")
    expect(page.get_by_test_id("doubt")).to_contain_text("540 is less than 560")
    read(page, 1, "580")
    expect(page.locator(".series .one").first).to_contain_text("last 580 mm")
    expect(page.get_by_test_id("next")).to_contain_text("read on until the water is 1375 mm down")
    page.locator(".one .name").nth(1).click()
    read(page, 2, "555")
    expect(page.locator(".series .one").nth(1)).to_contain_text("last 555 mm")
    all_saved(page)
    kept = [(row["fill"], row["level_mm"]) for row in stored(page, test)["levels"]]
    assert kept == [(1, 560.0), (1, 580.0), (2, 555.0)]
    assert stored(page, test)["fills"][0]["started_at"]
    assert violations(page) == []


def test_one_run_falls_and_the_next_rises(phone):
    """Which way a run goes is known from its first reading and the rest, before any answer of the server."""
    page = phone
    test = set_up(page, "borehole-permeability", BORE)
    all_saved(page)
    page.context.set_offline(True)
    read(page, 1, "0.60")
    expect(page.locator(".series .one").first).to_contain_text("last 0.6 m")
    read(page, 1, "0.55")
    expect(page.get_by_test_id("doubt")).to_contain_text("0.55 is less than 0.6")
    read(page, 1, "0.80")
    page.context.set_offline(False)
    page.locator(".one .name").nth(1).click()
    # Bailed out it comes back up: its reading shrinks.
    read(page, 2, "4.10")
    expect(page.locator(".series .one").nth(1)).to_contain_text("last 4.1 m")
    all_saved(page)
    page.locator(".one .name").nth(1).click()
    read(page, 2, "4.20")
    expect(page.get_by_test_id("doubt")).to_contain_text("4.20 is higher than 4.1")
    read(page, 2, "3.90")
    all_saved(page)
    assert [row["level_m"] for row in stored(page, test)["levels"]] == [0.6, 0.8, 4.1, 3.9]


def test_services_that_are_not_located_lock_every_run_in_the_ground(phone):
    page = phone
    for method in ("soakage-pit", "percolation", "double-ring", "borehole-permeability"):
        test = new_test_in_ground(page, method)
        page.goto(f"/tests/{test}/run")
        page.locator(".ask-one", has_text="services located").get_by_role("button", name="no", exact=True).click()
        expect(page.get_by_test_id("begin")).to_be_disabled()


def test_a_folded_fill_says_which_it_is(page):
    page.goto("/projects/1/infiltration")
    page.get_by_role("link", name="Soakage pit").click()
    expect(page.get_by_text("fill 1, 12 readings")).to_be_visible()
    expect(page.get_by_text("fill 2, 12 readings")).to_be_visible()


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_page_of_a_site_is_asked_and_answers(page, theme):
    page.emulate_media(color_scheme=theme)
    page.goto("/projects/1/infiltration")
    expect(page.get_by_test_id("site-verdict")).to_contain_text("meets 8 mm/h")
    assert violations(page) == []
    page.get_by_text("What the project asks").click()
    page.get_by_label("rate required").fill("30")
    page.get_by_label("by the", exact=True).select_option(label="slowest place")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_test_id("site-verdict")).to_contain_text("does not meet 30 mm/h")
    page.get_by_text("What the project asks").click()
    page.get_by_label("rate required").fill("ten")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("alert")).to_be_visible()
    expect(page.get_by_label("rate required")).to_have_value("ten")

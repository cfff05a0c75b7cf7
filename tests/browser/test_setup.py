"""Before a run in the ground: what is on hand is confirmed, what makes it safe is answered."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.typing import all_saved, new_test_in_ground, stored

pytestmark = pytest.mark.browser


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 390, "height": 844}, "has_touch": True}


def asked(page, label):
    return page.locator(".ask-one", has_text=label)


def test_a_no_locks_the_run_and_a_blank_is_said(page):
    test = new_test_in_ground(page, "cbr-in-situ")
    page.goto(f"/tests/{test}/run")
    begin = page.get_by_test_id("begin")
    expect(page.get_by_test_id("take")).to_be_hidden()
    expect(page.get_by_test_id("unanswered")).to_contain_text("services located: not answered")
    asked(page, "services located").get_by_role("button", name="no").click()
    expect(begin).to_be_disabled()
    expect(page.get_by_test_id("next")).to_contain_text("Have cables and pipes located first")
    # The space bar of the run is locked with it.
    page.keyboard.press("Space")
    expect(page.get_by_test_id("countdown")).to_be_hidden()
    assert violations(page) == []
    asked(page, "services located").get_by_role("button", name="yes").click()
    expect(begin).to_have_text("Begin without")
    begin.click()
    expect(page.get_by_test_id("take")).to_have_text("Start: Position 1")
    all_saved(page)
    assert stored(page, test)["services_clear"] == "yes"
    page.reload()
    expect(page.get_by_test_id("take")).to_be_visible()


def test_what_is_being_typed_stays_when_the_answer_before_it_comes_back(page):
    """The save of one answer returns while the next is typed: its sheet must not wipe what stands in the field."""
    test = new_test_in_ground(page, "soakage-pit")
    page.goto(f"/tests/{test}/run")
    asked(page, "services located").get_by_role("button", name="yes").click()
    length = asked(page, "length at the base").locator("input")
    length.press_sequentially("18")
    all_saved(page)
    expect(length).to_have_value("18")
    length.press_sequentially("00")
    length.press("Tab")
    all_saved(page)
    assert stored(page, test)["length_mm"] == 1800.0
    # Who opens it again sees what is on record.
    page.reload()
    expect(length).to_have_value("1800")


def test_the_vane_of_the_last_test_is_taken_by_a_tap_only(page):
    test = new_test_in_ground(page, "vane")
    page.goto(f"/tests/{test}/run")
    vane = asked(page, "vane").first
    expect(vane).to_contain_text("last test: Vane 65")
    expect(page.get_by_test_id("unanswered")).to_contain_text("vane not confirmed")
    vane.get_by_role("button").first.click()
    expect(vane).to_contain_text("confirmed")
    for label in ("services located", "pin drawn"):
        asked(page, label).get_by_role("button", name="yes").click()
    expect(page.get_by_test_id("begin")).to_have_text("Begin the run")
    assert violations(page) == []


def test_a_run_under_way_is_not_asked_again(page):
    page.goto("/tests/47/run")
    expect(page.get_by_test_id("stage")).to_contain_text("Stage 4 of 16")

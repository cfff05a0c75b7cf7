"""Twelve samples and forty tests planned on one page, counted in clicks."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations

pytestmark = pytest.mark.browser


def test_twelve_samples_and_forty_tests_in_twenty_five_clicks(page):
    page.add_init_script("addEventListener('click', () => { window.clicks = (window.clicks ?? 0) + 1 }, true)")
    clicks = 0

    def leave(locator):
        nonlocal clicks
        clicks += page.evaluate("window.clicks ?? 0") + 1
        with page.expect_navigation():
            locator.click()

    page.goto("/projects/2")
    leave(page.get_by_role("link", name="Schedule"))
    lines = [f"TP{k};B{k};bag;{k / 4};{k / 4 + 0.3};25000" for k in range(1, 13)]
    page.get_by_label("location; name; kind").fill("\n".join(lines))
    leave(page.get_by_role("button", name="Look at them"))
    expect(page.get_by_text("new", exact=True)).to_have_count(12)
    first = page.locator("tr", has=page.get_by_text("TP1 B1"))
    for method in ("Water content", "Liquid limit", "Plastic limit"):
        first.get_by_label(f"{method} of TP1 B1").check()
    for k in range(2, 13):
        page.get_by_role("button", name=f"TP{k} B{k} as the row above").click()
    for k in (3, 5, 7, 9):
        page.get_by_label(f"Compaction of TP{k} B{k}").check()
    expect(page.locator("[data-count]")).to_have_text("40 tests to plan")
    expect(first.locator("[data-soil]")).to_contain_text("of 25.0 kg")
    assert violations(page) == []
    leave(page.get_by_test_id("plan-it"))
    expect(page.get_by_role("link", name="TP12", exact=True)).to_be_visible()
    assert clicks <= 25, clicks
    page.goto("/projects/2/schedule")
    expect(page.locator("tr", has=page.get_by_text("TP3 B3")).locator("svg")).to_have_count(4)


def test_a_heading_ticks_its_column_and_takes_it_back(page):
    page.goto("/projects/2/schedule")
    boxes = page.locator("[data-method=sieve]")
    page.get_by_role("button", name="Sieve analysis", exact=True).click()
    assert all(box.is_checked() for box in boxes.all())
    page.get_by_role("button", name="Sieve analysis", exact=True).click()
    assert not any(box.is_checked() for box in boxes.all())
    expect(page.locator("[data-count]")).to_be_empty()

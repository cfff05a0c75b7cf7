"""The page on which a program's writer reads the HTTP interface."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_the_interface_is_told_and_tried_on_its_page(page):
    page.goto("/api/docs")
    reduce = page.locator(".opblock", has=page.locator('[data-path="/api/reduce"]'))
    reduce.get_by_role("button").first.click()
    expect(reduce.get_by_role("button", name="Try it out")).to_be_visible()

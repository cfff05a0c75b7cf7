"""Presets in the browser: chosen once, and nobody opens School."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations

pytestmark = pytest.mark.browser


def test_a_preset_is_chosen_once_and_nobody_opens_school(page):
    """The manager chooses; the next liquid limit that is planned begins so, and says it beforehand."""
    page.goto("/presets")
    page.get_by_role("link", name="Liquid limit").click()
    page.get_by_label("school").select_option("one-point")
    page.get_by_role("button", name="Keep for new tests").click()
    expect(page.get_by_role("row", name="Liquid limit")).to_contain_text("one-point")
    assert violations(page) == []
    page.get_by_role("link", name="Liquid limit").click()
    expect(page.get_by_text("The method's own: multipoint, percussion cup.")).to_be_visible()
    assert violations(page) == []
    page.goto("/samples/2")
    page.get_by_role("button", name="school one-point, percussion cup").click()
    page.wait_for_url("**/tests/*")
    expect(page.get_by_text("one-point, percussion cup").first).to_be_visible()

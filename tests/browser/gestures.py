"""What a person does on a page, more than once."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import PATIENCE_MS


def begin(page, method, mistakes="0", speed="60"):
    page.goto("/practice")
    page.locator("#p-method").select_option(method)
    page.locator("#p-mistakes").select_option(mistakes)
    page.locator("#p-speed").select_option(speed)
    page.get_by_role("button", name="Begin").click()
    page.wait_for_url("**/run?one=1")


def take_all(page, most=40, until=None):
    """Take every reading the bench shows, ``until`` something stands on the page; skip what it does not."""
    take, step, trouble = page.get_by_test_id("take"), page.get_by_test_id("step"), page.get_by_test_id("trouble")
    for _ in range(most):
        here = step.inner_text()
        if here == "Every reading is taken." or (until and until.is_visible()):
            return
        take.click()
        expect(
            step.filter(has_not_text=re.compile(f"^{re.escape(here)}$"))
            .or_(trouble.filter(visible=True))
            .or_(page.get_by_test_id("doubt").filter(visible=True))
            .first
        ).to_be_visible()
        if trouble.is_visible():
            more = page.get_by_role("button", name="No more")
            (more if more.is_visible() else page.get_by_role("button", name="Skip")).click()
    raise AssertionError("readings without end")


def until_asked(page, held, times=1):
    """Wait until the page has asked so often for what a test holds back."""
    for _ in range(PATIENCE_MS // 50):
        if len(held) >= times:
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"asked {len(held)} times of {times}")


def reopen(page, address):
    page.goto(address)
    page.get_by_role("button", name="Reopen").click()
    page.locator("[data-move-why]").fill("construction to be looked at")
    page.get_by_role("button", name="Confirm").click()
    expect(page.get_by_test_id("state")).to_have_text("running")


def drag(page, setting, by):
    grip = page.locator(f'.vf-handle[data-setting="{setting}"] .vf-grip').bounding_box()
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by, y, steps=6)
    page.mouse.up()

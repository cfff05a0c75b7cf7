"""Labels scanned by the phone's camera: into the cell of a tin, into the search."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.typing import all_saved, cut, stored
from tests.laboratory import WATER_CONTENT_U1_1
from tests.photographed import bench, label

pytestmark = pytest.mark.browser


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 390, "height": 844}, "has_touch": True}


def scan(page, picture):
    """Take a picture as the phone's camera hands it over."""
    page.locator("[data-scans]").set_input_files({"name": "p.jpg", "mimeType": "image/jpeg", "buffer": picture})


def test_a_tin_is_scanned_into_the_cell_that_stands_open(page):
    page.goto(f"/tests/{WATER_CONTENT_U1_1}")
    tin = page.locator("[data-path='determinations.0.tin']")
    tin.focus()
    scan(page, label("T7"))
    # The hand goes on to the next cell; the tin is kept.
    expect(tin).to_have_value("T7")
    expect(tin).not_to_be_focused()
    all_saved(page)
    assert stored(page, WATER_CONTENT_U1_1)["determinations"][0]["tin"] == "T7"


def test_what_is_no_tins_label_changes_nothing_and_says_what_to_do(page):
    page.goto(f"/tests/{WATER_CONTENT_U1_1}")
    before = stored(page, WATER_CONTENT_U1_1)
    says = page.locator("[data-scan] [role=status]")
    scan(page, label("http://vadum.local:8000/samples/1"))
    expect(says).to_have_text("That is the label of a sample, not of a tin.")
    scan(page, bench())
    expect(says).to_contain_text("No code is seen in the picture. Hold the label flat and near")
    with cut(page):
        scan(page, label("T7"))
        expect(says).to_have_text("The line is down: type what stands on the label.")
    assert stored(page, WATER_CONTENT_U1_1) == before


def test_a_samples_label_opens_the_sample_from_the_search(page):
    page.goto("/search")
    scan(page, label("http://another-name:9/samples/2"))
    expect(page).to_have_url(re.compile(r"/samples/2$"))

"""Names as long as they may be: no page grows wider than its window, nothing is written over anything else."""

import pytest
from playwright.sync_api import expect
from sqlmodel import Session, select

from vadum.records.database import open_database
from vadum.records.tables import Equipment, Location, Project, Sample

pytestmark = pytest.mark.browser
PAGES = ["/", "/board", "/plan", "/projects/1", "/locations/1", "/samples/1", "/search?q=TP4", "/equipment", "/tests/4"]
MORE = {
    Project: " relocation of the eastern collector sewer between the brickworks",
    Location: " behind the transformer house, east side",
    Sample: " undisturbed tube no. 2026-0147, lower half",
    Equipment: " second bench from the window, bought in 2019",
}


@pytest.fixture
def long_names(database):
    """The demonstration laboratory with everything in it called at length."""
    with Session(open_database(database)) as session:
        for table, more in MORE.items():
            for row in session.exec(select(table)):
                row.name = (row.name + more)[:80]
                session.add(row)
        session.commit()


@pytest.mark.parametrize("width", [1280, 390])
def test_no_page_is_wider_than_its_window(long_names, page, width):
    page.set_viewport_size({"width": width, "height": 844})
    for path in PAGES:
        page.goto(path)
        expect(page.locator("main")).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= width, path


def test_what_soil_is_in_hand_stands_above_the_sheet_of_a_phone(long_names, page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/tests/4")
    (sample,) = page.locator(".trail b").all_inner_texts()[:1]
    assert "undisturbed tube no. 2026-0147" in sample
    # In sight: not behind the end of a line.
    box = page.locator(".trail b").first.bounding_box()
    assert 0 <= box["x"] < box["x"] + box["width"] <= 390


def test_names_before_the_bars_of_a_plan_end_before_them(long_names, page):
    page.goto("/plan")
    begins = page.locator(".tl .tl-day").first.bounding_box()["x"]
    names = page.locator(".tl a text").all()
    assert names
    for name in names:
        box = name.bounding_box()
        assert box["x"] + box["width"] <= begins, name.text_content()

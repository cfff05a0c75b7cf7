"""Answers that come late, or twice: what the hand has done since stands."""

import re
import time
from pkgutil import resolve_name

import pytest
from playwright.sync_api import expect
from sqlmodel import Session, func, select

from tests.browser.conftest import saved
from tests.browser.gestures import reopen, until_asked
from tests.browser.typing import new_test_in_ground
from vadum.records.database import open_database
from vadum.records.tables import Test

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


@pytest.mark.parametrize(
    ("page_of", "button", "slow"),
    [
        (CBR, "Plan this test once more", "vadum.web.pages.worksheet.routes.once_more"),
        ("/samples/3", "Water content", "vadum.web.pages.places.routes.planned"),
    ],
)
def test_a_form_pressed_again_while_its_answer_is_on_the_way_is_sent_once(
    page, server, monkeypatch, page_of, button, slow
):
    """On a slow line a second press planned a second test."""
    made = resolve_name(slow)
    monkeypatch.setattr(slow, lambda *a, **k: time.sleep(1) or made(*a, **k))
    before = count_of_tests(server)
    page.goto(page_of)
    # As fingers do: twice, the page still standing.
    page.locator("form[method=post] button", has_text=button).first.evaluate(
        "(button) => { setTimeout(() => button.click(), 300); button.click(); }"
    )
    page.wait_for_url(re.compile(rf"/tests/(?!{CBR[-2:]}$)\d+$"))
    page.wait_for_timeout(2500)
    assert count_of_tests(server) == before + 1
    # Back on the page, it may be pressed again.
    page.go_back()
    page.locator("form[method=post] button", has_text=button).first.evaluate("(button) => button.click()")
    page.wait_for_url(re.compile(rf"/tests/(?!{CBR[-2:]}$)\d+$"))
    assert count_of_tests(server) == before + 2


def count_of_tests(server):
    with Session(open_database(server.database)) as session:
        return session.exec(select(func.count()).select_from(Test)).one()


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


def test_a_plan_asked_for_before_a_bar_was_moved_does_not_take_the_move_back(page, monkeypatch):
    page.goto("/plan")
    expect(page.get_by_test_id("summary")).to_contain_text("operations")
    name = "vadum.web.pages.plan.routes._made"
    made, waits = resolve_name(name), [1.5]
    monkeypatch.setattr(name, lambda *a, **k: (waits and time.sleep(waits.pop()), made(*a, **k))[1])
    bar = page.locator('.tl-bar[aria-label="Mix the paste"]').first
    at = float(bar.get_attribute("data-start"))
    page.get_by_label("oven places").fill("3")
    page.get_by_label("oven places").press("Tab")
    bar.focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    page.wait_for_timeout(2500)
    page.wait_for_load_state("networkidle")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    # The first step is the one that brings it to five minutes of the clock.
    assert 7 <= float(bar.get_attribute("data-start")) - at <= 13, "two presses, two steps of five minutes"


def test_the_board_asked_before_a_word_was_said_does_not_bring_its_line_back(page):
    page.clock.install()
    page.goto("/board")
    held = []
    page.route("**/api/board", lambda route: held.append((route, route.fetch())))
    page.clock.run_for(20_000)
    until_asked(page, held)
    row = page.get_by_role("region", name="Now").locator("li").filter(has_text="Look over the path")
    before = row.count()
    row.first.get_by_role("button", name=re.compile("^Done")).click()
    expect(row).to_have_count(before - 1)
    for route, answered_before in held:
        route.fulfill(response=answered_before)
    page.wait_for_timeout(500)
    expect(row).to_have_count(before - 1)


def test_the_mix_told_is_that_of_the_numbers_typed_last(page):
    page.goto("/tests/17")
    page.get_by_role("button", name="Mix").click()
    held = []
    page.route("**/api/preparation", lambda route: held.append((route, route.fetch())))
    mass, told = page.get_by_label("dry mass, g"), page.get_by_test_id("mix")
    page.get_by_label("wanted w, %").fill("12")
    page.get_by_label("w now, %").fill("4")
    for grams in ("1000", "2000"):
        mass.fill(grams)
        mass.press("Enter")
    until_asked(page, held, 2)
    for route, answer in reversed(held):
        route.fulfill(response=answer)
        page.wait_for_timeout(300)
    # 1000 g of dry soil want 80 g of water more, 2000 g 160 g.
    expect(told).to_contain_text("160")

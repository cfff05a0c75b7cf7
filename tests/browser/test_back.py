"""The browser's own way back: it brings a page as it was left, however long ago that is."""

import re
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import expect

from tests.laboratory import LIQUID_LIMIT_U2, WATER_CONTENT_B3

pytestmark = pytest.mark.browser


def away_and_back(page, meanwhile):
    page.goto("/equipment")
    meanwhile()
    page.go_back()


def saved(page, test, cells):
    sheet = page.request.get(f"/api/tests/{test}/sheet").json()
    body = {"base_revision": sheet["revision"], "save_key": f"elsewhere-{sheet['revision']:04}", "cells": cells}
    assert page.request.post(f"/api/tests/{test}/save", data=body).ok


def voided(page, test):
    assert page.request.post(f"/api/tests/{test}/move", data={"action": "void", "reason": "the sample dried out"}).ok


def test_a_list_is_as_things_stand_now(page):
    page.goto("/board")
    oven = page.get_by_role("region", name="In the ovens")
    expect(oven.locator(f'a[href="/tests/{WATER_CONTENT_B3}"]')).to_be_visible()
    away_and_back(page, lambda: voided(page, WATER_CONTENT_B3))
    expect(oven.locator(f'a[href="/tests/{WATER_CONTENT_B3}"]')).to_have_count(0)
    page.goto("/samples/2")
    line = page.get_by_role("listitem").filter(has=page.locator(f'a[href="/tests/{LIQUID_LIMIT_U2}"]')).first
    expect(line).not_to_contain_text("void")
    away_and_back(page, lambda: voided(page, LIQUID_LIMIT_U2))
    expect(line).to_contain_text("void")


def test_a_worksheet_shows_what_was_saved_meanwhile(page):
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    cell = page.locator('[data-path="trials.0.blows"]')
    expect(cell).to_be_visible()
    away_and_back(page, lambda: saved(page, LIQUID_LIMIT_U2, {"trials.0.blows": "29"}))
    expect(cell).to_have_value("29")
    # What is typed now stands on top of it: nothing has to be looked at.
    cell.fill("31")
    cell.press("Enter")
    expect(page.get_by_text("saved, revision")).to_be_visible()
    expect(page.get_by_role("heading", name="Changed in between")).to_be_hidden()
    assert page.request.get(f"/tests/{LIQUID_LIMIT_U2}/bench.json").json()["readings"]["trials"][0]["blows"] == 31


def test_what_was_typed_into_a_form_still_stands(page):
    page.goto("/letterhead")
    address = page.get_by_label("address")
    address.fill("1 Mill Lane")
    away_and_back(page, lambda: None)
    page.wait_for_load_state("networkidle")
    expect(address).to_have_value("1 Mill Lane")


def test_without_a_line_the_page_stays(page, context):
    page.goto("/board")
    oven = page.get_by_role("region", name="In the ovens")
    page.goto("/equipment")
    context.set_offline(True)
    page.go_back()
    expect(oven.get_by_role("link").first).to_be_visible()
    context.set_offline(False)


def test_a_board_that_was_kept_goes_by_the_clock_that_is_known(page, monkeypatch):
    """It took its own age for a device's clock that is ahead, and every time on it stood still for as long."""
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")

    class Earlier(datetime):
        @classmethod
        def now(cls, tz=None):
            return datetime.now(tz) - timedelta(minutes=20)

    with monkeypatch.context() as kept:
        kept.setattr("vadum.web.pages.board.routes.datetime", Earlier)
        page.goto("/board")
        expect(page.get_by_test_id("clock")).to_have_text(re.compile(r"\d\d:\d\d"))
        expect(page.get_by_test_id("wrong-clock")).to_be_hidden()
        shown = page.get_by_test_id("clock").inner_text()
    now = datetime.now(UTC)
    assert shown in {f"{now - timedelta(minutes=late):%H:%M}" for late in (0, 1)}


def test_a_list_that_was_narrowed_is_narrowed_again(page):
    for number in range(30):
        form = {"name": f"CP{number:02}", "kind": "test point", "depth_m": "1"}
        assert page.request.post("/projects/1/locations", form=form).ok
    page.goto("/projects/1")
    lines = page.locator("#locations tbody tr:visible")
    page.get_by_role("searchbox").last.fill("cp1")
    expect(lines).to_have_count(10)
    away_and_back(page, lambda: None)
    expect(page.get_by_role("searchbox").last).to_have_value("cp1")
    expect(lines).to_have_count(10)


BROUGHT_BACK_AS_IT_STOOD = "dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }))"


def test_what_a_hand_did_in_a_page_alone_outlives_the_way_back(page):
    """As browsers without a test in them do it: the page comes back with its scripts as they stood."""
    page.goto("/plan")
    page.evaluate("window.same = true")
    page.locator('.tl-bar[aria-label="Mix the paste"]').first.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    with page.expect_response("**/api/plan"):
        page.evaluate(BROUGHT_BACK_AS_IT_STOOD)
    expect(page.locator(".tl-pinned")).to_have_count(1)
    assert page.evaluate("window.same")
    page.goto("/board")
    page.evaluate("window.same = true")
    with page.expect_navigation():
        page.evaluate(BROUGHT_BACK_AS_IT_STOOD)
    assert page.evaluate("window.same") is None

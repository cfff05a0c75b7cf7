"""A sheet that somebody else changed while readings of this hand waited: all of both is told, none of it lost."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.typing import all_saved, cut, differences, fast, new_test, stored

pytestmark = pytest.mark.browser

MINE = ["0.5", "41", "1.0", "83", "1.5", "124"]


def saved_elsewhere(page, test, cells, base=0):
    """Save cells as another device does."""
    change = {"base_revision": base, "cells": cells, "save_key": f"another device {base}"}
    answer = page.request.post(f"/api/tests/{test}/save", data=change)
    assert answer.ok, answer.text()


def three_rows_without_a_line(page):
    """Type three rows of a new test while somebody else begins the same table, and come back to the line."""
    test = new_test(page, "unconfined")
    page.goto(f"/tests/{test}")
    with cut(page):
        fast(page, MINE, "loading.0.shortening_mm")
        saved_elsewhere(page, test, {"loading.0.shortening_mm": "0.3", "loading.0.force_n": "25"})
    expect(page.locator(".conflict")).to_contain_text("Changed in between")
    return test


def rows(first, values=MINE):
    """Return where values belong that were typed along the rows from one on."""
    keys = ("shortening_mm", "force_n")
    return {f"loading.{first + i // 2}.{keys[i % 2]}": text for i, text in enumerate(values)}


def test_all_that_waits_is_told_and_none_of_it_is_lost_when_theirs_is_taken(page):
    test = three_rows_without_a_line(page)
    for text in (*MINE, "0.3", "25"):
        expect(page.locator(".conflict td", has_text=text).first).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Take theirs").click()
    expect(page.locator('[data-path="loading.0.force_n"]')).to_have_value("25.0")
    aside = page.get_by_test_id("set-aside")
    expect(aside).to_have_count(1)
    for text in MINE:
        expect(aside).to_contain_text(f"“{text}”")
    page.reload()
    expect(aside).to_have_count(1)
    # Sent again, it is asked about again.
    aside.get_by_role("button", name="Send again").click()
    page.get_by_role("button", name="Save mine below theirs").click()
    expect(aside).to_have_count(0)
    all_saved(page)
    assert differences(stored(page, test), rows(0, ["0.3", "25"]) | rows(1)) == {}


def test_rows_that_both_began_are_kept_apart(page):
    test = three_rows_without_a_line(page)
    page.get_by_role("button", name="Save mine below theirs").click()
    expect(page.locator(".conflict")).to_have_count(0)
    all_saved(page)
    kept = stored(page, test)
    assert differences(kept, rows(0, ["0.3", "25"]) | rows(1)) == {}
    assert len(kept["loading"]) == 4
    expect(page.locator('[data-path="loading.3.force_n"]')).to_have_value("124.0")


def test_a_line_that_comes_back_while_it_is_chosen_is_not_said_to_be_down(page):
    three_rows_without_a_line(page)
    with cut(page):
        expect(page.get_by_test_id("as-of")).to_be_visible()
    page.get_by_role("button", name="Take theirs").click()
    page.get_by_role("button", name="Drop it").click()
    all_saved(page)


def test_mine_on_top_is_all_of_mine(page):
    test = three_rows_without_a_line(page)
    page.get_by_role("button", name="Save mine on top").click()
    all_saved(page)
    assert differences(stored(page, test), rows(0)) == {}


def test_rows_are_not_offered_apart_where_nobody_began_one(page):
    test = new_test(page, "unconfined")
    saved_elsewhere(page, test, {"loading.0.shortening_mm": "0.3", "loading.0.force_n": "25"})
    page.goto(f"/tests/{test}")
    with cut(page):
        fast(page, ["26"], "loading.0.force_n")
        saved_elsewhere(page, test, {"loading.0.force_n": "27"}, base=1)
    expect(page.locator(".conflict")).to_contain_text("26")
    expect(page.get_by_role("button", name="Save mine below theirs")).to_have_count(0)


def test_what_was_set_aside_does_not_slip_in_behind_a_later_reading(page):
    test = three_rows_without_a_line(page)
    page.get_by_role("button", name="Take theirs").click()
    expect(page.locator('[data-path="loading.0.force_n"]')).to_have_value("25.0")
    with cut(page):
        fast(page, ["0.6", "50"], "loading.1.shortening_mm")
        page.get_by_test_id("set-aside").get_by_role("button", name="Send again").click()
    expect(page.locator(".conflict")).to_contain_text("Changed in between")
    page.get_by_role("button", name="Save mine below theirs").click()
    all_saved(page)
    both = rows(0, ["0.3", "25", "0.6", "50"]) | rows(2)
    assert differences(stored(page, test), both) == {}


def test_a_hand_does_not_stand_against_itself(page):
    """A reload may be answered from before the last save, and what the browser knew of that save be lost with it."""
    test = new_test(page, "unconfined")
    page.goto(f"/tests/{test}")
    stale = page.request.get(f"/tests/{test}").text()
    fast(page, ["0.5", "41"], "loading.0.shortening_mm")
    all_saved(page)
    page.evaluate("indexedDB.deleteDatabase('vadum')")
    page.route(f"**/tests/{test}", lambda route: route.fulfill(body=stale, content_type="text/html"))
    page.reload()
    fast(page, ["1.0", "83"], "loading.1.shortening_mm")
    all_saved(page)
    assert differences(stored(page, test), rows(0, MINE[:4])) == {}

"""The plan as it is pushed about."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import by_day_and_night

pytestmark = pytest.mark.browser


def bar(page, name):
    return page.locator(f'.tl-bar[aria-label="{name}"]').first


def test_choosing_tests_and_limits_changes_the_plan(page):
    page.goto("/plan")
    expect(page.get_by_test_id("summary")).to_contain_text(re.compile(r"\d+ operations"))
    before = page.locator(".tl-bar").count()
    page.get_by_label("P1 D2, Liquid limit").uncheck()
    expect(page.locator(".tl-bar")).not_to_have_count(before)
    page.get_by_label("oven places").fill("0")
    page.get_by_label("oven places").press("Enter")
    expect(page.get_by_role("region", name="Conflicts")).to_contain_text("finds no room")
    page.get_by_label("Monday").fill("noon")
    page.get_by_label("Monday").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("write hours as 08:00-17:00")


def test_a_bar_is_dragged_its_conflict_said_and_let_go(page):
    page.goto("/plan")
    expect(page.locator(".tl-bar")).not_to_have_count(0)
    late = bar(page, "Weigh after cooling 5–10 min")
    box = late.bounding_box()
    page.mouse.move(box["x"] + 2, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(box["x"] - 250, box["y"] + 8, steps=6)
    page.mouse.up()
    expect(page.get_by_role("region", name="Conflicts")).to_contain_text("too early after")
    expect(page.locator(".tl-wrong")).not_to_have_count(0)
    page.get_by_role("button", name="Let all bars go back").click()
    expect(page.locator(".tl-wrong")).to_have_count(0)


def test_a_bar_moves_by_keys_and_keeps_the_hand(page):
    page.goto("/plan")
    first = bar(page, "Mix the paste")
    at = float(first.get_attribute("data-start"))
    first.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    expect(bar(page, "Mix the paste")).to_be_focused()
    moved = float(bar(page, "Mix the paste").get_attribute("data-start"))
    assert 0 < moved - at <= 10
    expect(bar(page, "Mix the paste")).to_have_attribute("aria-valuetext", re.compile("put there by hand"))
    page.keyboard.press("Escape")
    expect(page.locator(".tl-pinned")).to_have_count(0)


def test_axe_finds_nothing_on_the_plan(page):
    page.goto("/plan")
    expect(page.locator(".tl-bar")).not_to_have_count(0)
    assert by_day_and_night(page) == []


def test_a_plan_is_kept_with_its_hours_and_said_on_the_board(page):
    page.goto("/plan")
    expect(page.get_by_test_id("kept")).to_have_text("Not kept yet.")
    page.get_by_label("Wednesday").fill("")
    page.get_by_label("Wednesday").press("Tab")
    bar(page, "Mix the paste").focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    page.get_by_role("button", name="Keep this plan").click()
    expect(page.get_by_test_id("kept")).to_contain_text("it stands on the board")
    page.reload()
    expect(page.get_by_test_id("kept")).to_contain_text("it stands on the board")
    expect(page.get_by_label("Wednesday")).to_have_value("")
    expect(page.locator(".tl-pinned")).to_have_count(1)
    with page.expect_download() as file:
        page.get_by_role("link", name="Calendar file").click()
    assert b"BEGIN:VEVENT" in file.value.path().read_bytes()
    page.get_by_label("Monday").fill("")
    page.get_by_label("Monday").press("Tab")
    expect(page.get_by_role("region", name="Since it was kept")).to_contain_text("→")

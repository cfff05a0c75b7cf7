"""Water in the ground in the browser: clocks side by side on a phone, positions, a hole drawn as typed, shakes said
done."""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.gestures import reopen
from tests.browser.typing import Watch, wind

pytestmark = pytest.mark.browser
CYLINDERS, HOLE, CELL, LIME, FALLING, BOTTLES = (f"/tests/{i}" for i in range(54, 60))


@pytest.fixture
def phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    return page


def read(page, number, value):
    page.locator(f'[data-level="{number}"]').fill(value)
    page.get_by_test_id("take").click()


def heads(page):
    sheet = page.request.get(f"/api{FALLING}/bench.json")
    return (page.request.get(f"{FALLING}/bench.json") if not sheet.ok else sheet).json()["readings"]["heads"]


def test_three_cylinders_fall_side_by_side(phone, context):
    page = phone
    page.clock.install()
    page.goto(f"{FALLING}/run")
    expect(page.locator(".series .one")).to_have_count(3)
    expect(page.locator('[data-clock="1"]')).to_have_text(re.compile(r"^4[67]:"))
    expect(page.locator('[data-clock="2"]')).to_have_text("–:––")
    before = len(heads(page))
    stood = [row["head_mm"] for row in heads(page) if row["cylinder"] == 1][-1]
    page.locator(".one .name").nth(1).click()
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("doubt")).to_contain_text("Type the head at the start")
    watch = Watch()
    read(page, 2, "352")
    expect(page.locator(".series .one").nth(1)).to_contain_text("last 352 mm")
    wind(page, 90)
    watch.reads(page.locator('[data-clock="2"]'), 90)
    # A head that is higher than the last is queried before it is kept.
    page.locator(".one .name").nth(1).click()
    read(page, 2, "372")
    expect(page.get_by_test_id("doubt")).to_contain_text("higher than 352")
    read(page, 2, "331")
    # The hand goes on to the other cylinder that is running.
    expect(page.get_by_test_id("take")).to_have_text("Read cylinder 1")
    context.set_offline(True)
    read(page, 1, "220")
    expect(page.get_by_text("waiting for the line")).to_be_visible()
    context.set_offline(False)
    wind(page, 40)
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    added = heads(page)[before:]
    assert [(row["cylinder"], row["head_mm"]) for row in added] == [(2, 352.0), (2, 331.0), (1, 220.0)]
    assert added[0]["elapsed_min"] == 0
    assert watch.allows(60 * added[1]["elapsed_min"], 90)
    assert added[2]["elapsed_min"] > 46
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".series .one").first).to_contain_text(f"last {stood:g} mm")
    assert violations(page) == []


def test_a_clock_survives_a_reload(phone):
    page = phone
    page.goto(f"{FALLING}/run")
    page.locator(".one .name").nth(2).click()
    read(page, 3, "340")
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    page.evaluate("localStorage.clear()")
    page.reload()
    expect(page.locator('[data-clock="3"]')).to_have_text(re.compile(r"^0:\d\d$"))


def test_every_target_is_large_enough(phone):
    phone.goto(f"{FALLING}/run")
    sizes = phone.locator(".series .name, .series input, .keysrow button").evaluate_all(
        "els => els.map((e) => [e.offsetWidth, e.offsetHeight])"
    )
    assert all(width >= 44 and height >= 44 for width, height in sizes)
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_rate_says_when_it_is_steady_and_a_typed_series_has_no_clock(page):
    reopen(page, HOLE)
    page.goto(f"{HOLE}/run")
    expect(page.locator(".series .one").first).to_contain_text("steady at 5.88 mm/min")
    page.locator(".one .name").nth(1).click()
    read(page, 2, "84")
    expect(page.get_by_test_id("trouble")).to_contain_text("head 2 was read without this clock")


def test_the_hole_follows_what_is_typed(page):
    reopen(page, HOLE)
    page.get_by_role("button", name="Hole", exact=True).click()
    expect(page.locator(".zone-figure svg")).to_contain_text("radius 30 mm, depth 450 mm")
    page.get_by_label("head 2, mm").fill("150")
    expect(page.locator(".zone-figure svg")).to_contain_text("head 2: 150 mm")
    page.get_by_label("radius of hole").fill("60")
    page.keyboard.press("Enter")
    # Two sizes that are not of one hole: the diameter counts, and it is said.
    expect(page.get_by_text("half of it is 30 mm, which counts").first).to_be_visible()


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {
        "geolocation": {"latitude": 52.104_44, "longitude": -1.204_99},
        "permissions": ["geolocation"],
    }


def test_the_device_tells_where_it_stands(page, context):
    page.goto(FALLING)
    page.get_by_role("button", name="Position from here").click()
    expect(page.locator('[data-path="cylinders.3.latitude_deg"]')).to_have_value("52.10444")
    expect(page.locator('[data-path="cylinders.3.longitude_deg"]')).to_have_value("-1.20499")
    context.clear_permissions()
    page.reload()
    page.get_by_role("button", name="Position from here").click()
    expect(page.get_by_test_id("trouble")).to_contain_text("Type latitude and longitude")


def at_a_bottle_with_its_soil_in(page):
    sheet = page.request.get(f"/api{BOTTLES}/sheet").json()
    cells = {"water_content_percent": "4", "bottles.1.lime_percent": "2", "bottles.1.mass_soil_g": "26"}
    page.request.post(
        f"/api{BOTTLES}/save", data={"base_revision": sheet["revision"], "save_key": "key-00009", "cells": cells}
    )
    page.goto(f"{BOTTLES}/run")


def test_a_shake_is_said_done_where_one_stands(phone):
    page = phone
    at_a_bottle_with_its_soil_in(page)
    page.get_by_role("button", name="Done: Water in, shake 30 s").click()
    expect(page.get_by_role("button", name="Done: Shake 30 s")).to_be_visible()
    expect(page.get_by_test_id("countdown")).to_have_text(re.compile(r"^(10:00|9:\d\d)$"))
    # The minutes at which a bottle is read come off the same clock.
    page.clock.install()
    page.clock.set_system_time(time.time() + 62 * 60)
    # What is weighed is not proposed: a nominal mass is no reading.
    while "soil" not in page.get_by_test_id("step").inner_text():
        page.get_by_role("button", name="Skip this one").click()
    expect(page.get_by_test_id("take")).to_have_text("Keep this reading")
    while "read at" not in page.get_by_test_id("step").inner_text():
        page.get_by_role("button", name="Skip this one").click()
    expect(page.get_by_test_id("take")).to_have_text(re.compile(r"^Now: 6[123] min$"))


def test_a_word_that_is_not_taken_is_told_where_it_was_said(phone):
    page = phone
    at_a_bottle_with_its_soil_in(page)
    said = page.get_by_test_id("operation-done")
    expect(said).to_be_visible()
    assert page.request.post(f"/api{BOTTLES}/move", data={"action": "void", "reason": "the wrong lime"}).ok
    said.click()
    expect(page.get_by_test_id("not-done")).to_contain_text("This test is void")


def test_a_word_said_without_a_line_waits_like_a_reading(phone):
    page = phone
    at_a_bottle_with_its_soil_in(page)
    said = page.get_by_test_id("operation-done")
    expect(said).to_be_visible()
    page.context.set_offline(True)
    # A reading goes before the word, which may follow from it.
    while page.get_by_test_id("step").inner_text() != "bottles 3: soil":
        page.get_by_role("button", name="Skip this one").click()
    page.locator("[data-name=reading]").fill("26.5")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 waiting for the line")).to_be_visible()
    said.click()
    kept = page.get_by_test_id("word-kept")
    place = page.locator("header").inner_text().split(",")[0]
    expect(kept).to_contain_text(f"Kept here until there is a line: Water in, shake 30 s, {place}, done at")
    expect(said).to_be_hidden()
    page.context.set_offline(False)
    expect(kept).to_have_count(0)
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    dues = page.request.get(f"/api{BOTTLES}/sheet").json()["due"]
    assert next(due["doneAt"] for due in dues if due["what"] == "Water in, shake 30 s")

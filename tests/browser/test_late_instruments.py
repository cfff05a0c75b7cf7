"""An instrument that answers late: its reading is that of the cell it was asked for, and a hand that typed meanwhile
is not written over."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import saved
from tests.browser.gestures import begin, until_asked
from tests.browser.typing import new_test_in_ground
from tests.laboratory import WATER_CONTENT_U1_1

pytestmark = pytest.mark.browser
FALLING = "/tests/58"


@pytest.fixture
def line(page):
    """The line to the instruments: what is asked waits until it is let go."""
    return SlowLine(page)


class SlowLine:
    def __init__(self, page):
        self.page, self.asked = page, []

    def hold(self):
        self.page.route("**/read", lambda route: self.asked.append(route))

    def wait(self):
        until_asked(self.page, self.asked)

    def let_go(self):
        """Let the instruments answer, and the page hear it."""
        for route in self.asked:
            with self.page.expect_response("**/read"):
                route.continue_()
        self.page.unroute("**/read")

    def answer(self, text):
        """Answer as instruments do that all show the same."""
        (asked,) = self.asked
        cells = asked.request.post_data_json["cells"]
        asked.fulfill(json={"cells": dict.fromkeys(cells, text), "origins": {}, "troubles": {}})
        self.page.unroute("**/read")
        self.page.wait_for_timeout(300)


def bind(page, test, bindings):
    sheet = page.request.get(f"/api{test}/sheet").json()
    body = {"base_revision": sheet["revision"], "save_key": "bound-here", "bindings": bindings}
    assert page.request.post(f"/api{test}/save", data=body).ok


def readings(page):
    test = re.search(r"/tests/(\d+)", page.url)[1]
    return page.request.get(f"/tests/{test}/bench.json").json()["readings"]


def test_a_reading_that_comes_when_the_hand_has_gone_on_is_told_and_kept_nowhere(page, line):
    begin(page, "water-content", speed="1")
    step, take = page.get_by_test_id("step"), page.get_by_test_id("take")
    # The tin's name, then its mass.
    take.click()
    expect(step).to_have_text(re.compile("T-"))
    take.click()
    expect(step).to_contain_text("tin + wet")
    line.hold()
    take.click()
    line.wait()
    asked_for = step.inner_text()
    page.get_by_role("button", name="Skip this one").click()
    expect(step).not_to_have_text(asked_for)
    here = step.inner_text()
    line.let_go()
    expect(page.get_by_test_id("trouble")).to_have_text(f"“{asked_for}” was read when you had gone on; it is not kept.")
    expect(step).to_have_text(here)
    assert readings(page)["determinations"][0].keys() == {"tin", "mass_tin_g"}


def test_what_is_typed_while_the_instrument_is_asked_stands(page, line):
    begin(page, "water-content", speed="1")
    step, field = page.get_by_test_id("step"), page.locator("[data-name=reading]")
    line.hold()
    page.get_by_test_id("take").click()
    line.wait()
    here = step.inner_text()
    field.press_sequentially("4")
    line.let_go()
    field.press_sequentially("2")
    expect(step).to_have_text(here)
    field.press("Enter")
    expect(step).not_to_have_text(here)
    expect(page.get_by_role("status").first).to_have_text("saved")
    assert readings(page)["determinations"][0] == {"tin": "42"}


def test_a_ring_is_asked_once_for_a_row_and_one_read_by_eye_meanwhile_stands(page, line):
    begin(page, "cbr-in-situ", speed="1")
    page.goto(page.url.replace("?one=1", ""))
    field, mark = page.locator("[data-name=ring]"), page.get_by_test_id("countdown")
    page.keyboard.press("Space")
    first = mark.inner_text()
    page.locator("body").click(position={"x": 4, "y": 4})
    line.hold()
    page.keyboard.press("Space")
    line.wait()
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    assert len(line.asked) == 1
    field.fill("31")
    field.press("Enter")
    expect(mark).not_to_have_text(first)
    second = mark.inner_text()
    line.let_go()
    expect(page.get_by_role("status").first).to_have_text("saved")
    expect(mark).to_have_text(second)
    rows = readings(page)["position_1"]
    assert [row["ring_div"] for row in rows if row.get("ring_div")] == [31]


def typed_meanwhile(page, line, field, text, answered):
    """Type while the instrument is asked: the text stands when it has answered."""
    line.hold()
    page.get_by_test_id("take").click()
    line.wait()
    field.fill(text)
    line.answer(answered)
    expect(field).to_have_value(text)


def test_a_gauge_typed_while_the_instruments_are_asked_stands(page, line):
    test = f"/tests/{new_test_in_ground(page, 'plate-incremental')}"
    bind(page, test, {f"rows.gauge_{g}_mm": f"dial gauge {g.upper()} / travel" for g in "abcd"})
    page.goto(f"{test}/run")
    if page.get_by_test_id("begin").is_visible():
        page.get_by_test_id("begin").click()
    page.get_by_label("Pressure, kPa").fill("50")
    page.get_by_test_id("load").click()
    typed_meanwhile(page, line, page.locator("[data-gauge=gauge_a_mm]"), "8.12", answered="9")
    assert not any(row.get("gauge_b_mm") for row in readings(page).get("rows", ()))


def test_a_level_typed_while_the_instrument_is_asked_stands(page, line):
    bind(page, FALLING, {"heads.head_mm": "level gauge / level"})
    page.goto(f"{FALLING}/run")
    before = len(readings(page)["heads"])
    field = page.locator("[data-level='1']")
    typed_meanwhile(page, line, field, "201", answered="202")
    assert len(readings(page)["heads"]) == before
    page.get_by_test_id("take").click()
    expect(page.get_by_role("status").first).to_have_text("saved")
    expect(field).to_have_value("")
    assert [row["head_mm"] for row in readings(page)["heads"][before:]] == [201]


def test_a_cell_typed_while_its_instrument_is_asked_is_not_written_over(page, line):
    test = f"/tests/{WATER_CONTENT_U1_1}"
    bind(page, test, {"determinations.mass_tin_wet_g": "fine balance / mass"})
    page.goto(test)
    cell = page.locator('[data-path="determinations.0.mass_tin_wet_g"]')
    cell.focus()
    line.hold()
    page.keyboard.press("Space")
    line.wait()
    page.keyboard.type("58.1")
    line.answer("61.37")
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    saved(page)
    expect(cell).to_have_value("58.12")
    assert readings(page)["determinations"][0]["mass_tin_wet_g"] == 58.12

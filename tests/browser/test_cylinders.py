"""Cylinders on one clock, with the clock run faster than the bench."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.typing import Watch, wind
from tests.laboratory import HYDROMETER_B4, HYDROMETER_U1

pytestmark = pytest.mark.browser
WAITING, RUNNING = f"/tests/{HYDROMETER_B4}/run", f"/tests/{HYDROMETER_U1}/run"


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 390, "height": 844}, "has_touch": True}


@pytest.fixture
def fast(page):
    """Install a clock that the test winds on."""
    page.clock.install()
    return page


def take(page, reading, temperature=""):
    page.get_by_test_id("take").click()
    page.get_by_label("reads").fill(reading)
    page.get_by_label("temperature, °C").fill(temperature)
    page.keyboard.press("Enter")


def cylinder(page, name):
    return page.get_by_role("region", name=f"Cylinder {name}")


def start_of(page, name):
    return cylinder(page, name).get_by_role("button", name="start")


def others_are_done(page):
    """Take the two cylinders under way off the bench, so that one clock is looked at alone."""
    for test in (31, 32):
        revision = page.request.get(f"/api/tests/{test}/sheet").json()["revision"]
        assert revision
        page.request.post(f"/api/tests/{test}/move", data={"action": "void", "reason": "not in this test"})


def test_a_cylinder_is_started_announced_read_and_kept(fast):
    page = fast
    others_are_done(page)
    page.goto(WAITING)
    expect(page.get_by_test_id("next")).to_contain_text("Set down the next cylinder")
    watch = Watch()
    start_of(page, "TP4 B4").click()
    expect(page.get_by_test_id("countdown")).to_have_text(re.compile(r"^(1:00|0:\d\d)$"))
    expect(page.get_by_test_id("coming")).to_contain_text("until TP4 B4, 1 min")
    wind(page, 31)
    expect(page.get_by_test_id("coming")).to_contain_text("Insert the hydrometer")
    wind(page, 29)
    expect(page.get_by_test_id("coming")).to_contain_text("Read now")
    page.keyboard.press("Space")
    expect(page.get_by_text(re.compile(r"due at 1 min, read at 1\.\d\d? min"))).to_be_visible()
    page.get_by_label("reads").fill("38,5")
    page.keyboard.press("Enter")
    # The first reading needs its temperature.
    expect(page.get_by_label("temperature, °C")).to_be_focused()
    page.keyboard.type("21.5")
    page.keyboard.press("Enter")
    expect(cylinder(page, "TP4 B4")).to_contain_text("1 min: 38.5")
    expect(page.get_by_role("status")).to_have_text("saved")
    row = page.request.get(f"/api/tests/{HYDROMETER_B4}/sheet").json()["tables"][1]["rows"][0]["cells"]
    assert (row["hydrometer"]["text"], row["temperature_c"]["text"]) == ("38.5", "21.5")
    assert watch.allows(60 * float(row["elapsed_min"]["text"]), 60)


def test_a_reading_that_rises_is_queried_and_a_missed_one_is_missed(fast):
    page = fast
    others_are_done(page)
    page.goto(WAITING)
    start_of(page, "TP4 B4").click()
    wind(page, 60)
    take(page, "38.5", "21.5")
    expect(cylinder(page, "TP4 B4")).to_contain_text("1 min: 38.5")
    # Two minutes pass by; at three and a half the reading at four is on.
    wind(page, 155)
    expect(cylinder(page, "TP4 B4").locator(".missed")).to_have_text("2 min missed")
    take(page, "41", "21.5")
    expect(page.get_by_role("alert").filter(has_text="above the reading before")).to_be_visible()
    page.get_by_label("reads").fill("31")
    page.get_by_role("button", name="Keep it all the same").click()
    expect(cylinder(page, "TP4 B4")).to_contain_text("4 min: 31")
    page.get_by_role("button", name="Undo").click()
    expect(cylinder(page, "TP4 B4")).not_to_contain_text("4 min: 31")


def test_readings_wait_without_a_line_and_survive_a_reload(fast, context):
    page = fast
    others_are_done(page)
    page.goto(WAITING)
    start_of(page, "TP4 B4").click()
    expect(page.get_by_role("status")).to_have_text("saved")
    wind(page, 60)
    context.set_offline(True)
    take(page, "38.5", "21.5")
    expect(page.get_by_role("status")).to_contain_text("waiting for the line")
    expect(cylinder(page, "TP4 B4")).to_contain_text("1 min: 38.5")
    context.set_offline(False)
    wind(page, 3)
    expect(page.get_by_role("status")).to_have_text("saved")
    page.reload()
    expect(cylinder(page, "TP4 B4")).to_contain_text("1 min: 38.5")
    history = page.request.get(f"/api/tests/{HYDROMETER_B4}/history").json()
    assert sum("hydrometer = 38.5" in entry["what"] for entry in history) == 1


def test_three_cylinders_share_one_clock(page):
    page.goto(RUNNING)
    for name in ("BH2 U1", "TP4 U2", "TP4 B4"):
        expect(cylinder(page, name)).to_be_visible()
    expect(start_of(page, "TP4 B4")).to_contain_text(re.compile("Set down (now|in)"))
    expect(page.get_by_test_id("take")).to_contain_text(re.compile("Reading now: (BH2 U1|TP4 U2)"))
    assert violations(page) == []


def test_a_reading_whose_time_is_over_does_not_own_the_key(fast):
    """A cylinder that was forgotten yesterday: its day-old reading is missed, and the others go on."""
    page = fast
    others_are_done(page)
    page.goto(WAITING)
    start_of(page, "TP4 B4").click()
    expect(page.get_by_role("status")).to_have_text("saved")
    # A day and a tenth of it are over.
    page.clock.fast_forward(27 * 3600 * 1000)
    wind(page, 1)
    expect(cylinder(page, "TP4 B4")).to_contain_text("24 h missed")
    expect(page.get_by_test_id("coming")).to_have_text("No reading is waiting.")
    expect(page.get_by_test_id("next")).to_contain_text("Readings were missed: start that cylinder again")


def test_a_tapped_cylinder_has_the_key_and_one_may_be_sent_away_or_ended(fast):
    page = fast
    page.goto(RUNNING)
    expect(page.locator(".cylinder")).to_have_count(3)
    first = page.get_by_test_id("take").inner_text()
    names = [name.inner_text() for name in page.locator(".cylinder .name").all()]
    running = [name for name in names if cylinder(page, name).get_by_role("button", name="End here").is_visible()]
    other = next(name for name in running if name not in first)
    cylinder(page, other).get_by_role("button", name=other, exact=True).click()
    expect(page.get_by_test_id("take")).to_have_text(f"Reading now: {other}")
    cylinder(page, other).get_by_role("button", name="Not on this page").click()
    expect(page.locator(".cylinder")).to_have_count(2)
    expect(page.get_by_test_id("take")).to_have_text(first)
    page.reload()
    expect(page.locator(".cylinder")).to_have_count(2)
    page.get_by_role("button", name=f"Bring {other}").click()
    ending = cylinder(page, other)
    ending.get_by_role("button", name="End here").click()
    ending.get_by_role("button", name=f"Yes, {other} ends here").click()
    expect(ending).to_contain_text("ended before")
    expect(page.get_by_role("status")).to_have_text("saved")
    assert violations(page) == []

"""What a device takes along, what it shows without a line, and what happens to what waits when the server is newer."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import ServerThread, violations
from tests.browser.typing import all_saved, at, cut, stored
from tests.laboratory import WATER_CONTENT_U1_1
from vadum.demo.laboratory import staff

pytestmark = pytest.mark.browser
SHEET = f"/tests/{WATER_CONTENT_U1_1}"


@pytest.fixture
def server(database):
    """The demonstration, which lets its people in by a click."""
    running = ServerThread(database, demo=True).start()
    yield running
    running.kill()


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 390, "height": 844}, "service_workers": "allow"}


def take_along(page, place):
    page.goto("/projects/1")
    page.evaluate("navigator.serviceWorker.ready")
    section = page.locator("section", has=page.get_by_role("heading", name=place))
    section.get_by_role("button", name="Take with me").click()
    expect(section.get_by_text("on this device")).to_be_visible()


def type_in(page, path, text):
    page.locator(f'[data-path="{path}"]').fill(text)
    page.keyboard.press("Enter")


def test_what_is_taken_along_opens_and_keeps_readings_without_a_line(page, context):
    take_along(page, "BH2")
    page.goto("/with-me")
    assert violations(page) == []
    with cut(page):
        page.goto("/with-me")
        page.get_by_role("link", name="BH2 U1: Water content").first.click()
        page.wait_for_url(re.compile(r"/tests/\d+$"))
        test = int(page.url.rsplit("/", 1)[1])
        expect(page.get_by_role("status").first).to_have_text("no line")
        type_in(page, "determinations.0.tin", "Q1")
        type_in(page, "determinations.0.mass_tin_wet_g", "61.5")
        expect(page.get_by_role("status").first).to_have_text("2 waiting for the line")
        # Closed, opened, gone on in the run mode.
        page.close()
        page = context.new_page()
        page.goto(f"/tests/{test}")
        expect(page.locator('[data-path="determinations.0.tin"]')).to_have_value("Q1")
        page.goto(f"/tests/{test}/run?one=1")
        expect(page.get_by_test_id("step")).to_be_visible()
        page.goto("/search")
        expect(page.get_by_role("heading", name="No line to the laboratory")).to_be_visible()
        page.goto(f"/tests/{test}")
    all_saved(page)
    readings = stored(page, test)
    assert at(readings, "determinations.0.tin") == "Q1"
    assert at(readings, "determinations.0.mass_tin_wet_g") == 61.5


def test_a_page_opened_without_a_line_is_not_older_than_what_was_sent_from_it(page):
    page.goto(SHEET)
    page.evaluate("navigator.serviceWorker.ready")
    page.reload()
    type_in(page, "determinations.0.tin", "Q2")
    all_saved(page)
    with cut(page):
        page.reload()
        expect(page.locator('[data-path="determinations.0.tin"]')).to_have_value("Q2")
        expect(page.locator('[data-path="determinations.1.tin"]')).to_be_visible()


def test_what_an_old_page_queued_and_a_new_server_does_not_know_is_set_aside(page, server):
    page.goto(SHEET)
    page.evaluate("navigator.serviceWorker.ready")
    page.reload()
    server.kill()
    type_in(page, "determinations.0.tin", "Q3")
    expect(page.get_by_role("status").first).to_contain_text("waiting for the line")
    # An earlier release had a reading of this name.
    page.evaluate(
        "Alpine.$data(document.querySelector('.worksheet')).queue.add({ cells: { 'determinations.0.colour': 'grey' } })"
    )
    type_in(page, "determinations.0.mass_tin_wet_g", "60.1")
    page.reload()
    expect(page.get_by_role("status").first).to_contain_text("3 waiting for the line")
    again = ServerThread(server.database)
    again.port = server.port
    again.start()
    expect(page.get_by_test_id("set-aside")).to_contain_text("“grey”")
    expect(page.get_by_role("status").first).to_have_text("1 not taken")
    readings = stored(page, WATER_CONTENT_U1_1)
    assert at(readings, "determinations.0.tin") == "Q3"
    assert at(readings, "determinations.0.mass_tin_wet_g") == 60.1
    again.kill()


def test_what_one_person_took_along_is_not_shown_to_the_next(page, server):
    staff(server.database)
    page.request.post("/sign-in", form={"name": "technician 1"})
    take_along(page, "BH2")
    page.goto("/with-me")
    expect(page.locator(".pack")).to_have_count(1)
    page.request.post("/sign-in", form={"name": "technician 2"})
    page.goto("/with-me")
    expect(page.get_by_text("Nothing is taken along yet.")).to_be_visible()
    page.wait_for_function("async () => !(await caches.has('vadum-pack'))")


def test_the_manifest_and_its_icons_are_there(page):
    told = page.request.get("/manifest.webmanifest").json()
    assert told["display"] == "standalone"
    assert all(page.request.get(icon["src"]).ok for icon in told["icons"])

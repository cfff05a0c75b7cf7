"""Instruments, practice and run mode in the browser: a bench that dies and comes back, a line that goes away."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.gestures import begin, take_all
from tests.laboratory import SIEVE_G2, WATER_CONTENT_U1_1
from vadum.instruments.client import BenchLine

pytestmark = pytest.mark.browser


@pytest.fixture
def phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    return page


def marks(page):
    return [text for text in page.locator(".marks li").all_inner_texts() if ":" in text]


def test_a_hydrometer_at_sixty_times_loses_its_instruments_and_a_page(phone, stand):
    page = phone
    begin(page, "hydrometer")
    take_all(page)
    page.get_by_role("link", name="Go on with the clock").click()
    page.get_by_role("button", name="By itself when due").click()
    page.get_by_role("button", name="start").click()
    expect(page.locator(".marks .done")).to_have_count(2)
    stand.kill()
    expect(page.get_by_test_id("trouble")).to_contain_text("No line to hydrometer eye")
    before = marks(page)
    stand.start()
    page.reload()
    expect(page.locator(".marks .done").nth(len(before))).to_be_visible()
    expect(page.locator(".live svg circle").first).to_be_visible()
    assert marks(page)[: len(before)] == before
    test = re.search(r"/tests/(\d+)", page.url)[1]
    sheet = page.request.get(f"/api/tests/{test}/sheet").json()
    rows = next(t for t in sheet["tables"] if t["name"] == "sedimentation")["rows"]
    taken = [row["cells"] for row in rows if row["cells"]["hydrometer"]["text"]]
    dues = [float(cells["due_min"]["text"]) for cells in taken]
    assert dues == sorted(set(dues))
    # Each was taken after it was due and before the next one was, late ones at the time they were really taken.
    times = [float(cells["elapsed_min"]["text"]) for cells in taken]
    every = [float(row["cells"]["due_min"]["text"]) for row in rows if row["cells"]["due_min"]["text"]]
    assert all(due <= at < every[every.index(due) + 1] for at, due in zip(times, dues, strict=True))
    assert {sheet["origins"][p]["instrument"] for p in sheet["origins"] if "hydrometer" in p} == {"hydrometer eye"}


def test_a_practised_reading_is_undone_and_the_truth_is_shown(phone, stand):
    page = phone
    begin(page, "water-content", speed="1")
    assert violations(page) == []
    page.keyboard.press("Space")  # the tin's number from the bench
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("step")).to_contain_text("tin + wet")
    page.locator("[data-name=reading]").fill("9")
    page.keyboard.press("Enter")
    page.keyboard.press("Backspace")
    page.locator("[data-name=reading]").fill("")
    page.keyboard.press("Space")
    expect(page.get_by_test_id("step")).to_contain_text("tin")
    test = re.search(r"/tests/(\d+)", page.url)[1]
    page.goto(f"/practice/{test}")
    expect(page.get_by_text("Not finished.")).to_be_visible()
    page.get_by_role("button", name="Hand it in").click()
    expect(page.get_by_role("heading", name="Truth and result")).to_be_visible()
    expect(page.get_by_text("not reached")).to_be_visible()
    assert violations(page) == []


def test_ten_readings_without_a_line_arrive_in_order_and_once(phone, context):
    page = phone
    page.goto(f"/tests/{SIEVE_G2}/run")  # a sieve stack half weighed
    expect(page.get_by_test_id("step")).to_be_visible()
    context.set_offline(True)
    typed = {}
    for number in range(10):
        field = page.locator("[data-name=reading]")
        where = page.get_by_test_id("step").inner_text()
        field.fill(str(100 + number))
        page.get_by_test_id("take").click()
        if page.get_by_test_id("doubt").is_visible():
            page.get_by_test_id("take").click()
        typed[where] = str(100 + number)
        expect(page.get_by_test_id("step")).not_to_have_text(where)
    expect(page.get_by_role("status")).to_contain_text("10 waiting for the line")
    context.set_offline(False)
    expect(page.get_by_role("status")).to_have_text("saved")
    history = [h for h in page.request.get(f"/api/tests/{SIEVE_G2}/history").json() if "=" in h["what"]][:10]
    values = [h["what"].split(" = ")[1] for h in reversed(history)]
    assert values == [str(100 + n) for n in range(10)]
    assert len(typed) == 10


def test_undo_takes_the_last_reading_back(phone):
    page = phone
    page.goto(f"/tests/{SIEVE_G2}/run")
    where = page.get_by_test_id("step").inner_text()
    page.locator("[data-name=reading]").fill("50")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("step")).not_to_have_text(where)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("step")).to_have_text(where)


def test_a_space_in_a_bound_cell_takes_the_reading(page, stand):
    page.goto(f"/tests/{WATER_CONTENT_U1_1}")
    page.get_by_role("button", name="Instruments").click()
    page.locator('[data-bind="determinations.mass_tin_wet_g"]').select_option("fine balance / mass")
    expect(page.get_by_role("status")).to_contain_text("revision")
    BenchLine(port=stand.port).instrument("fine balance").present("mass", [0.0], [61.37])
    cell = page.locator('[data-path="determinations.0.mass_tin_wet_g"]')
    cell.focus()
    page.keyboard.press("Space")
    expect(cell).to_have_value(re.compile(r"61\.3[678]"))
    expect(cell).to_have_attribute("title", re.compile("fine balance SB-0042"))
    BenchLine(port=stand.port).instrument("fine balance").set_fault("frozen")
    below = page.locator('[data-path="determinations.1.mass_tin_wet_g"]')
    below.focus()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("trouble")).to_contain_text("has frozen")
    expect(below).to_have_value("")
    assert violations(page) == []


def test_the_page_of_instruments_shows_faults_and_zero(page, stand):
    page.goto("/instruments")
    row = page.locator("tr", has_text="dial gauge A")
    expect(row).to_contain_text("mm")
    row.get_by_label("Fault of dial gauge A").select_option("garbage")
    expect(row).to_contain_text("sends garbage")
    row.get_by_label("Fault of dial gauge A").select_option("none")
    expect(row).not_to_contain_text("sends garbage")
    assert violations(page) == []
    stand.kill()
    expect(page.get_by_test_id("trouble")).to_contain_text("No line")
    stand.start()
    expect(page.get_by_test_id("trouble")).to_be_hidden()


def test_a_frame_records_by_itself_until_its_instruments_show_nothing_more(phone):
    page = phone
    begin(page, "unconfined", speed="600")
    step, frame = page.get_by_test_id("step"), page.get_by_test_id("record")
    take_all(page, until=frame)
    # The third row's readings are under way when the hand stops it.
    rows = []
    page.route("**/read", lambda route: (rows.append(route), route.continue_() if len(rows) < 3 else None))
    frame.click()
    expect(frame).to_have_text("Stop the frame")
    expect(step).to_contain_text("loading 3")
    frame.click()
    rows[2].continue_()
    page.unroute("**/read")
    # What rises still is no doubt about a reading; the hand alone stopped it.
    expect(frame).to_have_text("Let the frame record")
    expect(page.get_by_test_id("judged")).to_be_hidden()
    frame.click()
    expect(page.get_by_test_id("trouble")).to_contain_text("shows nothing here")
    expect(frame).to_have_text("Let the frame record")
    expect(page.get_by_role("status").first).to_have_text("saved")
    test = re.search(r"/tests/(\d+)", page.url)[1]
    rows = page.request.get(f"/tests/{test}/bench.json").json()["readings"]["loading"]
    assert len(rows) > 15
    assert all(row.keys() == {"shortening_mm", "force_n"} for row in rows)
    shortenings = [row["shortening_mm"] for row in rows]
    assert shortenings == sorted(set(shortenings)), "each in its own row, once"

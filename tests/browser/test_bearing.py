"""Bearing and plates in the browser: constructions dragged, presses and pits on a phone."""

import re

import pytest
from playwright.sync_api import expect

from tests import THOROUGH
from tests.browser.conftest import by_day_and_night, saved, violations
from tests.browser.gestures import begin, drag, reopen, take_all
from tests.browser.typing import Watch, new_test_in_ground, wind

pytestmark = pytest.mark.browser
CBR, GROUND, STATIC, STEPS, STEPS_RUNNING, STATIC_RUNNING, CBR_PLANNED = (f"/tests/{i}" for i in range(42, 49))


def test_a_construction_is_dragged_in_the_units_of_the_project(page):
    """The axis stands in inches, the hand moves in inches, and the record has millimetres."""
    page.goto("/projects/1")
    page.get_by_text("Shown and printed in SI").click()
    page.get_by_label("units", exact=True).select_option("US customary")
    page.get_by_role("button", name="Show so").click()
    expect(page.get_by_text("Shown and printed in US customary")).to_be_visible()
    assert violations(page) == []
    reopen(page, CBR)
    expect(page.locator("svg.vf")).to_contain_text("penetration, in")
    handle = page.locator('.vf-handle[data-setting="tangent_top_mm"]')
    before = float(handle.get_attribute("aria-valuenow"))
    handle.focus()
    page.keyboard.press("ArrowRight")
    expect(handle).to_have_attribute("aria-valuetext", re.compile("set by hand"))
    inches = float(handle.get_attribute("aria-valuenow"))
    assert 0 < inches - before < 0.01
    saved(page)
    kept = page.request.get(f"{CBR}/bench.json").json()["settings"]["tangent_top_mm"]
    assert kept == pytest.approx(25.4 * inches, abs=0.001)


def test_the_tangent_is_dragged_explained_and_goes_back(page):
    reopen(page, CBR)
    automatic = page.get_by_test_id("headline").inner_text()
    handle = page.locator('.vf-handle[data-setting="tangent_top_mm"]')
    before = float(handle.get_attribute("aria-valuenow"))
    drag(page, "tangent_top_mm", 220)
    expect(handle).to_have_attribute("aria-valuetext", re.compile("set by hand"))
    assert float(handle.get_attribute("aria-valuenow")) > before + 1
    expect(page.get_by_text("The tangent of the top set by hand, no reason given.").first).to_be_visible()
    page.locator("[data-because]").fill("crust below the plunger")
    page.keyboard.press("Enter")
    expect(page.get_by_text("no reason given")).to_have_count(0)
    assert violations(page) == []
    text = page.request.get(f"/api{CBR}/sheet").json()["derivation"]
    assert any("x0" in step["formula"] for step in text)
    saved(page)
    sheet = page.request.get(f"{CBR}/bench.json").json()
    assert sheet["settings"]["by_hand_because"] == "crust below the plunger"
    page.get_by_role("button", name="Line back to automatic").click()
    expect(page.get_by_test_id("headline")).to_have_text(automatic)
    saved(page)
    assert page.request.get(f"{CBR}/bench.json").json()["settings"]["by_hand_because"] is None


def test_a_reading_of_the_run_is_left_out_on_the_figure(page):
    reopen(page, CBR)
    page.locator('.vf-mark[data-path="top.10"]').click()
    page.locator("[data-why]").fill("gauge touched")
    page.keyboard.press("Enter")
    expect(page.locator('.vf-mark[data-path="top.10"]')).to_have_attribute("data-left-out", "true")
    expect(page.get_by_text("Left out: gauge touched")).to_be_visible()


def test_both_lines_of_the_double_tangent_have_a_grip(page):
    reopen(page, STEPS)
    expect(page.locator(".vf-handle")).to_have_count(2)
    page.locator('.vf-handle[data-setting="yielding_from_kpa"]').focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator('.vf-handle[data-setting="yielding_from_kpa"]')).to_have_attribute(
        "aria-valuetext", re.compile("set by hand")
    )
    page.get_by_role("button", name="In logarithms").click()
    expect(page.locator('.vf-handle[data-setting="log_elastic_to_kpa"]')).to_be_visible()
    page.get_by_role("button", name="Creep").click()
    expect(page.locator('svg[data-figure="creep"]')).to_be_visible()


def test_long_tables_fold_to_the_stage_in_hand(page):
    page.goto(STEPS_RUNNING)
    inputs = page.locator('input[data-path^="rows."]')
    folded = page.locator(".folded")
    expect(folded.first).to_contain_text("readings")
    assert inputs.count() < 80
    folded.nth(2).get_by_role("button").click()
    expect(page.locator('[data-path="rows.9.gauge_a_mm"]')).to_be_visible()


def test_thirty_stages_of_eleven_readings_show_one_stage_at_a_time(page):
    rows = [
        f"{20 * (k + 1)}\t{t}\t" + "\t".join(f"{step * k + 0.02 * n:.2f}" for step in (0.3, 0.31, 0.29, 0.3))
        for k in range(30)
        for n, t in enumerate((1, 2.25, 4, 6.25, 9, 16, 25, 60, 120, 180, 240))
    ]
    page.goto("/projects/2")
    page.get_by_text("Test in the ground at P1").click()
    page.get_by_role("button", name="Plate, increments").click()
    page.wait_for_url("**/tests/*")
    page.locator('[data-path="rows.0.pressure_kpa"]').focus()
    page.evaluate(
        "(text) => { const data = new DataTransfer(); data.setData('text/plain', text);"
        " document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true,"
        " cancelable: true })); }",
        "\n".join(rows),
    )
    expect(page.locator(".folded")).to_have_count(29)
    cell = page.locator('[data-path="rows.330.gauge_a_mm"]')
    cell.focus()
    # One stage stands open: some seventy cells, whatever the length of the test.
    assert page.locator('input[data-path^="rows."]').count() < 90
    page.keyboard.type("9.12")
    expect(page.locator('.zone-read [data-path="rows.330.gauge_a_mm"]')).to_have_value("9.12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("status")).to_contain_text("saved")


def test_a_plate_in_the_pit_is_held_and_loaded_on_a_phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{STEPS_RUNNING}/run")
    expect(page.get_by_test_id("stage")).to_contain_text("450 kPa")
    # Clock, four gauges, the decision and the big key, all in one view.
    for spot in (
        page.get_by_test_id("countdown"),
        page.locator("[data-gauge]").last,
        page.get_by_test_id("next"),
        page.get_by_test_id("take"),
    ):
        box = spot.bounding_box()
        assert box["y"] >= 0
        assert box["y"] + box["height"] <= 844
    assert violations(page) == []
    for name, value in (("a", "20.40"), ("b", "20.72"), ("c", "21.04"), ("d", "21.30")):
        page.locator(f'[data-gauge="gauge_{name}_mm"]').fill(value)
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("next")).to_contain_text("tilt 0.90 mm, fine")
    page.get_by_test_id("load").click()
    expect(page.get_by_test_id("stage")).to_contain_text("500 kPa")
    page.locator('[data-gauge="gauge_a_mm"]').fill("24.9")
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("doubt")).to_contain_text("gauge B is empty")


def test_a_stage_of_repeated_loading_has_its_clock(page):
    page.clock.install()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{STATIC_RUNNING}/run")
    expect(page.get_by_test_id("stage")).to_have_text("Stage 4 of 16: 320 kPa")
    watch = Watch()
    page.keyboard.press("Space")
    wind(page, 60)
    watch.reads(page.get_by_test_id("countdown"), 60)
    expect(page.get_by_test_id("due")).to_contain_text("2 min reading in")
    wind(page, 61)
    page.locator("[data-gauge]").fill("9.9")
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("doubt")).to_contain_text("outside")
    page.locator("[data-gauge]").fill("1.70")
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("stage")).to_have_text("Stage 5 of 16: 400 kPa")
    page.goto(STATIC_RUNNING)
    held = page.locator('[data-path="stages.3.hold_s"]')
    expect(held).to_have_value(re.compile(r"^\d+$"))
    assert watch.allows(int(held.input_value()), 121)


def test_the_press_waits_for_the_reading_and_bridges_what_is_missed(page):
    page.clock.install()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{CBR_PLANNED}/run")
    assert violations(page) == []
    page.keyboard.press("Space")
    expect(page.get_by_test_id("countdown")).to_have_text("0.25")
    ring = page.locator("[data-name=ring]")
    for typed in ("12", "50", "112"):
        wind(page, 15)
        ring.fill(typed)
        page.keyboard.press("Enter")
    expect(page.get_by_test_id("countdown")).to_have_text("1.00")
    # However long it takes, the row is the one that the gauge has reached.
    wind(page, 60)
    expect(page.get_by_test_id("countdown")).to_have_text("1.00")
    page.get_by_test_id("miss").click()
    expect(page.get_by_test_id("missed")).to_have_text("bridged: 1 mm")
    expect(page.get_by_test_id("countdown")).to_have_text("1.25")
    # A tap came late: the reading belongs one row on.
    page.get_by_role("button", name="1.50 ›").click()
    ring.fill("290")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("countdown")).to_have_text("1.75")
    expect(page.get_by_test_id("rate")).to_contain_text("mm/min")
    page.get_by_role("button", name="The run ends here").click()
    page.get_by_role("button", name="stone below the plunger").click()
    expect(page.get_by_test_id("countdown")).to_have_text("done")
    page.goto(CBR_PLANNED)
    expect(page.get_by_text("no reading at 1, 1.25 mm; the curve is bridged there")).to_be_visible()
    expect(page.get_by_text("Left out: stone below the plunger")).to_be_visible()


def test_a_plunger_far_too_fast_is_said_where_it_can_be_read(page):
    page.clock.install()
    page.goto(f"{CBR_PLANNED}/run")
    page.keyboard.press("Space")
    # Marks come a second after each other: the clock is in its colour of haste.
    for typed in ("12", "50", "112"):
        page.locator("[data-name=ring]").fill(typed)
        page.keyboard.press("Enter")
        wind(page, 1)
    expect(page.get_by_test_id("countdown")).to_have_text("1.00")
    expect(page.get_by_test_id("rate")).to_have_text(re.compile(r"^[\d.]+ mm/min, set 1$"))
    expect(page.locator(".clock.urgent")).to_be_visible()
    assert by_day_and_night(page) == []


@pytest.mark.parametrize("pace", [0.8, 1.2] if THOROUGH else [0.8])
def test_a_plunger_slower_or_faster_than_set_is_booked_where_the_gauge_stood(page, pace):
    """The hand reads the ring when the gauge reaches each mark and types it two seconds later."""
    page.clock.install()
    page.goto(f"{CBR_PLANNED}/run")
    watch = Watch()
    page.keyboard.press("Space")
    # A curve of its own, in divisions of the ring: straight at first, then flatter.
    ring = {mm: round(400 * mm / (1 + 0.12 * mm)) for mm in (0.25 * n for n in range(1, 25))}
    field, countdown = page.locator("[data-name=ring]"), page.get_by_test_id("countdown")
    for n, (mm, divisions) in enumerate(ring.items()):
        expect(countdown).to_have_text(f"{mm:.2f}")
        wind(page, 15 / pace + (2 if n == 0 else 0))
        field.fill(str(divisions))
        page.keyboard.press("Enter")
    expect(page.get_by_role("status").first).to_have_text("saved")
    bench = page.request.get(f"{CBR_PLANNED}/bench.json").json()
    found = {row["penetration_mm"]: row["ring_div"] for row in bench["readings"]["top"] if row.get("ring_div")}
    assert found == ring
    assert watch.allows(60 * max(ring) / bench["readings"]["rate_measured_mm_min"], 60 * max(ring) / pace)
    # The same rows by the command's own reduction: what was read is what is reported.
    true = bench | {
        "readings": bench["readings"]
        | {
            "top": [{"penetration_mm": 0, "ring_div": 0}]
            + [{"penetration_mm": mm, "ring_div": divisions} for mm, divisions in ring.items()]
        }
    }
    cbr = [
        next(p["value"] for p in page.request.post("/api/reduce", data=one).json()["parameters"] if p["key"] == "cbr")
        for one in (bench, true)
    ]
    assert cbr[0] == pytest.approx(cbr[1], rel=0.01)


def test_a_plate_at_sixty_times_survives_its_instruments_and_a_reload(page, stand):
    page.set_viewport_size({"width": 390, "height": 844})
    begin(page, "plate-incremental")
    take_all(page)
    page.get_by_role("link", name="Go on with the clock").click()
    page.get_by_role("button", name="By itself when due").click()
    page.get_by_test_id("load").click()
    expect(page.locator(".live svg circle.vf-point")).to_have_count(2)
    stand.kill()
    expect(page.get_by_test_id("trouble")).to_contain_text("No line")
    test = re.search(r"/tests/(\d+)", page.url)[1]
    before = page.request.get(f"/tests/{test}/bench.json").json()["readings"]["rows"]
    stand.start()
    page.reload()
    expect(page.locator(".live svg circle.vf-point").nth(len(before))).to_be_visible()
    rows = page.request.get(f"/tests/{test}/bench.json").json()["readings"]["rows"]
    assert rows[: len(before)] == before
    times = [row["elapsed_min"] for row in rows if "elapsed_min" in row]
    assert times == sorted(set(times))
    assert all("gauge_a_mm" in row for row in rows if "elapsed_min" in row)


def test_loading_is_ended_in_the_pit_and_the_load_comes_off_in_steps(page):
    test = new_test_in_ground(page, "plate-incremental")
    cells = {"estimate_kpa": "500"}
    for row in range(3):
        cells |= {f"rows.{row}.gauge_{g}_mm": f"{8.5 * (row + 1):.2f}" for g in "abcd"}
        cells |= {f"rows.{row}.elapsed_min": "25", f"rows.{row}.pressure_kpa": str(100 * (row + 1))}
    body = {"base_revision": 0, "save_key": "three-stages-read", "cells": cells}
    assert page.request.post(f"/api/tests/{test}/save", data=body).ok
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/tests/{test}/run")
    if page.get_by_test_id("begin").is_visible():
        page.get_by_test_id("begin").click()
    page.get_by_label("loading ended").select_option("25 mm reached")
    for kpa in ("150", "75", "0"):
        load = page.get_by_test_id("load")
        expect(load).to_contain_text(f"Next: {kpa} kPa")
        load.click()
        for g in "abcd":
            page.locator(f"[data-gauge=gauge_{g}_mm]").fill("20")
        page.keyboard.press("Enter")
    expect(page.get_by_test_id("load")).to_have_text("All load is off")
    expect(page.get_by_test_id("stage")).to_have_text("Load taken off")
    expect(page.get_by_role("status")).to_have_text("saved")
    readings = page.request.get(f"/tests/{test}/bench.json").json()["readings"]
    assert readings["ended"] == "25-reached"
    assert [row["pressure_kpa"] for row in readings["rows"]] == [100, 200, 300, 150, 75, 0]
    assert all("gauge_d_mm" in row for row in readings["rows"])


def test_stages_that_are_folded_are_counted(page):
    """Only the first reading of a stage names its pressure; earlier stages are folded in what the page is told."""
    test = new_test_in_ground(page, "plate-incremental")
    cells = {}
    for row in range(9):
        stage, reading = divmod(row, 3)
        cells |= {f"rows.{row}.gauge_{g}_mm": f"{stage + reading / 10 + 0.1:.2f}" for g in "abcd"}
        cells[f"rows.{row}.elapsed_min"] = str((1, 2.25, 4)[reading])
        if reading == 0:
            cells[f"rows.{row}.pressure_kpa"] = str(40 * (stage + 1))
    body = {"base_revision": 0, "save_key": "three-stages-read", "cells": cells}
    assert page.request.post(f"/api/tests/{test}/save", data=body).ok
    page.goto(f"/tests/{test}/run")
    if page.get_by_test_id("begin").is_visible():
        page.get_by_test_id("begin").click()
    expect(page.get_by_test_id("stage")).to_contain_text("Stage 3: 120 kPa")


def test_a_pressure_that_is_left_out_opens_no_stage_in_the_run(page):
    """2000 for 200 kPa, left out on the sheet: the pump is not set by it, and nothing is read into its row."""
    test = new_test_in_ground(page, "plate-incremental")
    cells = {"estimate_kpa": "500", "rows.2.left_out": "a nought too many"}
    for row, kpa in enumerate((100, 200, 2000)):
        cells |= {f"rows.{row}.gauge_{g}_mm": f"{2.5 * (row + 1):.2f}" for g in "abcd"}
        cells |= {f"rows.{row}.elapsed_min": "25", f"rows.{row}.pressure_kpa": str(kpa)}
    body = {"base_revision": 0, "save_key": "one-of-them-left-out", "cells": cells}
    assert page.request.post(f"/api/tests/{test}/save", data=body).ok
    page.goto(f"/tests/{test}/run")
    if page.get_by_test_id("begin").is_visible():
        page.get_by_test_id("begin").click()
    expect(page.get_by_test_id("stage")).to_contain_text("Stage 2: 200 kPa")
    expect(page.get_by_test_id("load")).to_contain_text("Next: 300 kPa")
    expect(page.get_by_text("last 5.00").first).to_be_visible()
    expect(page.get_by_text("last 7.50")).to_have_count(0)
    page.get_by_label("loading ended").select_option("25 mm reached")
    expect(page.get_by_test_id("load")).to_contain_text("Next: 100 kPa")
    page.get_by_test_id("load").click()
    expect(page.get_by_test_id("stage")).to_contain_text("Stage 3: 100 kPa")
    expect(page.get_by_role("status")).to_have_text("saved")
    rows = page.request.get(f"/tests/{test}/bench.json").json()["readings"]["rows"]
    assert [row.get("pressure_kpa") for row in rows] == [100, 200, 2000, 100]

"""The worksheet as a person uses it."""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import saved, violations
from tests.browser.typing import all_saved, cell, new_test, stored
from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_B3, LIQUID_LIMIT_D2, LIQUID_LIMIT_U2
from tests.printed import pages_of

pytestmark = pytest.mark.browser

PLANNED = f"/tests/{LIQUID_LIMIT_D2}"  # a liquid limit nobody has begun
RUNNING = f"/tests/{LIQUID_LIMIT_U2}"  # four trials, one far too dry

TRIALS = [("32", "T-11", "33.33", "28.89"), ("25", "T-12", "37.54", "31.85"), ("18", "T-13", "37.06", "31.23")]


def put(page, path, text):
    cell(page, path).fill(text)
    cell(page, path).press("Enter")


def working_as(page, role):
    page.goto("/")
    with page.expect_navigation():
        page.get_by_label("Working as").select_option(role)


def headline(page):
    return page.get_by_test_id("headline")


def enter_trials(page):
    for i, (blows, tin, wet, dry) in enumerate(TRIALS):
        put(page, f"trials.{i}.blows", blows)
        put(page, f"trials.{i}.tin", tin)
        put(page, f"trials.{i}.mass_tin_g", "17.00")
        put(page, f"trials.{i}.mass_tin_wet_g", wet)
        put(page, f"trials.{i}.mass_tin_dry_g", dry)


def test_typing_trials_grows_the_curve_and_changes_the_advice(page):
    page.goto(PLANNED)
    said = [page.get_by_test_id("next").inner_text()]
    for i, (blows, _, wet, dry) in enumerate(TRIALS):
        put(page, f"trials.{i}.blows", blows)
        put(page, f"trials.{i}.mass_tin_g", "17.00")
        put(page, f"trials.{i}.mass_tin_wet_g", wet)
        put(page, f"trials.{i}.mass_tin_dry_g", dry)
        expect(page.locator(".vf-point")).to_have_count(i + 1)
        said.append(page.get_by_test_id("next").inner_text())
    assert len(set(said)) == 4
    # By hand: w = 37.34, 38.32, 40.97 at 32, 25, 18 blows; the line passes 38.7 at 25.
    expect(headline(page)).to_have_text("39")
    page.get_by_role("button", name="Explain").click()
    expect(page.locator(".panel .step").filter(has_text="LL = a").first).to_contain_text(re.compile(r"LL = 38\.\d\d %"))
    saved(page)


def test_the_figure_follows_while_a_number_is_typed(page):
    page.goto(RUNNING)
    before = headline(page).inner_text()
    cell(page, "trials.0.mass_tin_dry_g").focus()
    page.keyboard.type("28.10")
    expect(headline(page)).not_to_have_text(before)
    page.keyboard.press("Escape")
    expect(headline(page)).to_have_text(before)
    # What stood is back as a whole: what is typed next takes its place, and does not stand behind it.
    page.keyboard.type("29")
    expect(cell(page, "trials.0.mass_tin_dry_g")).to_have_value("29")


def test_keyboard_alone_from_the_start_page_to_the_sheet(page):
    page.goto("/")

    def tab_to(name):
        for _ in range(80):
            page.keyboard.press("Tab")
            # A line of a test says its project behind its name: what is looked for begins with the words.
            if page.evaluate(
                "(name) => ((e) => [e.ariaLabel ?? '', e.textContent])(document.activeElement)"
                ".some((words) => words.trim().startsWith(name))",
                name,
            ):
                return
        raise AssertionError(f"{name} cannot be reached by Tab")

    tab_to("Quill Lane")
    page.keyboard.press("Enter")
    page.wait_for_url("**/projects/*")
    tab_to("Sample D2")
    page.keyboard.press("Enter")
    page.wait_for_url("**/samples/*")
    tab_to("Liquid limit")
    page.keyboard.press("Enter")
    page.wait_for_url("**/tests/*")
    expect(cell(page, "trials.0.blows")).to_be_focused()
    for blows, tin, wet, _ in TRIALS:
        # The hand goes blows, closed, tin, (tin mass from the register is skipped), tin + wet, next trial.
        # It waits for nobody: a server that is busy does not send it into another cell.
        for text in (blows, "13", tin, wet):
            page.keyboard.type(text)
            page.keyboard.press("Enter")
    cell(page, "trials.0.mass_tin_dry_g").focus()
    for *_, dry in TRIALS:
        page.keyboard.type(dry)
        page.keyboard.press("Enter")
    expect(page.locator(".vf-point")).to_have_count(3)
    saved(page)
    tab_to("Sheet")
    page.keyboard.press("Enter")
    page.wait_for_url("**/sheet")
    expect(page.get_by_role("link", name="Download PDF")).to_be_visible()


def test_question_mark_lists_the_keys(page):
    page.goto(f"/tests/{LIQUID_LIMIT_B1}")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("leave it out")


def test_a_bad_cell_says_why_and_keeps_its_text_over_a_reload(page):
    page.goto(RUNNING)
    put(page, "trials.0.mass_tin_wet_g", "heavy")
    expect(page.locator(".say-stop").first).to_contain_text("is not a number")
    page.reload()
    expect(cell(page, "trials.0.mass_tin_wet_g")).to_have_value("heavy")
    expect(page.get_by_test_id("doubts")).to_contain_text("open stop")
    expect(page.get_by_test_id("next")).to_contain_text("“heavy” is not a number")


def test_units_and_decimal_commas_are_understood(page):
    page.goto(PLANNED)
    put(page, "trials.0.closure_mm", "1/2 in")
    expect(cell(page, "trials.0.closure_mm")).to_have_value("12.7")
    put(page, "trials.0.mass_tin_wet_g", "33,33")
    expect(cell(page, "trials.0.mass_tin_wet_g")).to_have_value("33.33")


def test_a_block_from_a_spreadsheet_is_pasted(page):
    page.goto(PLANNED)
    cell(page, "trials.0.blows").focus()
    block = "32\t13\tT-11\t17.00\t33,33\t28,89\n25\t13\tT-12\t17.00\t37.54\t31.85\n18\t13\tT-13\t17.00\t37.06\t31.23"
    page.evaluate(
        """text => { const data = new DataTransfer(); data.setData('text/plain', text);
        document.activeElement.dispatchEvent(
          new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})); }""",
        block,
    )
    expect(page.locator(".vf-point")).to_have_count(3)
    expect(cell(page, "trials.2.tin")).to_have_value("T-13")
    # T-11 to T-13 stand in the register with other masses, and the sheet says so.
    expect(page.locator(".say-warn").first).to_contain_text("the register says")


def test_a_point_is_left_out_by_clicking_it_with_a_reason(page):
    page.goto(RUNNING)
    expect(page.locator(".vf-point")).to_have_count(3)
    page.locator('.vf-mark[data-path="trials.3"] .vf-hit').click()
    page.get_by_role("button", name="crust on the mix").click()
    expect(page.locator(".vf-point")).to_have_count(2)
    expect(page.get_by_text("Left out: crust on the mix")).to_be_visible()
    page.locator('.vf-mark[data-path="trials.3"] .vf-hit').click()
    expect(page.locator(".vf-point")).to_have_count(3)


def test_the_line_is_dragged_recorded_and_returned_to_automatic(page):
    page.goto(RUNNING)
    page.wait_for_timeout(500)
    before = headline(page).inner_text()
    grip = page.locator('[data-setting="hand_line_dry_percent"] .vf-hit').bounding_box()
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 60, steps=4)
    page.mouse.move(x, y - 120, steps=4)
    page.mouse.up()
    expect(page.get_by_text("The flow line was drawn by hand")).to_be_visible()
    page.get_by_role("button", name="Line back to automatic").click()
    expect(page.get_by_text("The flow line was drawn by hand")).to_have_count(0)
    expect(headline(page)).to_have_text(before)


def test_the_handle_moves_by_keyboard(page):
    page.goto(RUNNING)
    page.wait_for_timeout(500)
    handle = page.get_by_role("slider", name="line at 35 blows")
    now = float(handle.get_attribute("aria-valuenow"))
    handle.focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("slider", name="line at 35 blows")).to_have_attribute(
        "aria-valuenow", f"{round(now + 0.1, 1):g}"
    )


def test_switching_the_school_changes_result_and_heading(page):
    page.goto(RUNNING)
    page.get_by_role("button", name="School").click()
    page.locator('[data-setting="school"]').select_option("replicated")
    expect(page.locator(".zone-read .sub")).to_contain_text("replicated one-point")
    expect(page.locator(".zone-figure")).to_contain_text("determinations")
    page.goto(RUNNING + "/sheet")
    with page.expect_download() as got:
        page.get_by_role("link", name="Download PDF").click()
    text = pages_of(got.value.path().read_bytes())[0]
    assert "replicated one-point" in text


def test_the_downloaded_pdf_reports_what_the_strip_says(page):
    page.goto(f"/tests/{LIQUID_LIMIT_B1}")
    reported = headline(page).inner_text()
    page.get_by_role("link", name="Sheet").click()
    with page.expect_download() as got:
        page.get_by_role("link", name="Download PDF").click()
    text = pages_of(got.value.path().read_bytes())[0]
    assert f"LL, liquid limit\n{reported} %" in text


def test_two_tabs_conflict_with_both_versions_on_screen(page, context):
    page.goto(RUNNING)
    other = context.new_page()
    other.goto(RUNNING)
    put(other, "trials.0.blows", "30")
    saved(other)
    put(page, "trials.0.blows", "29")
    panel = page.locator(".conflict")
    expect(panel).to_contain_text("30")
    expect(panel).to_contain_text("29")
    assert violations(page) == []
    page.get_by_role("button", name="Take theirs").click()
    expect(cell(page, "trials.0.blows")).to_have_value("30")
    expect(page.get_by_test_id("set-aside")).to_contain_text("“29”")
    page.get_by_role("button", name="Drop it").click()
    put(other, "trials.0.blows", "31")
    saved(other)
    put(page, "trials.0.blows", "28")
    page.get_by_role("button", name="Save mine on top").click()
    expect(panel).to_have_count(0)
    expect(page.get_by_role("status")).to_contain_text("saved, revision 4")
    page.reload()
    expect(cell(page, "trials.0.blows")).to_have_value("28")


def test_a_reload_in_mid_entry_loses_nothing(page):
    page.goto(PLANNED)
    put(page, "trials.0.blows", "31")
    cell(page, "trials.0.closure_mm").press_sequentially("13")
    page.reload()
    expect(cell(page, "trials.0.blows")).to_have_value("31")
    expect(cell(page, "trials.0.closure_mm")).to_have_value("13")
    saved(page)


def test_a_page_made_before_ones_own_save_is_no_conflict(page):
    """A reload may be answered before the save that was on its way: the same hand does not stand against itself."""
    page.goto(PLANNED)
    stale = page.request.get(PLANNED).text()
    put(page, "trials.0.blows", "31")
    saved(page)
    page.route(f"**{PLANNED}", lambda route: route.fulfill(body=stale, content_type="text/html"))
    page.reload()
    expect(cell(page, "trials.0.blows")).to_have_value("31")
    put(page, "trials.0.closure_mm", "13")
    saved(page)
    assert page.request.get(f"/tests/{LIQUID_LIMIT_D2}/bench.json").json()["readings"]["trials"][0] == {
        "blows": 31,
        "closure_mm": 13,
    }


@pytest.mark.own_process
def test_a_server_killed_in_mid_entry_loses_nothing_acknowledged(page, server):
    page.goto(PLANNED)
    put(page, "trials.0.blows", "31")
    saved(page)
    server.kill()
    put(page, "trials.0.closure_mm", "13")
    put(page, "trials.0.tin", "T-40")
    expect(page.get_by_role("status")).to_contain_text("waiting for the line")
    server.start()
    saved(page)
    page.evaluate("localStorage.clear()")
    page.reload()
    for path, text in (("blows", "31"), ("closure_mm", "13"), ("tin", "T-40")):
        expect(cell(page, f"trials.0.{path}")).to_have_value(text)


def test_the_worksheet_fits_without_scrolling(page):
    page.goto(RUNNING)
    page.wait_for_timeout(400)
    assert page.evaluate(
        "document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth"
    )
    strip, figure = page.locator(".strip").bounding_box(), page.locator(".zone-figure svg").bounding_box()
    assert strip["y"] + strip["height"] <= 801
    assert figure["y"] + figure["height"] <= strip["y"] + 1


def test_done_by_one_person_checked_by_another_then_read_only(page):
    page.goto(f"/tests/{LIQUID_LIMIT_B3}")
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("A second person checks")
    working_as(page, "checker")
    page.goto(f"/tests/{LIQUID_LIMIT_B3}")
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_test_id("state")).to_have_text("checked by checker")
    expect(cell(page, "trials.0.blows")).to_be_disabled()
    page.get_by_role("button", name="Reopen").click()
    page.get_by_label("Reason, kept with the record").fill("tin 2 was misread")
    page.get_by_role("button", name="Confirm").click()
    expect(cell(page, "trials.0.blows")).to_be_enabled()
    page.get_by_role("button", name="History").click()
    expect(page.locator(".panel")).to_contain_text(["tin 2 was misread"])


def test_nobody_checks_what_they_have_not_seen(page):
    working_as(page, "checker")
    page.goto(f"/tests/{LIQUID_LIMIT_B3}")
    seen = page.request.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()["revision"]
    # At another bench, where somebody else works, a mass is put right.
    body = {"base_revision": seen, "save_key": "at-another-bench", "cells": {"trials.0.mass_tin_dry_g": "26.11"}}
    assert page.request.post(f"/api/tests/{LIQUID_LIMIT_B3}/save", data=body).ok
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("changed this sheet meanwhile; it is shown as it is now")
    expect(cell(page, "trials.0.mass_tin_dry_g")).to_have_value("26.11")
    expect(page.get_by_test_id("state")).not_to_contain_text("checked")
    assert page.request.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()["state"] == "reduced"


def test_a_move_whose_answer_is_lost_is_pressed_again_and_made_once(page):
    working_as(page, "checker")
    page.goto(f"/tests/{LIQUID_LIMIT_B3}")
    before = page.request.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()["revision"]
    page.route("**/move", lambda route: (route.fetch(), route.abort()))
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("press again once it is back")
    page.unroute("**/move")
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_test_id("state")).to_have_text("checked by checker")
    expect(page.get_by_role("alert")).to_be_hidden()
    assert page.request.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()["revision"] == before + 1


def test_a_new_project_down_to_a_first_reading(page):
    page.goto("/")
    page.get_by_text("New project").click()
    page.get_by_label("project", exact=True).fill("Lower Fen sluice")
    page.get_by_role("button", name="Add project").click()
    page.get_by_text("New location").click()
    page.get_by_label("location", exact=True).fill("TP1")
    page.get_by_label("depth, m").fill("2,5")
    page.get_by_role("button", name="Add location").click()
    page.get_by_text("Sample from TP1").click()
    page.get_by_label("sample", exact=True).fill("S1")
    page.get_by_label("from, m").fill("1.0")
    page.get_by_label("to, m").fill("0.5")
    page.get_by_role("button", name="Add sample").click()
    expect(page.locator(".complaint")).to_contain_text("above the upper")
    page.get_by_label("to, m").fill("1.2")
    page.get_by_role("button", name="Add sample").click()
    page.get_by_role("button", name="Water content").click()
    put(page, "determinations.0.tin", "T-05")
    put(page, "determinations.0.mass_tin_wet_g", "78.4")
    expect(page.get_by_test_id("next")).to_contain_text("Dry at 110 °C for at least 16 h")


def test_hovering_reads_values_and_points(page):
    page.goto(RUNNING)
    page.wait_for_timeout(500)
    mark = page.locator('.vf-mark[data-path="trials.3"] .vf-hit').bounding_box()
    page.mouse.move(mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2)
    expect(page.locator(".readout")).to_contain_text("17")
    plot = page.locator(".zone-figure svg").bounding_box()
    page.mouse.move(plot["x"] + plot["width"] * 0.5, plot["y"] + plot["height"] * 0.8)
    expect(page.locator(".readout")).to_contain_text("blows")


def test_arrows_move_and_escape_takes_typing_back(page):
    page.goto(RUNNING)
    cell(page, "trials.0.blows").focus()
    page.keyboard.press("ArrowDown")
    expect(cell(page, "trials.1.blows")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(cell(page, "trials.1.closure_mm")).to_be_focused()
    before = cell(page, "trials.1.closure_mm").input_value()
    page.keyboard.type("99")
    page.keyboard.press("Escape")
    expect(cell(page, "trials.1.closure_mm")).to_have_value(before)
    page.keyboard.press("ArrowLeft")
    expect(cell(page, "trials.1.blows")).to_be_focused()
    expect(page.get_by_role("status")).to_contain_text("revision 1")


def test_a_press_on_the_cell_where_the_hand_is_does_not_mix_two_readings(page):
    page.goto(RUNNING)
    cell(page, "trials.0.blows").focus()
    page.keyboard.press("ArrowDown")
    here = cell(page, "trials.1.blows")
    expect(here).to_be_focused()
    before = here.input_value()
    here.click()
    page.keyboard.type("19")
    expect(here).to_have_value("19")
    page.keyboard.press("Escape")
    expect(here).to_have_value(before)
    # Pressed a second time it is to correct a figure.
    here.click()
    here.click()
    page.keyboard.press("End")
    page.keyboard.type("5")
    expect(here).to_have_value(f"{before}5")


@pytest.mark.parametrize(
    ("path", "typed"), [("threads.0.mass_tin_wet_g", "28.1"), ("mass_set_aside_g", "20,5")], ids=["table", "field"]
)
def test_what_is_pressed_while_the_answer_puts_a_text_in_meets_all_of_it(page, path, typed):
    test, held = new_test(page, "plastic-limit"), []
    page.goto(f"/tests/{test}")
    page.route("**/save", lambda route: held.append(route))
    here = cell(page, path)
    here.fill(typed)
    here.press("Enter")
    while not held:
        page.wait_for_timeout(20)
    here.focus()
    # The hand that presses Delete right when the text comes: what is selected goes, behind a caret there is nothing.
    here.evaluate(
        """cell => { const { get, set } = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value');
        Object.defineProperty(cell, 'value', { configurable: true, get, set(text) {
          set.call(cell, text); delete cell.value;
          queueMicrotask(() => document.execCommand('forwardDelete')); } }); }"""
    )
    held[0].continue_()
    page.unroute("**/save")
    expect(here).to_have_value("")
    here.press("Tab")
    all_saved(page)
    assert stored(page, test) == {}


@pytest.mark.parametrize("key", ["Enter", "ArrowDown"])
def test_what_is_typed_into_the_last_cell_counts_and_is_not_added_to(page, key):
    test = new_test(page, "plastic-limit")
    page.goto(f"/tests/{test}")
    last = page.locator("main input[data-path]").last
    last.click()
    page.keyboard.type("59.7")
    page.keyboard.press(key)
    saved(page)
    page.keyboard.type("41.6")
    expect(last).to_have_value("41.6")


def test_a_scanner_that_types_and_enters_in_one_go_begins_the_next_row(page):
    """Its letters and its Enter are there before the page has been painted once."""
    test = new_test(page, "water-content")
    page.goto(f"/tests/{test}")
    expect(page.get_by_text("nothing to save yet")).to_be_visible()
    tins = page.locator("input[data-path^=determinations][data-path$='.tin']")
    tins.first.evaluate(
        """async (cell, letters) => {
          cell.focus();
          for (const letter of letters) {
            cell.value += letter;
            cell.dispatchEvent(new InputEvent("input", { bubbles: true }));
            await null;
          }
          cell.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowDown", bubbles: true }));
        }""",
        "Z81",
    )
    expect(tins).to_have_count(2)
    expect(tins.last).to_be_focused()
    all_saved(page)
    assert [row["tin"] for row in stored(page, test)["determinations"]] == ["Z81"]


def test_light_and_dark_are_remembered(page):
    page.emulate_media(color_scheme="light")
    page.goto("/")
    light = page.evaluate("getComputedStyle(document.body).backgroundColor")
    page.get_by_role("button", name="Light / dark").click()
    dark = page.evaluate("getComputedStyle(document.body).backgroundColor")
    assert light != dark
    page.goto(RUNNING)
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") == dark


def test_an_inspection_of_a_cup_ends_its_warning(page):
    page.goto("/equipment")
    page.get_by_role("button", name="Inspect Cup 2").click()
    expect(page.get_by_test_id("next")).to_contain_text("gauge block")
    for path, text in (
        ("drop_height_mm", "10.1"),
        ("contact_spot_cup_mm", "6"),
        ("contact_spot_base_mm", "7"),
        ("thickness_percent", "88"),
        ("feet", "4"),
        ("tool_tip_mm", "2"),
    ):
        put(page, path, text)
    cell(page, "groove_in_cup").select_option("none felt")
    expect(headline(page)).to_have_text("fit")
    page.get_by_role("button", name="Done measuring").click()
    expect(page.get_by_test_id("state")).to_contain_text("waits for a check")
    page.goto("/")
    expect(page.get_by_text("inspection overdue")).to_have_count(0)


def test_cautions_stand_open_before_the_first_reading(page):
    page.goto(PLANNED)
    expect(page.get_by_role("region", name="Cautions")).to_be_visible()
    put(page, "trials.0.blows", "30")
    saved(page)
    page.reload()
    expect(page.get_by_role("region", name="Cautions")).to_be_hidden()


def test_an_earlier_state_is_seen_beside_now_and_taken_again(page):
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    cell = page.locator('[data-path="trials.0.blows"]')
    before = cell.input_value()
    cell.fill("19")
    page.keyboard.press("Enter")
    expect(page.get_by_text("saved, revision 2")).to_be_visible()
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="See it beside now").click()
    row = page.locator(".earlier tr", has_text="blows")
    expect(row).to_contain_text(before)
    expect(row).to_contain_text("19")
    assert violations(page) == []
    page.get_by_role("button", name="Back to revision 1").click()
    expect(page.locator("[data-back-why]")).to_be_focused()
    page.keyboard.type("counted twice")
    page.keyboard.press("Enter")
    expect(cell).to_have_value(before)
    expect(page.get_by_text("restored: revision 1")).to_be_visible()
    expect(page.get_by_text("saved, revision 3")).to_be_visible()


def test_how_well_a_result_is_known_is_told_with_what_matters_most(page):
    page.goto(f"/tests/{LIQUID_LIMIT_B1}")
    page.get_by_role("button", name="Explain", exact=True).click()
    known = page.get_by_label("How well it is known")
    expect(known).to_contain_text("LL 62 % ± 2 by repeatability")
    expect(known).to_contain_text("tin + dry, row 1:")
    expect(known).to_contain_text("What this laboratory repeats to")


def test_a_finding_that_asks_for_a_remark_is_answered_in_it(page):
    """A mould of another length: answered in words that quote it, typed over a reload, printed, and Next goes on."""
    test = new_test(page, "linear-shrinkage")
    page.goto(f"/tests/{test}")
    for name, text in {"length_mould_mm": "135", "length_top_mm": "124.1", "length_bottom_mm": "125.1"}.items():
        put(page, f"bars.0.{name}", text)
    expect(page.get_by_text("a mould of 135 mm").first).to_be_visible()
    page.get_by_role("button", name="Remarks").click()
    page.get_by_role("button", name="Answer it").click()
    words = page.get_by_role("textbox", name="Remarks")
    expect(words).to_be_focused()
    page.keyboard.type("The older mould.")
    page.reload()
    page.get_by_role("button", name="Remarks").click()
    expect(words).to_have_value(re.compile("a mould of 135 mm.* The older mould[.]"))
    expect(page.get_by_role("button", name="Answer it")).to_have_count(0)
    assert violations(page) == []
    all_saved(page)
    expect(page.get_by_test_id("next")).not_to_contain_text("135 mm")
    assert "The older mould." in stored(page, test)["remarks"]


def test_a_panel_opens_beside_the_readings_and_closes_with_escape(page):
    page.goto(RUNNING)
    blows = cell(page, "trials.0.blows")
    page.get_by_role("button", name="Explain").click()
    panel = page.locator(".zone-panel")
    expect(panel).to_be_visible()
    expect(blows).to_be_in_viewport()
    assert panel.bounding_box()["x"] > blows.bounding_box()["x"] + blows.bounding_box()["width"]
    page.get_by_role("button", name="Close").press("Escape")
    expect(panel).to_be_hidden()
    expect(page.get_by_role("button", name="Explain")).to_be_focused()


def test_the_tools_stay_in_sight_however_far_the_readings_scroll(page):
    page.goto(RUNNING)
    page.locator(".zone-read").evaluate("zone => zone.scrollTo(0, zone.scrollHeight)")
    for tool in page.locator(".tools > *:visible").all():
        expect(tool).to_be_in_viewport()


def test_what_stood_in_a_cell_comes_back(page):
    page.goto(RUNNING)
    blows = cell(page, "trials.0.blows")
    before = blows.input_value()
    blows.fill("33")
    blows.press("Enter")
    expect(page.locator(".kept")).to_contain_text("saved")
    cell(page, "trials.1.blows").focus()
    page.keyboard.press("Control+z")
    expect(blows).to_have_value(before)
    expect(blows).to_be_focused()
    page.reload()
    expect(blows).to_have_value(before)
    # While letters are being typed the browser takes them back, and the record stands.
    blows.press_sequentially("7")
    page.keyboard.press("Control+z")
    expect(cell(page, "trials.1.blows")).to_have_value("44")


def test_a_room_says_what_waits_in_it(page):
    page.goto("/equipment")
    rooms = page.get_by_role("navigation", name="Rooms")
    expect(rooms.get_by_role("link", name="Laboratory")).to_have_attribute("aria-current", "true")
    expect(rooms.get_by_role("link", name=re.compile(r"Records \d+ ?waiting for a check"))).to_be_visible()
    doors = page.get_by_role("navigation", name="Laboratory")
    expect(doors.get_by_role("link", name="Equipment")).to_have_attribute("aria-current", "page")
    rooms.get_by_role("link", name=re.compile("^Bench")).click()
    expect(page).to_have_url(re.compile("/board$"))


def test_done_straight_after_the_last_cell_waits_for_what_was_typed(page):
    """A slow line: the move must not overtake the reading."""
    test = new_test(page, "linear-shrinkage")
    page.route("**/save", lambda route: (time.sleep(0.8), route.continue_()))
    page.goto(f"/tests/{test}")
    for path, text in (("length_mould_mm", "140"), ("length_top_mm", "128"), ("length_bottom_mm", "128.4")):
        put(page, f"bars.0.{path}", text)
    cell(page, "bars.0.state").fill("straight")
    page.get_by_role("button", name="Done measuring").click()
    expect(page.get_by_test_id("state")).to_have_text("done, waits for a check")
    assert stored(page, test)["bars"][0]["state"] == "straight"


def test_an_answer_touches_only_what_it_says_anew(page):
    page.goto(RUNNING)
    # What is typed for the first time brings its own row and findings.
    cell(page, "trials.0.mass_tin_dry_g").fill("28.10")
    expect(headline(page)).not_to_have_text("38")
    page.evaluate(
        """() => {
          window.touched = [];
          new MutationObserver((all) => window.touched.push(...all.map((one) => one.target.tagName))).observe(
            document.querySelector(".zone-read"), { subtree: true, attributes: true, childList: true });
        }"""
    )
    before = headline(page).inner_text()
    cell(page, "trials.0.mass_tin_dry_g").fill("28.60")
    expect(headline(page)).not_to_have_text(before)
    # The row's own worked-out cells, and no table or other row around them.
    assert not {"TABLE", "TR", "TBODY", "INPUT", "TH"} & set(page.evaluate("window.touched"))

"""Strength tests in the browser: peaks dragged, a frame's record imported, a vane on a phone."""

import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.gestures import drag, reopen
from tests.browser.typing import Watch, wind
from vadum.soil.virtual.box_soil import BoxSoil

pytestmark = pytest.mark.browser
VANE, CYLINDER, CELL, BOX, CYLINDER_RUNNING = (f"/tests/{i}" for i in range(49, 54))


def test_the_peak_of_a_specimen_is_dragged(page):
    reopen(page, BOX)
    before = page.get_by_test_id("headline").inner_text()
    page.get_by_role("button", name="Shear stress").click()
    expect(page.locator(".vf-handle")).to_have_count(3)
    drag(page, "peak_3_mm", 120)
    expect(page.locator('.vf-handle[data-setting="peak_3_mm"]')).to_have_attribute(
        "aria-valuetext", re.compile("set by hand")
    )
    expect(page.get_by_test_id("headline")).not_to_have_text(before)
    page.get_by_role("button", name="Line back to automatic").click()
    expect(page.get_by_test_id("headline")).to_have_text(before)


def test_a_frames_record_is_mapped_seen_and_saved(page, tmp_path):
    reopen(page, BOX)
    soil, travel = BoxSoil(33.0, 29.0, 0.0, 1.3, 1.6, 3.0), np.linspace(0, 7, 6700)
    normals = (50.0, 100.0, 200.0)
    lines = ["shear frame 2", "", "test;displacement [mm];load [N];dial [mm]"]
    for k, normal in enumerate(normals, 1):
        lines += [
            f"{k};{h:.4f};{soil.shear_kpa(float(h), normal) * 3.6:.2f};{soil.rise_mm(float(h)):.4f}".replace(".", ",")
            for h in travel
        ]
    file = tmp_path / "frame.txt"
    file.write_text("\n".join(lines), encoding="utf-8")
    page.get_by_role("link", name="Import").click()
    page.set_input_files("#file", file)
    for heading, reading in (
        ("test", "specimen"),
        ("displacement", "horizontal_mm"),
        ("load", "force_n"),
        ("dial", "vertical_mm"),
    ):
        page.get_by_label(f"Column {heading}").select_option(reading)
    expect(page.get_by_test_id("count")).to_have_text("20100")
    page.get_by_test_id("save").click()
    page.wait_for_url(f"**{BOX}")
    expect(page.get_by_text("20100 rows")).to_be_visible()
    expect(page.get_by_test_id("headline")).to_have_text(re.compile(r"3[23]\.\d"))


def test_a_record_nobody_knows_is_matched_by_hand_and_the_next_by_itself(page, tmp_path):
    rows = [f"{0.1 * i:.1f};{4 * i * 2 ** (-i / 40):.1f}".replace(".", ",") for i in range(120)]
    file = tmp_path / "press.txt"
    file.write_text("\n".join(["Weg;Kraft", "mm;N", *rows]), encoding="utf-8")
    page.goto(f"{CYLINDER_RUNNING}/import")
    page.set_input_files("#file", file)
    expect(page.get_by_text("Say for each column what it is.")).to_be_visible()
    expect(page.get_by_test_id("save")).to_be_hidden()
    page.get_by_label("into").select_option("log")
    page.get_by_label("Column Weg").select_option("shortening_mm")
    expect(page.get_by_text("no column for “force [N]”")).to_be_visible()
    page.get_by_label("Column Kraft").select_option("force_n")
    expect(page.get_by_test_id("count")).to_have_text("120")
    expect(page.locator(".curve svg .vf-fit").first).to_be_visible()
    page.get_by_test_id("save").click()
    page.wait_for_url(f"**{CYLINDER_RUNNING}")
    # The file lies with the test as it came, with its hash.
    page.get_by_role("button", name="Photographs").click()
    expect(page.get_by_role("link", name="press.txt")).to_be_visible()
    expect(page.get_by_text("SHA-256")).to_be_visible()
    page.get_by_role("link", name="Import").click()
    page.set_input_files("#file", file)
    expect(page.get_by_test_id("count")).to_have_text("120")
    expect(page.get_by_text("as for the last file with these headings")).to_be_visible()


def test_the_shape_of_the_failure_is_tapped_and_taken_back(page):
    page.goto(CYLINDER_RUNNING)
    shapes = page.get_by_role("radiogroup", name="failed by")
    for shape in ("split", "one plane"):
        shapes.get_by_role("radio", name=shape, exact=True).click()
        expect(shapes.get_by_role("radio", checked=True)).to_have_text(shape)
    page.get_by_label("angle of plane").fill("57")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Failure").click()
    expect(page.locator(".zone-figure svg")).to_contain_text("one plane at 57°")
    assert violations(page) == []
    page.reload()
    shapes.get_by_role("radio", name="one plane", exact=True).click()
    expect(shapes.get_by_role("radio", checked=True)).to_have_count(0)


def test_a_figure_chosen_while_a_save_is_on_its_way_stays_chosen(page):
    page.goto(CYLINDER_RUNNING)
    shapes, figure = page.get_by_role("radiogroup", name="failed by"), page.locator(".zone-figure svg")
    shapes.get_by_role("radio", name="split", exact=True).click()
    tab = page.get_by_role("button", name="Failure")
    expect(tab).to_be_visible()
    held = []
    page.route("**/save", lambda route: held.append(route))
    shapes.get_by_role("radio", name="bulge", exact=True).click()
    expect(page.get_by_text("saving")).to_be_visible()
    tab.click()
    expect(figure).to_have_attribute("data-figure", "failure")
    with page.expect_response("**/save"):
        held[0].continue_()
    expect(page.get_by_text("saved, revision")).to_be_visible()
    expect(figure).to_have_attribute("data-figure", "failure")


def test_a_photograph_is_kept_with_the_specimen(page, tmp_path, context):
    file = tmp_path / "p.png"
    Image.new("RGB", (800, 600), "#a87").save(file)
    page.goto(CYLINDER_RUNNING)
    page.get_by_role("button", name="Photographs").click()
    expect(page.get_by_text("No photograph yet.")).to_be_visible()
    page.locator("[data-caption]").fill("specimen 1 after failure")
    context.set_offline(True)
    page.set_input_files("#photo", file)
    expect(page.get_by_test_id("photo-says")).to_contain_text("the picture waits here")
    context.set_offline(False)
    shown = page.get_by_role("img", name="specimen 1 after failure")
    expect(shown).to_be_visible()
    assert shown.evaluate("img => img.decode().then(() => img.naturalWidth)") == 800
    (tmp_path / "no.png").write_bytes(b"no picture")
    page.set_input_files("#photo", tmp_path / "no.png")
    expect(page.get_by_test_id("photo-says")).to_contain_text("no picture that can be read")
    assert violations(page) == []
    page.get_by_role("button", name="Take off").click()
    page.get_by_label("Take off specimen 1 after failure because").fill("out of focus")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No photograph yet.")).to_be_visible()


def test_a_picture_that_was_not_sent_is_sent_by_the_page_that_is_opened_next(page, tmp_path):
    file = tmp_path / "p.png"
    Image.new("RGB", (800, 600), "#a87").save(file)
    page.route("**/photographs", lambda route: route.abort())
    page.goto(CYLINDER_RUNNING)
    page.get_by_role("button", name="Photographs").click()
    page.locator("[data-caption]").fill("the pit from the north")
    page.set_input_files("#photo", file)
    expect(page.get_by_test_id("photo-says")).to_contain_text("the picture waits here")
    page.unroute("**/photographs")
    page.reload()
    page.get_by_role("button", name="Photographs").click()
    expect(page.get_by_role("img", name="the pit from the north")).to_have_count(1)


def test_the_failed_specimen_is_seen_beside_its_sketch(page, tmp_path):
    file = tmp_path / "p.png"
    Image.new("RGB", (600, 900), "#a87").save(file)
    page.goto(CYLINDER_RUNNING)
    page.locator('[data-word="one-plane"]').first.click()
    page.get_by_role("button", name="Failure").click()
    figure = page.locator("[data-figure]")
    expect(figure).to_have_attribute("data-figure", "failure")
    page.get_by_role("button", name="Photographs").click()
    page.locator("[data-caption]").fill("one plane, tube 5")
    page.get_by_label("the specimen as it failed, beside its sketch").check()
    page.set_input_files("#photo", file)
    beside = page.locator(".beside-figure img")
    expect(beside).to_have_count(1)
    page.get_by_role("button", name="Close").click()
    expect(beside).to_be_visible()
    assert beside.evaluate("img => img.decode().then(() => img.naturalHeight)") == 900
    # It is seen again after a reload, and with no other figure.
    page.reload()
    expect(beside).to_have_count(0)
    page.get_by_role("button", name="Failure").click()
    expect(beside).to_be_visible()
    assert violations(page) == []


def test_a_vane_on_a_phone_with_dirty_hands(page):
    page.clock.install()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(VANE)
    page.get_by_role("button", name="Reopen").click()
    page.locator("[data-move-why]").fill("one depth more")
    page.get_by_role("button", name="Confirm").click()
    expect(page.get_by_test_id("state")).to_have_text("running")
    page.goto(f"{VANE}/run")
    take, step = page.get_by_test_id("take"), page.get_by_test_id("step")
    expect(take).to_have_text("Keep 2.6")
    take.click()
    expect(step).to_contain_text("to peak")
    watch = Watch()
    take.click()
    expect(take).to_have_text("Peak: stop the watch")
    wind(page, 118)
    take.click()
    expect(step).to_have_text("row 11: peak")
    page.locator("[data-name=reading]").fill("57.5")
    page.keyboard.press("Enter")
    expect(step).to_contain_text("turns")
    for _ in range(9):
        take.click()
    expect(take).to_have_text("Count: 9 of 10")
    # The tenth turn finishes the count.
    take.click()
    expect(step).to_contain_text("remoulded")
    page.locator("[data-name=reading]").fill("13")
    page.keyboard.press("Enter")
    expect(step).to_contain_text("rods")
    assert violations(page) == []
    page.goto(VANE)
    expect(page.locator('[data-path="profile.10.seconds_to_peak"]')).to_have_value(re.compile(r"\d{3}"))
    assert watch.allows(int(page.locator('[data-path="profile.10.seconds_to_peak"]').input_value()), 118)
    expect(page.locator('[data-path="profile.10.turns"]')).to_have_value("10")

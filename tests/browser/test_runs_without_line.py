"""Run modes on a phone in a pit: the line cut or slow, the page reloaded and closed in between, ten readings in a row,
then the line back. What was typed is compared with what is stored, cell by cell."""

import re

import pytest
from playwright.sync_api import expect

from tests import THOROUGH
from tests.browser.conftest import violations
from tests.browser.typing import all_saved, at, cut, differences, new_test, new_test_in_ground, slow, stored, wind
from tests.laboratory import CBR_LAB_G1_2, FALLING_HEAD_W1_2, HYDROMETER_B4

pytestmark = pytest.mark.browser
# Readings in a row, and after how many the page is reloaded and the phone put away.
MANY, RELOADED, PUT_AWAY = (10, 4, 7) if THOROUGH else (3, 1, 2)
PLATE_STATIC, PLATE_STEPS = 47, 46
LINES = {"cut": cut, "late": lambda page: slow(page, 3000)}


@pytest.fixture
def browser_context_args(browser_context_args):
    phone = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "service_workers": "allow"}
    return browser_context_args | phone


class Run:
    """A run mode as a hand uses it: one reading, and what should stand on record of it."""

    def __init__(self, page):
        self.page = page
        # When what was typed should have been read, by path: the least and the most.
        self.times = {}

    def begin(self):
        """Return the test's number."""
        raise NotImplementedError

    def read(self, i):
        """Take reading ``i`` and return what was typed, by path."""
        raise NotImplementedError

    def wind(self, seconds):
        wind(self.page, seconds)

    def key(self, name="take"):
        self.page.get_by_test_id(name).click()


class StaticPlate(Run):
    def begin(self):
        return PLATE_STATIC

    def read(self, i):
        row, page = 3 + i, self.page
        expect(page.get_by_test_id("stage")).to_contain_text(f"Stage {row + 1} of 16")
        self.key()
        self.wind(121)
        page.locator("[data-gauge]").fill(f"{2 + i / 100:.2f}")
        self.key()
        if page.get_by_test_id("doubt").is_visible():
            self.key()
        self.times[f"stages.{row}.hold_s"] = (120, 240)
        return {f"stages.{row}.gauge_mm": f"{2 + i / 100:.2f}"}


class Increments(Run):
    def begin(self):
        rows = stored(self.page, PLATE_STEPS)["rows"]
        self.first = len(rows)
        return PLATE_STEPS

    def read(self, i):
        row, page, kpa = self.first + i, self.page, 500 + 25 * i
        if page.get_by_test_id("doubt").is_visible():
            self.key()
        page.locator("[data-name=pressure]").fill(str(kpa))
        self.key("load")
        expect(page.get_by_test_id("stage")).to_contain_text(f"{kpa} kPa")
        self.wind(61)
        gauges = {name: f"{30 + i + n / 10:.2f}" for n, name in enumerate("abcd")}
        for name, value in gauges.items():
            page.locator(f'[data-gauge="gauge_{name}_mm"]').fill(value)
        self.key()
        self.times[f"rows.{row}.elapsed_min"] = (1, 3)
        return {f"rows.{row}.pressure_kpa": str(kpa)} | {
            f"rows.{row}.gauge_{name}_mm": value for name, value in gauges.items()
        }


class Vane(Run):
    def begin(self):
        test = new_test_in_ground(self.page, "vane")
        # The vane itself stands on the sheet; the depths are the run.
        sheet = {"constant": "2", "full_scale": "100", "diameter_mm": "55", "height_mm": "110"}
        body = {"base_revision": 0, "save_key": "the-vane-itself", "cells": sheet}
        self.page.request.post(f"/api/tests/{test}/save", data=body)
        return test

    def say(self, text):
        self.page.locator("[data-name=reading]").fill(text)
        self.page.keyboard.press("Enter")

    def read(self, i):
        step, depth = self.page.get_by_test_id("step"), f"{0.2 * (i + 1):.2f}".rstrip("0")
        expect(step).to_contain_text(f"{i + 1}: depth")
        self.key()  # the next depth is proposed
        expect(step).to_contain_text("to peak")
        self.key()
        self.wind(100 + i)
        self.key()
        expect(step).to_contain_text("peak")
        self.say(str(40 + i))
        expect(step).to_contain_text("turns")
        for _ in range(10):
            self.key()
        expect(step).to_contain_text("remoulded")
        self.say(str(15 + i))
        self.say("1")
        self.times[f"profile.{i}.seconds_to_peak"] = (100 + i, 220)
        cells = {"depth_m": depth, "peak": str(40 + i), "turns": "10", "remoulded": str(15 + i), "friction": "1"}
        return {f"profile.{i}.{name}": text for name, text in cells.items()}


class Cone(Run):
    def begin(self):
        test = new_test_in_ground(self.page, "dynamic-cone")
        sheet = {"services_located": "yes", "start_m": "0", "zero_mm": "45", "cone_mm": "19.8"}
        body = {"base_revision": 0, "save_key": "the-cone-itself", "cells": sheet}
        self.page.request.post(f"/api/tests/{test}/save", data=body)
        return test

    def read(self, i):
        step = self.page.get_by_test_id("step")
        expect(step).to_contain_text(f"{i + 1}: blows")
        for _ in range(3):
            self.key()
        self.page.get_by_role("button", name="Keep this count").click()
        expect(step).to_contain_text("rule")
        self.page.locator("[data-name=reading]").fill(str(70 + 25 * i))
        self.page.keyboard.press("Enter")
        return {f"blows.{i}.blows": "3", f"blows.{i}.rule_mm": str(70 + 25 * i)}


class Drops(Run):
    NAMES = ("seating_1_mm", "seating_2_mm", "seating_3_mm", "s_1_mm", "s_2_mm", "s_3_mm")

    def begin(self):
        test = new_test_in_ground(self.page, "drop-plate")
        sheet = {"excavated": "yes", "level": "yes", "largest_particle_mm": "32"}
        body = {"base_revision": 0, "save_key": "the-plate-itself", "cells": sheet}
        self.page.request.post(f"/api/tests/{test}/save", data=body)
        return test

    def read(self, i):
        cells = {"place": f"0+{20 * i:03d}"} | {name: f"{0.6 - k / 50:.2f}" for k, name in enumerate(self.NAMES)}
        for text in cells.values():
            self.page.locator("[data-name=reading]").fill(text)
            self.page.keyboard.press("Enter")
            expect(self.page.locator("[data-name=reading]")).to_have_value("")
        return {f"places.{i}.{name}": text for name, text in cells.items()}


class Levels(Run):
    def begin(self):
        self.first = len(stored(self.page, FALLING_HEAD_W1_2)["heads"])
        return FALLING_HEAD_W1_2

    def read(self, i):
        number = 2 + i % 2
        self.page.locator(".one .name").nth(number - 1).click()
        self.page.locator(f'[data-level="{number}"]').fill(str(350 - 3 * i))
        self.key()
        self.wind(60)
        row = f"heads.{self.first + i}"
        return {f"{row}.cylinder": str(number), f"{row}.head_mm": str(350 - 3 * i)}


class Press(Run):
    def begin(self):
        return CBR_LAB_G1_2

    def read(self, i):
        if i == 0:
            self.key()
        expect(self.page.get_by_test_id("countdown")).to_have_text(f"{0.25 * (i + 1):.2f}")
        self.wind(15)
        self.page.locator("[data-name=ring]").fill(str(30 * (i + 1)))
        self.page.keyboard.press("Enter")
        return {f"top.{i + 1}.ring_div": str(30 * (i + 1))}


class Cylinder(Run):
    def begin(self):
        for test in (31, 32):
            self.page.request.post(f"/api/tests/{test}/move", data={"action": "void", "reason": "not in this test"})
        self.due = [row["due_min"] for row in stored(self.page, HYDROMETER_B4)["sedimentation"]]
        return HYDROMETER_B4

    def read(self, i):
        page = self.page
        if i == 0:
            page.get_by_role("button", name="start").click()
        before = self.due[i - 1] if i else 0
        self.wind(60 * (self.due[i] - before))
        self.key()
        page.get_by_label("reads").fill(str(30 - i))
        page.get_by_label("temperature, °C").fill("20")
        page.keyboard.press("Enter")
        return {f"sedimentation.{i}.hydrometer": str(30 - i), f"sedimentation.{i}.temperature_c": "20"}


class Cup(Run):
    def begin(self):
        return new_test(self.page, "liquid-limit")

    def read(self, i):
        page, blows = self.page, 16 + i
        expect(page.get_by_test_id("trial")).to_contain_text(f"trial {i + 1}")
        for _ in range(blows):
            page.keyboard.press("Space")
        page.get_by_role("button", name="Groove closed").click()
        page.get_by_role("button", name="13 mm, measured").click()
        tin = {"tin": f"Z{i}", "mass_tin_g": f"{12 + i / 10}", "mass_tin_wet_g": f"{30 + i / 10}"}
        page.get_by_label("tin", exact=True).fill(tin["tin"])
        page.get_by_label("empty tin").fill(tin["mass_tin_g"])
        page.get_by_label("tin + wet").fill(tin["mass_tin_wet_g"])
        page.get_by_role("button", name="Keep this tin").click()
        cells = {"blows": str(blows), "closure_mm": "13"} | tin
        return {f"trials.{i}.{name}": text for name, text in cells.items()}


class Drying(Run):
    def begin(self):
        test = new_test(self.page, "water-content")
        cells = {}
        for i in range(10):
            mass = {"tin": f"V{i}", "mass_tin_g": "20", "mass_tin_wet_g": "60"}
            cells |= {f"determinations.{i}.{name}": text for name, text in mass.items()}
        body = {"base_revision": 0, "save_key": "ten-tins-moist", "cells": cells}
        assert self.page.request.post(f"/api/tests/{test}/save", data=body).ok
        return test

    def read(self, i):
        page = self.page
        if i == 0:
            page.get_by_role("button", name="Start all").click()
        page.locator(f'[data-tin="determinations.{i}"]').fill(f"{50 + i / 10}")
        page.get_by_role("region", name=f"Tin V{i}").get_by_role("button", name="Weighed").click()
        return {f"determinations.{i}.mass_tin_dry_g": f"{50 + i / 10}"}


# The plate in increments goes by the static plate's script, cone and drops by the vane's.
ALIKE = {Increments, Cone, Drops}
RUNS = [StaticPlate, Increments, Vane, Cone, Drops, Levels, Press, Cylinder, Cup, Drying]


# Every run mode on a slow line too, and those with the script of another: make thorough.
TRIED = [(line, kind) for line in LINES for kind in RUNS if THOROUGH or (line == "cut" and kind not in ALIKE)]


@pytest.mark.parametrize(("line", "kind"), TRIED, ids=[f"{line}-{kind.__name__}" for line, kind in TRIED])
def test_ten_readings_in_a_row_are_in_their_own_rows(page, context, kind, line):
    page.clock.install()
    run = kind(page)
    test = run.begin()
    address = f"/tests/{test}/run"
    page.goto(address)
    expect(page.get_by_role("status").first).to_have_text("saved")
    page.evaluate("navigator.serviceWorker.ready")
    # Looked at once more with the worker between: from now on the page is on this device.
    page.reload()
    expect(page.get_by_role("status").first).to_have_text("saved")
    if page.get_by_test_id("begin").is_visible():
        page.get_by_test_id("begin").click()
    typed = {}
    with LINES[line](page):
        many = min(MANY, len(run.due)) if isinstance(run, Cylinder) else MANY
        for i in range(many):
            if i == RELOADED and line == "cut":
                page.reload()
                expect(page.get_by_role("status").first).to_contain_text("waiting for the line")
            if i == PUT_AWAY and line == "cut":
                # The phone is put away and taken out again.
                page.close()
                page = run.page = context.new_page()
                page.goto(address)
                expect(page.get_by_role("status").first).to_contain_text("waiting for the line")
            typed |= run.read(i)
        if line == "cut":
            # Cylinders say nothing that was judged: what is next there comes from the clock.
            if kind is not Cylinder:
                expect(page.get_by_test_id("as-of")).to_have_text(re.compile(r"^as of \d\d:\d\d$"))
            assert violations(page) == []
    all_saved(page)
    readings = stored(page, test)
    assert differences(readings, typed) == {}
    for path, (least, most) in run.times.items():
        assert least <= at(readings, path) <= most, path

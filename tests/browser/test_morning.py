"""A stranger's morning: from an empty laboratory to issued sheets, with every click and key counted.

Ten sheets in `make thorough`, which compares what was counted with docs/morning.md; four of the same kinds otherwise.
"""

import re
from contextlib import nullcontext
from pathlib import Path

import pytest
from playwright.sync_api import expect
from sqlmodel import Session, select

from tests import THOROUGH
from tests.browser.conftest import ServerThread, violations
from vadum.records.database import open_database
from vadum.records.tables import IssuedSheet, Report, Sample, Test

pytestmark = pytest.mark.browser
PASSWORD = "weir and reed 77"
TABLE = Path(__file__).parents[2] / "docs" / "morning.md"
# Tins of 17 g and more; what is weighed in them is made up, with water contents that hang together.
TINS = [(f"T-{k:02}", 17 + k / 100) for k in range(1, 31)]
PLAN = {
    "B1": ("Water content", "Liquid limit", "Plastic limit", "Linear shrinkage"),
    "B2": ("Water content", "Liquid limit", "Plastic limit"),
    "B3": ("Water content", "Plastic limit", "Linear shrinkage"),
    "B4": ("Water content",),
}
# The last is voided, the one before has its depth put right.
if not THOROUGH:
    PLAN = {name: PLAN[name] for name in ("B1", "B4")}
*_, WRONG, TORN = PLAN
SHEETS = sum(map(len, PLAN.values())) - 1


class Hand:
    """What a person does at a page, counted: clicks, and keys pressed. A file chosen or a list pasted is two keys."""

    def __init__(self, page):
        self.page, self.clicks, self.keys = page, 0, 0

    def click(self, locator):
        sends = locator.evaluate("key => key.matches('form[method=post] button:not([type=button])')")
        with self.page.expect_navigation() if sends else nullcontext():
            locator.click()
        self.clicks += 1

    def press(self, name):
        self.click(self.page.get_by_role("button", name=name, exact=True))

    def follow(self, name):
        self.click(self.page.get_by_role("link", name=name))

    def write(self, locator, text):
        locator.fill(text)
        self.clicks, self.keys = self.clicks + 1, self.keys + len(text)

    def paste(self, locator, text):
        locator.fill(text)
        self.clicks, self.keys = self.clicks + 1, self.keys + 2

    def choose(self, locator, word):
        locator.select_option(word)
        self.clicks += 2

    def type_on(self, path, text):
        """Type where the hand is, and let Enter take it on."""
        cell = self.page.locator(f'[data-path="{path}"]')
        expect(cell).to_be_visible()
        cell.fill(text)
        cell.press("Enter")
        self.keys += len(text) + 1


class Morning:
    """Parts of the morning with what each cost."""

    def __init__(self):
        self.parts = {}

    def count(self, part, *hands):
        self.parts[part] = (sum(h.clicks for h in hands), sum(h.keys for h in hands))
        for hand in hands:
            hand.clicks = hand.keys = 0

    @property
    def lines(self):
        whole = tuple(map(sum, zip(*self.parts.values(), strict=True)))
        return [f"| {part} | {c} | {k} |" for part, (c, k) in (self.parts | {"in all": whole}).items()]


@pytest.fixture
def laboratory(tmp_path):
    running = ServerThread(tmp_path / "new.sqlite").start()
    yield running
    running.kill()


@pytest.fixture
def hands(browser, laboratory):
    """A browser for each person, as each sits at a machine of their own."""
    contexts = []

    def one():
        context = browser.new_context(base_url=laboratory.url, viewport={"width": 1280, "height": 800})
        contexts.append(context)
        return Hand(context.new_page())

    yield one
    for context in contexts:
        context.close()


def sign_in(hand, name):
    hand.page.goto("/sign-in")
    hand.write(hand.page.get_by_label("name"), name)
    hand.write(hand.page.get_by_label("password"), PASSWORD)
    hand.press("Sign in")
    expect(hand.page.get_by_role("button", name="Sign out")).to_be_visible()


def weigh(hand, path, tin, moist, dry, hours=None):
    """A tin on the balance before and after the oven; its tare is the register's."""
    tare = dict(TINS)[tin]
    hand.type_on(f"{path}.tin", tin)
    hand.type_on(f"{path}.mass_tin_wet_g", f"{tare + moist:.2f}")
    hand.type_on(f"{path}.mass_tin_dry_g", f"{tare + dry:.2f}")
    if hours:
        hand.type_on(f"{path}.drying_h", hours)


def water_content(hand, tins, water):
    for row, tin in enumerate(tins):
        weigh(hand, f"determinations.{row}", tin, 30 + 0.3 * (water + row / 10), 30.0, "18")


def liquid_limit(hand, tins, water):
    for row, (tin, blows, off) in enumerate(zip(tins, ("32", "25", "18"), (-1.6, 0.0, 2.1), strict=True)):
        hand.type_on(f"trials.{row}.blows", blows)
        hand.type_on(f"trials.{row}.closure_mm", "13")
        weigh(hand, f"trials.{row}", tin, 12 * (1 + (water + off) / 100), 12.0)
    hand.choose(hand.page.get_by_label("state of the soil"), "natural, never dried")
    hand.choose(hand.page.get_by_label("prepared", exact=True), "wet, washed through or picked")
    hand.type_on("seasoning_min", "960")


def plastic_limit(hand, tins, water):
    for row, tin in enumerate(tins):
        weigh(hand, f"threads.{row}", tin, 6.5 * (1 + (water + row / 5) / 100), 6.5)


def linear_shrinkage(hand, _tins, _water):
    hand.type_on("bars.0.length_mould_mm", "140")
    hand.type_on("bars.0.length_top_mm", "128.0")
    hand.type_on("bars.0.length_bottom_mm", "128.4")
    hand.type_on("bars.0.state", "straight")


MEASURE = {
    "Water content": (water_content, 2, 21.0),
    "Liquid limit": (liquid_limit, 3, 38.0),
    "Plastic limit": (plastic_limit, 2, 20.0),
    "Linear shrinkage": (linear_shrinkage, 0, 0.0),
}


def done(hand):
    hand.press("Done measuring")
    expect(hand.page.get_by_test_id("state")).to_have_text("done, waits for a check")


def test_from_an_empty_laboratory_to_issued_sheets(hands, laboratory):
    morning = Morning()
    manager = hands()
    page = manager.page
    page.goto("/")
    manager.follow("Register the manager")
    manager.write(page.get_by_label("code"), laboratory.app.state.first_code)
    manager.write(page.get_by_label("name", exact=True), "manager")
    manager.write(page.get_by_label("password"), PASSWORD)
    manager.press("Register")
    sign_in(manager, "manager")
    page.goto("/")
    manager.follow("Letterhead")
    manager.write(page.get_by_label("name of the laboratory"), "Low Weir Soils")
    manager.press("Keep")
    manager.write(page.get_by_label("zone"), "Europe/Lisbon")
    manager.press("Keep the zone")
    manager.follow("People")
    for name in ("technician", "checker"):
        manager.write(page.get_by_label("name", exact=True), name)
        manager.choose(page.get_by_label("role", exact=True), name)
        manager.write(page.get_by_label("password"), PASSWORD)
        manager.press("Register")
        expect(page.get_by_role("button", name=f"Change the role of {name}")).to_be_visible()
    manager.follow("Tins")
    manager.paste(page.get_by_role("textbox", name="the list"), "\n".join(f"{tin} {tare:.2f}" for tin, tare in TINS))
    manager.press("Look at it")
    manager.click(page.get_by_test_id("keep-tins"))
    manager.follow("Equipment")
    for name, kind in (("Balance 1", "balance"), ("Oven 1", "oven")):
        manager.click(page.get_by_text("Add to the register"))
        manager.write(page.get_by_label("name or number"), name)
        manager.choose(page.get_by_label("kind"), kind)
        manager.press("Add")
        expect(page.locator("b", has_text=name)).to_be_visible()
    morning.count("setting up", manager)

    page.goto("/")
    manager.click(page.get_by_text("New project", exact=True))
    manager.write(page.get_by_label("project", exact=True), "Low Weir bypass")
    manager.write(page.get_by_label("for", exact=True), "county roads office")
    manager.write(page.get_by_label("order number"), "LW-7")
    manager.press("Add project")
    manager.follow("Schedule")
    samples = "\n".join(f"TP1;{name};bag;{k};{k}.3;9000" for k, name in enumerate(PLAN))
    manager.paste(page.get_by_label("location; name; kind"), samples)
    manager.press("Look at them")
    for sample, methods in PLAN.items():
        for method in methods:
            manager.click(page.get_by_label(f"{method} of TP1 {sample}"))
    manager.click(page.get_by_test_id("plan-it"))
    expect(page.get_by_role("heading", name="TP1")).to_be_visible()
    with page.expect_download() as labels:
        manager.follow("Labels")
    assert labels.value.path().read_bytes().startswith(b"%PDF")
    manager.follow("Bench")
    manager.follow("Plan")
    manager.press("Keep this plan")
    expect(page.get_by_test_id("kept")).to_contain_text("it stands on the board")
    assert violations(page) == []
    morning.count("a project: eleven tests, labels, a plan", manager)

    technician = hands()
    sign_in(technician, "technician")
    desk = technician.page
    tins = iter(tin for tin, _ in TINS)
    with Session(open_database(laboratory.database)) as session:
        tests = [(t.id, t.sample.name, t.method) for t in session.exec(select(Test).order_by(Test.id)).all()]
    titles = {title.lower().replace(" ", "-"): title for title in MEASURE}
    assert len(tests) == SHEETS + 1
    for number, sample, code in tests:
        measure, count, water = MEASURE[titles[code]]
        desk.goto(f"/tests/{number}")
        technician.clicks += 1
        if sample == TORN:
            continue
        measure(technician, [next(tins) for _ in range(count)], water)
        done(technician)
    morning.count("measuring ten tests", technician)

    desk.goto(f"/search?q={WRONG}")
    technician.click(desk.get_by_label("Places").get_by_role("link", name=f"TP1 {WRONG}"))
    technician.click(desk.get_by_text("Correct the sample"))
    top = list(PLAN).index(WRONG)
    technician.write(desk.get_by_label("to, m", exact=True), f"{top}.45")
    technician.press("Save")
    expect(desk.get_by_role("heading", name=f"{WRONG} {top}.00–{top}.45 m")).to_be_visible()
    spare = next(number for number, sample, _ in tests if sample == TORN)
    desk.goto(f"/tests/{spare}")
    technician.press("Void")
    technician.write(desk.locator("[data-move-why]"), "the bag was torn")
    technician.press("Confirm")
    expect(desk.get_by_test_id("state")).to_contain_text("void")
    morning.count("a wrong depth put right, a test voided", technician)

    checker = hands()
    sign_in(checker, "checker")
    sheet = checker.page
    for number, sample, _ in tests:
        if sample == TORN:
            continue
        sheet.goto(f"/tests/{number}")
        checker.press("Check")
        expect(sheet.get_by_test_id("state")).to_contain_text("checked by checker")
        checker.press("Issue")
        expect(sheet.get_by_test_id("state")).to_contain_text("issued")
        checker.clicks += 1
    morning.count("checking and issuing ten sheets", checker)

    page.goto("/projects/1")
    manager.follow("Reports")
    manager.press("Make the report")
    page.wait_for_url(re.compile(r"/reports/\d+$"))
    expect(page.get_by_text("Draft, not issued")).to_be_visible(timeout=120_000)
    manager.press("Issue it")
    expect(page.get_by_text(re.compile(r"^Issued as "))).to_be_visible(timeout=120_000)
    morning.count("the report", manager)

    with Session(open_database(laboratory.database)) as session:
        assert len(session.exec(select(IssuedSheet)).all()) == SHEETS
        assert [report.number for report in session.exec(select(Report)) if report.number]
        assert session.exec(select(Sample).where(Sample.name == WRONG)).one().base_m == top + 0.45
        assert {t.state for t in session.exec(select(Test))} == {"issued", "void"}
    said = [
        line for line in TABLE.read_text(encoding="utf-8").splitlines() if re.match(r"\| .* \| \d+ \| \d+ \|", line)
    ]
    if THOROUGH:
        assert said == morning.lines, "\n".join(morning.lines)

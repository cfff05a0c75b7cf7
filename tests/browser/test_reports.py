"""What leaves the laboratory, as a person makes it: summary, report, letterhead; and the first walk."""

import io
import re

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests import THOROUGH
from tests.browser.conftest import ServerThread, by_day_and_night, violations
from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_U2
from tests.printed import words_of

pytestmark = pytest.mark.browser
BANK = "/projects/3"


def outline(page, url):
    reader = PdfReader(io.BytesIO(page.request.get(url).body()))
    return [entry.title for entry in reader.outline if not isinstance(entry, list)]


PAGES = (
    f"{BANK}/summary",
    f"{BANK}/reports",
    "/letterhead",
    "/help",
    "/help/glossary",
    "/help/methods/sieve",
    "/?tour=1",
)


def test_pages_keep_the_rules_of_access(page):
    for k, path in enumerate(PAGES):
        page.goto(path)
        assert (by_day_and_night if THOROUGH or k % 2 else violations)(page) == [], path


def test_a_report_is_made_in_the_order_chosen_survives_a_reload_and_is_issued(page):
    page.goto(f"{BANK}/summary")
    page.get_by_role("link", name="PDF").click()
    page.get_by_label("title").fill("Ground of the bank")
    chapters = page.locator("[data-chapters]")
    page.get_by_role("button", name="sheet of each sample further up").click()
    page.get_by_role("button", name="sheet of each sample further up").press("Enter")
    expect(chapters.locator("li").first).to_contain_text("sheet of each sample")
    chapters.get_by_role("checkbox", name="sheet of each test").uncheck()
    page.get_by_role("button", name="Make the report").click()
    page.wait_for_url(re.compile(r"/reports/\d+$"))
    page.reload()
    expect(page.get_by_text("Draft, not issued")).to_be_visible(timeout=120_000)
    titles = outline(page, page.url + "/report.pdf")
    assert titles[:2] == ["FB1 U1", "FB1 U3"]
    assert titles.index("Summary of results") < titles.index("Log of FB1")
    assert not any("Liquid limit" in title for title in titles)
    assert violations(page) == []
    page.get_by_role("button", name="Issue it").click()
    expect(page.get_by_text(re.compile(r"^Issued as R20\d\d-0001"))).to_be_visible(timeout=120_000)
    expect(page.get_by_role("button", name="Remove this draft")).to_be_hidden()
    page.get_by_role("link", name="Reports").click()
    expect(page.locator(".reports li")).to_have_count(2)


def test_a_report_is_cancelled_while_it_is_made(page):
    page.goto("/projects/1/reports")
    for how in ("derivation of every number", "uncertainty of every number", "records of more than 60 rows in full"):
        page.get_by_label(how).check()
    page.get_by_role("button", name="Make the report").click()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("Cancelled", exact=True)).to_be_visible()
    assert page.request.get(page.url + "/report.pdf").status == 404


def test_a_summary_is_filtered_and_sorted_by_hand(page):
    page.goto(f"{BANK}/summary")
    page.get_by_label("location").select_option("FB2")
    page.get_by_label("from, m").fill("2,5")
    page.get_by_role("button", name="Show").click()
    rows = page.locator("tr[data-test]")
    expect(rows.first).to_contain_text("U3")
    expect(page.locator("tr[data-test]", has_text="U1")).to_have_count(0)
    page.get_by_role("link", name="reported").click()
    values = [float(v) for v in rows.locator("[data-value]").all_inner_texts() if re.fullmatch(r"-?[\d.]+", v)]
    assert values == sorted(values)
    expect(page.get_by_label("location")).to_have_value("FB2")
    page.get_by_role("link", name="all again").click()
    expect(page.locator("tr[data-test]", has_text="U1").first).to_be_visible()


def test_the_letterhead_is_given_and_heads_the_next_sheet(page, tmp_path):
    page.goto("/letterhead")
    page.get_by_label("name of the laboratory").fill("Fen Edge Laboratory")
    page.get_by_label("logo:").set_input_files({"name": "logo.svg", "mimeType": "image/svg+xml", "buffer": b"<html/>"})
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("PNG, a JPEG or an SVG")
    expect(page.get_by_label("name of the laboratory")).to_have_value("Fen Edge Laboratory")
    page.get_by_role("button", name="Keep", exact=True).click()
    # A page that says no shows how it would look as well.
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.locator(".paper-head")).to_contain_text("Fen Edge Laboratory")
    words = words_of(page.request.get(f"/tests/{LIQUID_LIMIT_U2}/sheet.pdf").body())
    assert "Fen Edge Laboratory" in words


def test_the_walk_is_walked_with_the_keyboard_and_points_at_what_it_means(page):
    page.goto("/help")
    page.get_by_role("link", name="Begin the walk").click()
    for _ in range(8):
        expect(page.locator(".tour-meant").first).to_be_visible()
        page.get_by_role("complementary").get_by_role("link", name="Next").press("Enter")
    expect(page.get_by_role("complementary")).to_contain_text("That is the end of the walk")
    page.get_by_role("link", name="Leave the walk").click()
    expect(page.locator(".tour")).to_have_count(0)


def test_the_walk_is_offered_until_it_is_begun_or_declined(browser, database):
    running = ServerThread(database, demo=True).start()
    for click in ("Not now", "A walk through the laboratory"):
        context = browser.new_context(base_url=running.url)
        page = context.new_page()
        page.goto("/")
        page.get_by_text(click).click()
        page.goto("/")
        expect(page.get_by_role("heading", name="Under way")).to_be_visible()
        expect(page.locator("[data-walk]")).to_be_hidden()
        context.close()
    running.kill()


def test_a_worksheet_opens_its_method_beside_it(page, context):
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    with context.expect_page() as opened:
        page.get_by_role("link", name="About this method").click()
    expect(opened.value.get_by_role("heading", name="Liquid limit", level=1)).to_be_visible()
    expect(opened.value.get_by_role("heading", name="Equations")).to_be_visible()


def test_nothing_is_wider_than_a_phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    for path in (*PAGES, "/plan", "/search?q=liquid", f"/tests/{LIQUID_LIMIT_U2}?tour=3"):
        page.goto(path)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, path


def test_a_finished_result_says_quietly_how_well_it_is_known(page):
    page.goto(f"/tests/{LIQUID_LIMIT_B1}")
    expect(page.get_by_test_id("known")).to_have_text(re.compile(r"^± \d+$"))
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    expect(page.get_by_test_id("headline")).to_have_text("38")
    expect(page.get_by_test_id("known")).to_have_text("")
    page.get_by_role("button", name="Explain").click()
    expect(page.get_by_test_id("known")).to_have_text(re.compile(r"^± "))
    how_well = page.get_by_role("region", name="How well it is known")
    expect(how_well).to_contain_text("LL 38 % ±")
    # A changed reading makes it old: it is worked out again.
    cell = page.locator('[data-path="trials.0.mass_tin_dry_g"]')
    cell.fill("31.90")
    cell.press("Enter")
    expect(how_well).to_contain_text("LL 42 % ±")
    expect(page.get_by_test_id("known")).to_have_text(re.compile(r"^± "))

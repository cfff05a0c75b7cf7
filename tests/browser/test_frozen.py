"""A check whose ground moves, as people meet it: on the worksheet, on the board, and what they do about it."""

import re

import pytest
from playwright.sync_api import expect
from sqlmodel import Session, select

from tests.browser.conftest import saved, violations
from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_D2, PLASTIC_LIMIT_B1
from tests.records.small_laboratory import heavier
from vadum.records.database import open_database
from vadum.records.states import move
from vadum.records.tables import Test

pytestmark = pytest.mark.browser
PLASTIC, LIQUID = PLASTIC_LIMIT_B1, LIQUID_LIMIT_B1  # of one sample, both checked in the demonstration laboratory


@pytest.fixture
def moved(database):
    """The liquid limit is reopened and edited after the plastic limit on it was checked."""
    with Session(open_database(database)) as session:
        liquid = session.get(Test, LIQUID)
        move(session, liquid, "reopen", who="checker", reason="tins misread")
        heavier(session, liquid, by=-0.1)
        number = session.exec(select(Test.id).where(Test.method == "plastic-limit", Test.state == "checked")).first()
        assert number == PLASTIC
    return database


def as_checker(page):
    page.context.add_cookies([{"name": "vadum_who", "value": "checker", "domain": "127.0.0.1", "path": "/"}])
    page.reload()


def test_the_ground_of_a_check_moves_and_the_check_is_kept_with_a_reason(moved, page):
    page.goto("/board")
    expect(page.get_by_text("its ground has moved").first).to_be_visible()
    page.goto(f"/tests/{PLASTIC}")
    as_checker(page)
    told = page.get_by_test_id("moved")
    expect(told).to_contain_text("LL of test 4 is now 63 %, was 62 % when this was checked.")
    expect(page.locator(".others")).to_contain_text(re.compile(r"PI\s*38"))
    expect(page.get_by_role("button", name="Issue")).to_have_count(0)
    assert violations(page) == []
    page.get_by_role("button", name="To check").click()
    expect(page.get_by_role("region", name="To check")).to_contain_text("LL of test 4 is now 63 %")
    page.get_by_role("button", name="Keep it").click()
    page.locator("[data-move-why]").fill("the design rests on the first one")
    page.get_by_role("button", name="Confirm").click()
    expect(page.get_by_test_id("kept")).to_contain_text("the design rests on the first one")
    expect(told).to_have_count(0)
    expect(page.get_by_role("button", name="Issue")).to_be_visible()
    expect(page.locator(".others")).to_contain_text(re.compile(r"PI\s*38"))


def test_who_checks_sees_each_reading_that_was_changed_with_what_stood_there(page):
    page.goto(f"/tests/{LIQUID_LIMIT_D2}")
    for text in ("17.25", "17.52", ""):
        page.locator('[data-path="trials.0.mass_tin_g"]').fill(text)
        page.locator('[data-path="trials.0.mass_tin_g"]').press("Enter")
        saved(page)
    page.get_by_role("button", name="To check").click()
    told = page.get_by_role("region", name="To check")
    expect(told.get_by_text("17.25 → 17.52 → (empty)")).to_be_visible()


def test_a_check_is_made_again_on_the_ground_as_it_is(moved, page):
    page.goto(f"/tests/{PLASTIC}")
    as_checker(page)
    page.get_by_role("button", name="Check again").click()
    expect(page.get_by_test_id("moved")).to_have_count(0)
    expect(page.locator(".others")).to_contain_text(re.compile(r"PI\s*39"))
    expect(page.get_by_test_id("leans")).to_contain_text("LL 63 % of test 4")


def test_the_next_row_is_the_pages_own(page):
    """With the line cut in the middle of a row: what is typed stands in the row the hand meant, and is sent there."""
    page.goto(f"/tests/{LIQUID_LIMIT_D2}")
    first = page.locator('[data-path="trials.0.blows"]')
    first.click()
    page.route("**/api/tests/**", lambda route: route.abort())
    for text in ("31", "13", "T-03", "40.10", "24", "13", "T-04", "41.20"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    page.unroute("**/api/tests/**")
    saved(page)
    rows = page.request.get(f"/api/tests/{LIQUID_LIMIT_D2}/sheet").json()["tables"][0]["rows"]
    texts = [[row["cells"][key]["text"] for key in ("blows", "closure_mm", "tin", "mass_tin_wet_g")] for row in rows]
    assert texts[:2] == [["31", "13", "T-03", "40.10"], ["24", "13", "T-04", "41.20"]]

"""Signing in, working as oneself, and two people on one sheet."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import ServerThread, by_day_and_night, sign_in
from tests.laboratory import LIQUID_LIMIT_B3, LIQUID_LIMIT_U2
from vadum.demo.laboratory import staff

pytestmark = pytest.mark.browser
SHEET = f"/tests/{LIQUID_LIMIT_B3}"  # measured by technician 1, waits for a check


@pytest.fixture
def server(database):
    """The demonstration with its people."""
    staff(database)
    running = ServerThread(database, demo=True).start()
    yield running
    running.kill()


@pytest.fixture
def colleague(browser, server):
    """A second browser of another person."""
    context = browser.new_context(base_url=server.url)
    yield context.new_page()
    context.close()


def test_the_people_of_a_laboratory_are_no_wider_than_a_phone(page):
    page.set_viewport_size({"width": 390, "height": 844})
    sign_in(page, "manager", "/people")
    expect(page.get_by_label("Role of checker", exact=True)).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_way_in_and_out(page):
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assert by_day_and_night(page) == []
    page.get_by_role("button", name="manager", exact=True).click()
    expect(page.locator('[data-path="trials.0.blows"]')).to_be_visible()
    page.goto("/people")
    assert by_day_and_night(page) == []
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign out")).to_have_count(0)
    page.goto("/people")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_whoever_signs_in_is_not_told_that_they_were_signed_out(page):
    page.goto("/sign-in")
    page.evaluate("addEventListener('vadum-signed-out', () => sessionStorage.setItem('told', 'yes'))")
    page.get_by_role("button", name="reader", exact=True).click()
    expect(page.locator('body[data-who="reader"]')).to_be_attached()
    assert page.evaluate("sessionStorage.getItem('told')") is None


def test_a_reader_changes_nothing(page):
    sign_in(page, "reader", f"/tests/{LIQUID_LIMIT_U2}")
    cell = page.locator('[data-path="trials.0.blows"]')
    before = cell.input_value()
    cell.fill("19")
    page.keyboard.press("Enter")
    expect(page.get_by_text("A reader looks only: ask a technician to change this.")).to_be_visible()
    assert page.request.get(f"/tests/{LIQUID_LIMIT_U2}/bench.json").json()["readings"]["trials"][0]["blows"] == float(
        before
    )


def test_one_measures_another_checks_and_then_it_is_closed(page, colleague):
    sign_in(page, "technician 2", SHEET)
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_text("A checker or manager does this.")).to_be_visible()
    sign_in(colleague, "checker", SHEET)
    colleague.get_by_role("button", name="Check", exact=True).click()
    expect(colleague.get_by_test_id("state")).to_have_text("checked by checker")
    page.reload()
    expect(page.locator("input[data-path]").first).to_be_disabled()
    # Reopening is an event with a reason and a name.
    page.get_by_role("button", name="Reopen").click()
    page.locator("[data-move-why]").fill("wrong tin")
    page.get_by_role("button", name="Confirm").click()
    expect(page.get_by_test_id("state")).to_have_text("running")
    page.get_by_role("button", name="History").click()
    expect(page.get_by_label("History").get_by_text("wrong tin")).to_be_visible()
    expect(page.get_by_label("History").get_by_text("technician 2").first).to_be_visible()


def test_two_on_one_sheet_see_each_others_names(page, colleague):
    sign_in(page, "technician 1", f"/tests/{LIQUID_LIMIT_U2}")
    sign_in(colleague, "technician 2", f"/tests/{LIQUID_LIMIT_U2}")
    colleague.locator('[data-path="trials.0.blows"]').fill("33")
    colleague.keyboard.press("Enter")
    expect(colleague.get_by_text("saved, revision")).to_be_visible()
    page.locator('[data-path="trials.0.blows"]').fill("31")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Changed in between")).to_be_visible()
    expect(page.get_by_text("technician 2 saved revision")).to_be_visible()


def test_whoever_is_signed_out_while_typing_loses_nothing(page):
    sign_in(page, "technician 1", f"/tests/{LIQUID_LIMIT_U2}")
    page.request.post("/sign-out")
    page.locator('[data-path="trials.0.blows"]').fill("27")
    page.keyboard.press("Enter")
    expect(page.get_by_text("You were signed out; what you type waits here.")).to_be_visible()
    expect(page.get_by_text("1 waiting for the line")).to_be_visible()
    page.request.post("/sign-in", form={"name": "technician 1"})
    expect(page.get_by_text("saved, revision")).to_be_visible()
    expect(page.get_by_text("You were signed out")).to_be_hidden()
    assert page.request.get(f"/tests/{LIQUID_LIMIT_U2}/bench.json").json()["readings"]["trials"][0]["blows"] == 27


def test_a_board_that_hangs_on_after_its_hand_was_signed_out_says_so(page):
    page.clock.install()
    sign_in(page, "technician 1", "/board")
    page.request.post("/sign-out")
    page.clock.run_for(21_000)
    expect(page.get_by_text("You were signed out")).to_be_visible()
    expect(page.get_by_text("times go on from the last answer")).to_be_visible()
    page.request.post("/sign-in", form={"name": "technician 1"})
    page.clock.run_for(21_000)
    expect(page.get_by_text("You were signed out")).to_be_hidden()
    expect(page.get_by_text("times go on from the last answer")).to_have_count(0)


def test_a_form_that_cannot_arrive_stays_as_it_was_typed(page, context):
    """It went to another page, and the way back brought the form without what was typed."""
    sign_in(page, "manager", "/samples/2")
    page.locator("summary").filter(has_text="Correct").first.click()
    form = page.locator("form:has(input[name=mass_g])").first
    mass, save, said = form.locator("[name=mass_g]"), form.get_by_role("button").last, form.get_by_role("alert").last
    mass.fill("4321")
    page.request.post("/sign-out")
    save.click()
    expect(said).to_contain_text("You were signed out. Nothing was sent")
    # On a device that two share the other one has signed in, in a second tab.
    page.request.post("/sign-in", form={"name": "technician 1"})
    save.click()
    expect(said).to_contain_text("technician 1 is signed in in this browser now, and this page is manager's")
    page.request.post("/sign-in", form={"name": "manager"})
    context.set_offline(True)
    save.click()
    expect(said).to_contain_text("The line to the server is down. Nothing was sent")
    expect(mass).to_have_value("4321")
    context.set_offline(False)
    save.click()
    expect(page.locator("main")).to_contain_text("→ 4321")


def test_a_sheet_is_not_checked_in_the_name_of_whoever_signed_in_since(page):
    """What is done on a page is signed by whom the page names, or not at all."""
    sign_in(page, "manager", SHEET)
    page.request.post("/sign-in", form={"name": "checker"})
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_text("checker is signed in in this browser now, and this page is manager's")).to_be_visible()
    assert page.request.get(f"/api{SHEET}/sheet").json()["state"] == "reduced"
    page.request.post("/sign-in", form={"name": "manager"})
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_test_id("state")).to_contain_text("checked by manager")

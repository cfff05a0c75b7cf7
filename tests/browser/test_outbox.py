"""What the hand typed reaches the record once, as its own person's, in whatever state line, server and browser are."""

import json
import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import ServerThread, sign_in
from tests.browser.typing import all_saved
from tests.laboratory import FALLING_HEAD_W1_2, LIQUID_LIMIT_U2
from vadum.demo.laboratory import staff

pytestmark = pytest.mark.browser
SHEET = f"/tests/{LIQUID_LIMIT_U2}"
SAVE = f"**/api{SHEET}/save"


@pytest.fixture
def server(database):
    """The demonstration with its people."""
    staff(database)
    running = ServerThread(database, demo=True).start()
    yield running
    running.kill()


def type_in(page, path, text):
    page.locator(f'[data-path="{path}"]').fill(text)
    page.keyboard.press("Enter")


def blows(page):
    return [row.get("blows") for row in page.request.get(f"{SHEET}/bench.json").json()["readings"]["trials"]]


def answer_to(page, path, status, body):
    """Let the server answer so whenever a change of one cell is sent."""

    def handle(route):
        sent = json.loads(route.request.post_data)
        if path in sent["cells"]:
            route.fulfill(status=status, json=body)
        else:
            route.continue_()

    page.route(SAVE, handle)


@pytest.mark.broken_server
def test_a_reading_the_server_breaks_on_is_set_aside_and_the_rest_goes_on(page):
    sign_in(page, "technician 1", SHEET)
    answer_to(page, "trials.0.blows", 500, {"message": "Something went wrong here (request 7)."})
    type_in(page, "trials.0.blows", "33")
    type_in(page, "trials.1.blows", "26")
    aside = page.get_by_test_id("set-aside")
    expect(aside).to_contain_text("trials, row 1, blows “33”")
    expect(aside).to_contain_text("request 7")
    expect(page.get_by_text("1 not taken", exact=True)).to_be_visible()
    assert blows(page)[1] == 26
    # It outlives a reload, and is sent when it is asked for.
    page.unroute(SAVE)
    page.reload()
    page.get_by_test_id("set-aside").get_by_role("button", name="Send again").click()
    expect(page.get_by_test_id("set-aside")).to_have_count(0)
    expect(page.get_by_text("saved, revision")).to_be_visible()
    assert blows(page)[:2] == [33, 26]


def test_a_refused_reading_keeps_its_text_and_its_reason(page):
    sign_in(page, "technician 1", SHEET)
    answer_to(page, "trials.0.blows", 422, {"message": "The sheet was closed meanwhile."})
    type_in(page, "trials.0.blows", "34")
    aside = page.get_by_test_id("set-aside")
    expect(aside).to_contain_text("“34”. The sheet was closed meanwhile.")
    aside.get_by_role("button", name="Drop it").click()
    expect(aside).to_have_count(0)
    page.reload()
    expect(page.get_by_test_id("set-aside")).to_have_count(0)


def test_what_one_typed_is_not_sent_as_anothers(page):
    sign_in(page, "technician 1", SHEET)
    before = blows(page)
    page.request.post("/sign-out")
    type_in(page, "trials.0.blows", "27")
    expect(page.get_by_text("1 waiting for the line")).to_be_visible()
    page.request.post("/sign-in", form={"name": "technician 2"})
    expect(page.get_by_text("You were signed out; what you type waits here.")).to_be_visible()
    page.reload()
    expect(page.get_by_test_id("of-others")).to_contain_text("technician 1")
    assert blows(page) == before
    page.request.post("/sign-in", form={"name": "technician 1"})
    page.reload()
    expect(page.get_by_text("saved, revision")).to_be_visible()
    assert blows(page)[0] == 27
    expect(page.get_by_test_id("of-others")).to_have_count(0)


SLOW_STORE = """
    const open = IDBFactory.prototype.open;
    IDBFactory.prototype.open = function (...named) {
      const asked = open.apply(this, named);
      Object.defineProperty(asked, "onsuccess", {
        set(then) { asked.addEventListener("success", (event) => setTimeout(() => then(event), 4000)); },
      });
      return asked;
    };
"""


def test_saved_is_not_said_before_the_page_has_looked_what_waits(page):
    sign_in(page, "technician 1", SHEET)
    page.request.post("/sign-out")
    type_in(page, "trials.0.blows", "27")
    expect(page.get_by_text("1 waiting for the line")).to_be_visible()
    page.request.post("/sign-in", form={"name": "technician 1"})
    page.add_init_script(SLOW_STORE)
    page.reload()
    expect(page.get_by_text("opening", exact=True)).to_be_visible()
    expect(page.get_by_text("saved, revision")).to_be_visible()
    assert blows(page)[0] == 27


def half_typed(page, path, text):
    """Type into a cell and leave the hand in it; return what stood there."""
    cell = page.locator(f'[data-path="{path}"]')
    stood = cell.input_value()
    cell.focus()
    page.keyboard.type(text)
    return stood


def test_what_is_typed_while_a_page_looks_for_what_was_kept_is_not_taken_for_it(page):
    sign_in(page, "technician 1", SHEET)
    page.add_init_script(SLOW_STORE)
    page.reload()
    stood = half_typed(page, "trials.0.blows", "41")
    expect(page.get_by_text("saved, revision")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator('[data-path="trials.0.blows"]')).to_have_value(stood)
    assert 41 not in blows(page)


def test_what_one_tab_is_typing_is_not_saved_by_another_that_opens(page, context):
    sign_in(page, "technician 1", SHEET)
    stood = half_typed(page, "trials.0.blows", "41")
    second = context.new_page()
    second.goto(SHEET)
    # What it took up would be sent before.
    expect(second.get_by_text("saved, revision")).to_be_visible()
    with second.expect_response("**/save"):
        type_in(second, "trials.2.blows", "19")
    all_saved(second)
    assert (blows(second)[0], blows(second)[2]) == (int(stood), 19)
    page.keyboard.press("Escape")
    expect(page.locator('[data-path="trials.0.blows"]')).to_have_value(stood)
    # A tab that is closed in the middle of a number leaves it to the next one.
    half_typed(page, "trials.1.blows", "42")
    page.close()
    with second.expect_response("**/save") as answer:
        second.reload()
    assert answer.value.ok
    assert blows(second)[1] == 42


def test_two_tabs_of_one_browser_keep_what_both_typed(page, context):
    sign_in(page, "technician 1", SHEET)
    second = context.new_page()
    second.goto(SHEET)
    for tab in (page, second):
        expect(tab.get_by_role("status")).to_contain_text("saved, revision")
    context.set_offline(True)
    type_in(page, "trials.0.blows", "32")
    expect(page.get_by_text("1 waiting for the line")).to_be_visible()
    type_in(second, "trials.1.blows", "25")
    expect(second.get_by_text("1 waiting for the line")).to_be_visible()
    context.set_offline(False)
    # One of them was faster: the other says so with both versions, and nothing is lost.
    for tab in (page, second):
        conflict = tab.get_by_role("heading", name="Changed in between")
        expect(conflict.or_(tab.get_by_text("saved, revision"))).to_be_visible()
        if conflict.is_visible():
            tab.get_by_role("button", name="Save mine on top").click()
        expect(tab.get_by_text("saved, revision")).to_be_visible()
    assert blows(page)[:2] == [32, 25]


def test_run_mode_does_not_say_saved_of_a_reading_that_was_not_taken(page):
    sign_in(page, "technician 1", f"/tests/{FALLING_HEAD_W1_2}")
    page.goto(f"/tests/{FALLING_HEAD_W1_2}/run")
    page.route("**/save", lambda route: route.fulfill(status=422, json={"message": "The sheet was closed meanwhile."}))
    page.locator('[data-level="1"]').fill("200")
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("set-aside")).to_contain_text("“200”")
    expect(page.get_by_text("1 not taken")).to_be_visible()


def test_a_browser_that_cannot_keep_what_waits_says_so_before_anything_is_lost(page):
    page.add_init_script(
        "IDBFactory.prototype.open = () => { throw new DOMException('private', 'InvalidStateError'); }"
    )
    sign_in(page, "technician 1", SHEET)
    expect(page.get_by_role("alert").filter(has_text="This browser cannot keep what waits")).to_be_visible()
    # What is typed is sent all the same.
    type_in(page, "trials.0.blows", "29")
    expect(page.get_by_text("saved, revision")).to_be_visible()
    assert blows(page)[0] == 29


def test_a_word_is_sent_only_by_who_said_it(page):
    sign_in(page, "technician 1", "/board")

    def cut(route):
        route.abort()

    page.route("**/operations/**", cut)
    rows = page.locator("ul.due li").filter(has_text="Look over the path")
    expect(rows.first).to_be_visible()
    before = rows.count()
    rows.first.get_by_role("button", name=re.compile("^Done")).click()
    kept = page.get_by_test_id("word-kept")
    expect(kept).to_contain_text("Look over the path")
    page.unroute("**/operations/**")
    page.request.post("/sign-out")
    sign_in(page, "manager", "/board")
    expect(rows).to_have_count(before)
    expect(kept).to_have_count(0)
    # Said by another of the same line, it is a word of its own.
    page.route("**/operations/**", cut)
    rows.first.get_by_role("button", name=re.compile("^Done")).click()
    expect(kept).to_have_count(1)
    page.unroute("**/operations/**")
    page.request.post("/sign-out")
    with page.expect_request("**/operations/**") as asked:
        sign_in(page, "technician 1", "/board")
    assert asked.value.response().status == 200
    expect(rows).to_have_count(before - 1)
    expect(kept).to_have_count(0)

"""The due board as it hangs on the wall."""

import re
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import by_day_and_night, violations

pytestmark = pytest.mark.browser


def part(page, title):
    return page.get_by_role("region", name=title, exact=True)


def test_a_line_moves_up_by_itself_and_is_one_click_from_its_reading(page, context):
    page.clock.install()
    page.goto("/board")
    # At 4 min where the page is quick to open, at 8 on a machine that takes minutes for it.
    due = part(page, "Now").get_by_role("link", name=re.compile(r"^Read at \d+ min")).first
    reading = re.match(r"Read at \d+ min", due.inner_text())[0]
    expect(part(page, "Late").get_by_text(reading)).to_have_count(0)
    # The server, whose clock counts, is not three minutes further: it is not asked.
    context.set_offline(True)
    page.clock.run_for(3 * 60_000)
    # Its tolerance is over: it is late, and late ones stand first.
    expect(part(page, "Late")).to_contain_text(reading)
    context.set_offline(False)
    page.get_by_role("link", name=reading).first.click()
    page.wait_for_url("**/run")


def test_done_is_said_on_the_board(page):
    page.goto("/board")
    row = part(page, "Now").locator("li").filter(has_text="Look over the path").first
    before = part(page, "Now").locator("li").count()
    row.get_by_role("button", name=re.compile("^Done")).click()
    expect(part(page, "Now").locator("li")).to_have_count(before - 1)


def test_what_was_said_lately_is_put_right_or_taken_back(page):
    # However slow the machine: the ten seconds do not pass.
    page.clock.set_fixed_time(datetime.now())
    page.goto("/board")
    rows, lately = part(page, "Now").locator("li"), page.get_by_test_id("lately")
    before = rows.count()
    rows.filter(has_text="Look over the path").first.get_by_role("button", name=re.compile("^Done")).click()
    expect(lately).to_contain_text("Look over the path")
    expect(rows).to_have_count(before - 1)
    lately.get_by_role("button", name="Undo").click()
    expect(rows).to_have_count(before)
    expect(lately).to_be_hidden()
    rows.filter(has_text="Look over the path").first.get_by_role("button", name=re.compile("^Done")).click()
    with page.expect_response(lambda reply: "/operations/" in reply.url) as sent:
        lately.get_by_label("done at").fill("00:01")
        lately.get_by_label("done at").press("Tab")
    assert sent.value.status == 200
    expect(lately.get_by_label("done at")).to_have_value("00:01")
    assert violations(page) == []


def test_a_time_that_is_cleared_and_a_way_back_tapped_twice_do_no_harm(page):
    taken_back = []
    page.on("request", lambda sent: taken_back.append(sent.url) if sent.method == "DELETE" else None)
    page.clock.set_fixed_time(datetime.now())
    page.goto("/board")
    rows, lately = part(page, "Now").locator("li"), page.get_by_test_id("lately")
    before = rows.count()
    rows.filter(has_text="Look over the path").first.get_by_role("button", name=re.compile("^Done")).click()
    lately.get_by_label("done at").fill("")
    lately.get_by_label("done at").press("Tab")
    lately.get_by_role("button", name="Undo").dblclick()
    expect(rows).to_have_count(before)
    expect(lately).to_be_hidden()
    assert len(taken_back) == 1


def test_the_way_back_is_open_for_ten_seconds(page):
    page.clock.install()
    page.goto("/board")
    row = part(page, "Now").locator("li").filter(has_text="Look over the path").first
    row.get_by_role("button", name=re.compile("^Done")).click()
    expect(page.get_by_test_id("lately")).to_be_visible()
    page.clock.run_for(12_000)
    expect(page.get_by_test_id("lately")).to_be_hidden()


def test_a_wrong_clock_of_the_device_is_said(page):
    page.clock.install(time="2031-01-01T08:00:00Z")
    page.goto("/board")
    expect(page.get_by_test_id("wrong-clock")).to_contain_text("ahead")
    # Times still follow the server: nothing of the demonstration is late by years.
    expect(part(page, "Now")).to_contain_text("Read at 4 min")


def test_the_line_down_is_said_and_times_go_on(page, context):
    page.clock.install()
    page.goto("/board")
    context.set_offline(True)
    page.clock.run_for(21_000)
    expect(page.get_by_text("the line is down")).to_be_visible()
    context.set_offline(False)
    page.clock.run_for(21_000)
    expect(page.get_by_text("the line is down")).to_have_count(0)


def test_axe_finds_nothing_on_the_board(page):
    page.goto("/board")
    assert by_day_and_night(page) == []


def test_a_word_that_is_not_taken_is_told(page):
    page.goto("/board")
    row = part(page, "Now").locator("li").filter(has_text="Look over the path").first
    test = next(
        line["test"]
        for found in page.request.get("/api/board").json()["parts"]
        for line in found["lines"]
        if line["what"].startswith("Look over the path")
    )
    assert page.request.post(f"/api/tests/{test}/move", data={"action": "void", "reason": "moved to another pit"}).ok
    row.get_by_role("button", name=re.compile("^Done")).click()
    expect(page.get_by_test_id("refused")).to_contain_text("This test is void")
    expect(page.get_by_test_id("lately")).to_be_hidden()


def look_over(page):
    """Return the test of a line that is done on a person's word."""
    lines = [line for found in page.request.get("/api/board").json()["parts"] for line in found["lines"]]
    return next(line["test"] for line in lines if line["what"].startswith("Look over the path"))


def done_at(page, test):
    dues = page.request.get(f"/api/tests/{test}/sheet").json()["due"]
    return next(due["doneAt"] for due in dues if due["what"].startswith("Look over the path"))


def test_done_is_kept_without_a_line_and_sent_with_its_time_from_any_page(page, context):
    page.goto("/board")
    test, rows = look_over(page), page.locator("ul.due li").filter(has_text="Look over the path")
    expect(rows.first).to_be_visible()
    before, key = rows.count(), re.compile("^Done")
    context.set_offline(True)
    pressed, shown = datetime.now(UTC) - timedelta(hours=3), page.get_by_test_id("clock")
    now = shown.inner_text()
    page.clock.set_fixed_time(pressed)
    # The board looks at the clock every second.
    expect(shown).not_to_have_text(now)
    rows.first.get_by_role("button", name=key).click()
    kept = page.get_by_test_id("word-kept")
    expect(kept).to_contain_text("Kept here until there is a line: Look over the path")
    expect(rows).to_have_count(before - 1)
    assert violations(page) == []
    # What was pressed by mistake is dropped, and the line stands again.
    kept.get_by_role("button", name="Drop it").click()
    expect(rows).to_have_count(before)
    rows.first.get_by_role("button", name=key).click()
    expect(rows).to_have_count(before - 1)
    assert not done_at(page, test)
    page.close()
    context.set_offline(False)
    other = context.new_page()
    other.goto("/equipment")
    other.goto("/board")
    expect(other.get_by_test_id("word-kept")).to_have_count(0)
    assert abs(datetime.fromisoformat(done_at(other, test)) - pressed) < timedelta(minutes=5)


def test_a_kept_word_that_is_not_taken_stands_with_its_reason(page, context):
    page.goto("/board")
    test, rows = look_over(page), part(page, "Now").locator("li").filter(has_text="Look over the path")
    context.set_offline(True)
    rows.first.get_by_role("button", name=re.compile("^Done")).click()
    kept = page.get_by_test_id("word-kept")
    expect(kept).to_contain_text("Kept here")
    assert page.request.post(f"/api/tests/{test}/move", data={"action": "void", "reason": "moved to another pit"}).ok
    context.set_offline(False)
    expect(kept).to_contain_text("Not taken: Look over the path")
    expect(kept).to_contain_text("This test is void")
    page.reload()
    kept.get_by_role("button", name="Drop it").click()
    expect(kept).to_have_count(0)


def test_on_a_phone_the_door_that_is_open_stands_in_sight(page):
    """The row of doors is moved sideways there, and the last two began behind its edge, the open one too."""
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/presets")
    row = page.get_by_role("navigation", name="Laboratory")
    expect(row.get_by_role("link", name="Presets")).to_be_in_viewport(ratio=1)
    assert page.evaluate("document.scrollingElement.scrollTop") == 0
    page.goto("/equipment")
    expect(row.get_by_role("link", name="Equipment")).to_be_in_viewport(ratio=1)

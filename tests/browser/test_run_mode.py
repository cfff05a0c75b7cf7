"""Run mode: at the cup and at the drying, with wet gloves and a line that drops."""

import re

import pytest
from playwright.sync_api import expect

from tests.laboratory import LIQUID_LIMIT_D2, LIQUID_LIMIT_U2, PLASTIC_LIMIT_U2, WATER_CONTENT_U5

pytestmark = pytest.mark.browser


@pytest.fixture
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 390, "height": 844}, "has_touch": True}


def test_blows_are_counted_closed_and_judged(page):
    page.goto(f"/tests/{LIQUID_LIMIT_D2}/run")
    for _ in range(43):
        page.keyboard.press("Space")
    page.get_by_test_id("blow").tap()
    page.get_by_test_id("blow").tap()
    expect(page.get_by_test_id("count")).to_have_text("45")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("count")).to_have_text("44")
    page.reload()
    expect(page.get_by_test_id("count")).to_have_text("44")
    page.get_by_role("button", name="Groove closed").click()
    expect(page.get_by_label("blows")).to_have_value("44")
    # What nobody measured is not proposed.
    expect(page.get_by_label("closed over")).to_have_value("")
    page.get_by_role("button", name="13 mm, measured").click()
    expect(page.get_by_test_id("next")).to_contain_text("44 blows, too dry: add 1–3 mL of water")
    expect(page.get_by_test_id("trial")).to_contain_text("trial 2")
    for _ in range(30):
        page.keyboard.press("Space")
    page.keyboard.press("Enter")
    page.get_by_label("closed over").fill("14")
    page.get_by_role("button", name="Keep this count").click()
    page.get_by_label("tin", exact=True).fill("T-20")
    page.get_by_label("tin + wet").fill("33,4")
    page.get_by_role("button", name="Keep this tin").click()
    expect(page.locator(".done-list li")).to_have_count(2)
    page.goto(f"/tests/{LIQUID_LIMIT_D2}")
    expect(page.locator('[data-path="trials.1.mass_tin_wet_g"]')).to_have_value("33.40")
    expect(page.locator('[data-path="trials.1.blows"]')).to_have_value("30")


def count(page, blows):
    for _ in range(blows):
        page.keyboard.press("Space")
    page.get_by_role("button", name="Groove closed").click()
    page.get_by_role("button", name="13 mm, measured").click()


def test_counts_of_two_mixes_are_no_pair_and_the_last_two_of_one_must_agree(page):
    sheet = page.request.get(f"/api/tests/{LIQUID_LIMIT_D2}/sheet").json()
    one_point = {
        "base_revision": sheet["revision"],
        "save_key": "one-point-school",
        "settings": {"school": "one-point"},
    }
    page.request.post(f"/api/tests/{LIQUID_LIMIT_D2}/save", data=one_point)
    page.goto(f"/tests/{LIQUID_LIMIT_D2}/run")
    count(page, 31)
    expect(page.get_by_test_id("next")).to_contain_text("31 blows, too dry")
    count(page, 22)
    expect(page.get_by_test_id("next")).to_contain_text("count once more")
    # Water added in between: another mix, so no pair.
    page.get_by_role("button", name="Water added").click()
    expect(page.get_by_test_id("trial")).to_have_text("trial 3")
    count(page, 28)
    count(page, 24)
    # 28 and 24 do not agree: once more, and the last two stand.
    expect(page.get_by_test_id("trial")).to_contain_text("count again after 28, 24")
    count(page, 25)
    page.get_by_label("tin", exact=True).fill("NEW")
    page.get_by_label("tin + wet").fill("31.2")
    page.get_by_role("button", name="Keep this tin").click()
    # A tin that nobody weighed is asked for before soil goes in.
    expect(page.get_by_test_id("doubt")).to_contain_text("Tin NEW is not in the register")
    page.get_by_label("empty tin").fill("12.1")
    page.get_by_role("button", name="Keep this tin").click()
    expect(page.get_by_role("status")).to_have_text("saved")
    trials = page.request.get(f"/tests/{LIQUID_LIMIT_D2}/bench.json").json()["readings"]["trials"]
    assert [(t.get("blows"), t.get("blows_repeat")) for t in trials] == [(31, None), (22, None), (24, 25)]
    assert trials[2]["mass_tin_g"] == 12.1


def test_a_count_kept_without_a_line_is_sent_once_when_it_is_back(page, context):
    page.goto(f"/tests/{LIQUID_LIMIT_D2}/run")
    context.set_offline(True)
    for _ in range(27):
        page.keyboard.press("Space")
    page.get_by_role("button", name="Groove closed").click()
    page.get_by_role("button", name="13 mm, measured").click()
    expect(page.get_by_role("status")).to_contain_text("waiting for the line")
    context.set_offline(False)
    expect(page.get_by_role("status")).to_have_text("saved")
    history = page.request.get(f"/api/tests/{LIQUID_LIMIT_D2}/history").json()
    assert [entry["what"] for entry in history] == ["trials.0.closure_mm = 13, trials.0.blows = 27"]


def test_drying_says_again_and_then_constant(page):
    page.clock.install()
    page.goto(f"/tests/{WATER_CONTENT_U5}/run")
    first = page.locator(".timer").first
    expect(first).to_contain_text("again 1 min")
    mass = float(
        page.request.get(f"/api/tests/{WATER_CONTENT_U5}/sheet").json()["tables"][0]["rows"][0]["cells"][
            "mass_tin_dry_g"
        ]["text"]
    )
    first.get_by_role("button", name="Start drying").click()
    expect(first.locator(".left")).to_have_text(re.compile(r"^0:\d\d$"))
    # Weighed again at once it is one weighing made twice, however often.
    for minutes, lighter, said in ((1, 0.50, "again 1 min"), (0, 0.50, "again 1 min"), (1, 0.50, "Constant, done.")):
        page.clock.run_for(minutes * 60_000)
        first.get_by_role("textbox").fill(f"{mass - lighter:.2f}")
        first.get_by_role("button", name="Weighed").click()
        expect(first.get_by_test_id("say")).to_contain_text(said)
    page.reload()
    expect(page.locator(".timer").first).to_contain_text("done")


def test_a_finger_that_bounces_on_the_last_reading_breaks_nothing(page):
    """Two presses before the page has drawn the first: there is no reading left for the second."""
    page.goto(f"/tests/{PLASTIC_LIMIT_U2}/run")
    done = page.get_by_text("Every reading is taken.")
    twice = "(button) => { button.click(); button.click(); }"
    for _ in range(40):
        if done.is_visible():
            break
        ends = page.locator(".side-ways button", has_text="No more")
        (ends if ends.is_visible() else page.get_by_role("button", name="Skip this one")).evaluate(twice)
        page.wait_for_timeout(20)
    expect(done).to_be_visible()


def test_targets_are_large_enough_for_gloves(page):
    page.goto(f"/tests/{LIQUID_LIMIT_D2}/run")
    for name in ("Undo", "Groove closed"):
        box = page.get_by_role("button", name=name).bounding_box()
        assert min(box["width"], box["height"]) >= 44
    assert page.get_by_test_id("blow").bounding_box()["height"] >= 90
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")

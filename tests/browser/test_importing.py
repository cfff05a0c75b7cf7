"""A frame that writes a file for each specimen: the second is not the first."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations

pytestmark = pytest.mark.browser


def test_the_second_file_is_added_as_the_second_specimen(page, tmp_path):
    page.goto("/samples/2")
    page.get_by_role("button", name="Direct shear").click()
    page.wait_for_url("**/tests/*")
    test = page.url
    file = tmp_path / "frame.csv"
    for number in (1, 2):
        lines = [f"{i / 10};{number * 5 * i:.1f}" for i in range(40)]
        file.write_text("\n".join(["travel [mm];force [N]", *lines]), encoding="utf-8")
        page.goto(f"{test}/import")
        page.set_input_files("#file", file)
        expect(page.get_by_test_id("count")).to_have_text("40")
        save = page.get_by_test_id("save")
        if number == 2:
            # What stands there already is neither added to nor replaced unasked.
            expect(page.get_by_text("This table holds 40 rows. The file")).to_be_visible()
            expect(save).to_be_disabled()
            page.get_by_label("is added below them").check()
            expect(page.get_by_label("no.")).to_have_value("2")
            assert violations(page) == []
        save.click()
        page.wait_for_url(test)
    rows = page.request.get(f"{test}/bench.json").json()["readings"]["record"]
    assert [row["specimen"] for row in rows] == [1] * 40 + [2] * 40
    assert rows[50]["force_n"] == 2 * rows[10]["force_n"]


def test_what_nothing_tells_is_asked_once_and_remembered(page, tmp_path):
    page.goto("/projects/1")
    page.get_by_text("Test in the ground at").first.click()
    page.locator("button[value=falling-head]").first.click()
    page.wait_for_url("**/tests/*")
    test = page.url
    file = tmp_path / "by-the-clock.csv"
    file.write_text("time;head (mm);remark\n10:00;420;a\n10:02;410;b\n10:10;380;c\n", encoding="utf-8")
    page.goto(f"{test}/import")
    page.set_input_files("#file", file)
    expect(page.get_by_text("it begins at 10:00: say whether that is a time of day").first).to_be_visible()
    expect(page.get_by_test_id("dropped")).to_contain_text("remark")
    page.get_by_label("How time is read").select_option("time of day, from the first row")
    expect(page.get_by_text("0 to 10, 3")).to_be_visible()
    assert violations(page) == []
    # The frame's headings say mm; the gauge was read in tenths of it.
    unit = page.get_by_label("Unit of head (mm)")
    unit.fill("0.1 mm")
    unit.press("Tab")
    expect(page.get_by_text("38 to 42, 3")).to_be_visible()
    unit.fill("mm")
    unit.press("Tab")
    expect(page.get_by_text("380 to 420, 3")).to_be_visible()
    page.get_by_test_id("save").click()
    page.wait_for_url(test)
    rows = page.request.get(f"{test}/bench.json").json()["readings"]["heads"]
    assert [(row["elapsed_min"], row["head_mm"]) for row in rows] == [(0, 420), (2, 410), (10, 380)]
    # The next file with these headings is read the same way, without a question.
    page.goto(f"{test}/import")
    page.set_input_files("#file", file)
    expect(page.get_by_text("Columns are matched and read as for the last file with these headings.")).to_be_visible()
    expect(page.get_by_text("0 to 10, 3")).to_be_visible()


def test_a_file_chosen_before_the_page_could_listen_is_read(page, tmp_path):
    page.goto("/tests/52")
    held = []
    page.route("**/alpine-csp.min.js*", lambda route: held.append(route))
    page.goto("/tests/52/import", wait_until="commit")
    file = tmp_path / "frame.csv"
    file.write_text("travel [mm];force [N]\n" + "".join(f"{i / 10};{5 * i}\n" for i in range(40)), encoding="utf-8")
    page.set_input_files("#file", file)
    held[0].continue_()
    expect(page.get_by_label("Column force [N]")).to_have_value("force_n")

"""A frame that writes a file for each specimen: the second is not the first."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import violations
from tests.browser.typing import new_test

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


def test_files_chosen_together_are_seen_and_saved_one_by_one(page, tmp_path):
    page.goto("/samples/2")
    page.get_by_role("button", name="Direct shear").click()
    page.wait_for_url("**/tests/*")
    test, files = page.url, []
    for number in (10, 2, 1):  # by number, not by letter: 10 comes last
        file = tmp_path / f"box {number}.csv"
        lines = [f"{i / 10};{number * i:.1f}" for i in range(30)]
        file.write_text("\n".join(["travel [mm];force [N]", *lines]), encoding="utf-8")
        files.append(file)
    spoilt = tmp_path / "box 3.csv"
    spoilt.write_text("nothing to read here", encoding="utf-8")
    page.goto(f"{test}/import")
    page.set_input_files("#file", [*files, spoilt])
    save = page.get_by_test_id("save")
    expect(save).to_have_text("Save these rows and look at box 2.csv")
    expect(page.get_by_text("3 more to look at.")).to_be_visible()
    save.click()
    expect(save).to_have_text("Save these rows and look at box 3.csv")
    expect(page.get_by_label("is added below them")).to_be_checked()
    expect(page.get_by_label("no.")).to_have_value("2")
    assert violations(page) == []
    save.click()
    expect(page.get_by_text("1 more to look at.")).to_be_visible()
    page.get_by_role("button", name="Pass over this one").click()
    expect(save).to_have_text("Save these rows")
    save.click()
    page.wait_for_url(test)
    rows = page.request.get(f"{test}/bench.json").json()["readings"]["record"]
    assert [row["specimen"] for row in rows] == [1] * 30 + [2] * 30 + [3] * 30
    assert [rows[k]["force_n"] for k in (29, 59, 89)] == [29, 58, 290]


def test_two_blocks_of_one_file_fill_two_tables(page, tmp_path):
    test = f"/tests/{new_test(page, 'cbr-lab', sample=3)}"
    file = tmp_path / "both ends.csv"
    head = "penetration top [mm];top [div];penetration bottom [mm];bottom [div]"
    lines = [f"{i / 2};{10 * i};{i / 2};{9 * i}" for i in range(16)]
    file.write_text("\n".join([head, *lines]), encoding="utf-8")
    page.goto(f"{test}/import")
    page.set_input_files("#file", file)
    for k, (table, columns) in enumerate(
        (("top", ("penetration top [mm]", "top [div]")), ("bottom", ("penetration bottom [mm]", "bottom [div]")))
    ):
        page.get_by_label("into").select_option(table)
        for heading in head.split(";"):
            if heading not in columns:
                page.get_by_label(f"Column {heading}", exact=True).select_option("")
        page.get_by_label(f"Column {columns[0]}", exact=True).select_option("penetration_mm")
        page.get_by_label(f"Column {columns[1]}", exact=True).select_option("ring_div")
        if page.get_by_label("replaces them").is_visible():
            page.get_by_label("replaces them").check()
        expect(page.get_by_test_id("count")).to_have_text("16")
        page.get_by_test_id("save" if k else "save-and-stay").click()
    page.wait_for_url(f"**{test}")
    readings = page.request.get(f"{test}/bench.json").json()["readings"]
    assert [row["ring_div"] for row in readings["top"]][-1] == 150
    assert [row["ring_div"] for row in readings["bottom"]][-1] == 135


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
    while not held:  # the script is asked for in its own time
        page.wait_for_timeout(50)
    held[0].continue_()
    expect(page.get_by_label("Column force [N]")).to_have_value("force_n")

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

"""Every school of every method on its worksheet: the columns it asks for, its result, and no error in the page."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests import THOROUGH
from tests.browser.typing import filled, new_test_in_ground, stored
from tests.contract.test_schools import BESIDE, schools, soil_for
from vadum.soil.registry import METHODS

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not THOROUGH, reason="some hundred and fifty sheets: make thorough"),
]


def planned(page, method):
    """Plan a test of a method where it belongs and return its number."""
    if method.applies_to == "location":
        return new_test_in_ground(page, method.code)
    if method.applies_to == "equipment":
        cup = re.search(r"/equipment/(\d+)/inspections", page.request.get("/equipment").text())[1]
        answer = page.request.post(f"/equipment/{cup}/inspections")
    else:
        answer = page.request.post("/samples/4/tests", form={"method": method.code, "anyway": "1"})
    return int(answer.url.rsplit("/", 1)[1])


def cells_of(readings):
    """Return readings as cells by path."""
    cells = {}
    for name, value in readings.model_dump(mode="json", exclude_none=True).items():
        if isinstance(value, list):
            cells |= {f"{name}.{i}.{key}": str(v) for i, row in enumerate(value) for key, v in row.items()}
        else:
            cells[name] = str(value)
    return cells


@pytest.mark.parametrize("code", METHODS)
def test_every_school_is_driven_in_a_browser(page, code):
    method, wrong = METHODS[code], []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    test = planned(page, method)
    # A method without a choice has one school.
    chosen_ones = [
        (name, {name: option} | BESIDE.get((code, name, option), {})) for of, name, option in schools() if of == code
    ] or [("", {})]
    for name, option in chosen_ones:
        settings = method.Settings.model_validate(option)
        soil, _ = soil_for(method, name, option.get(name), 3)
        cells = cells_of(method.virtual(soil, settings, np.random.default_rng(5)))
        # What an earlier school left on the sheet is cleared.
        cells = dict.fromkeys(filled(stored(page, test)), "") | cells
        sheet = page.request.get(f"/api/tests/{test}/sheet").json()
        every = settings.model_dump(mode="json")
        chosen = method.Settings().model_dump(mode="json", exclude_none=True) | {key: every[key] for key in option}
        change = {"base_revision": sheet["revision"], "save_key": f"school-{sheet['revision']:06d}", "cells": cells}
        answer = page.request.post(f"/api/tests/{test}/save", data=change | {"settings": chosen})
        assert answer.ok, (name, option, answer.text()[:300])
        page.goto(f"/tests/{test}")
        expect(page.get_by_test_id("next")).not_to_be_empty()
        view = answer.json()
        assert view["verdict"]["complete"], (name, option, view["verdict"]["next"])
        # A column that its heading tells whole has no more words.
        drawn = [column["key"] for table in view["tables"] for column in table["columns"] if column["about"]]
        expect(page.locator("table.grid thead th[title]")).to_have_count(len(drawn))
    assert wrong == []

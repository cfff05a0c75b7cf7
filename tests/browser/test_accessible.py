"""Every kind of page and sheet as axe sees it: all rules by day, colours by night, and no script that fails."""

import pytest

from tests import THOROUGH
from tests.browser.conftest import by_day_and_night, violations
from tests.laboratory import (
    CLASSIFICATION_B3,
    COMPACTION_G1,
    CUP_INSPECTION_CUP_1,
    EXCAVATION_DENSITY_G1,
    HYDROMETER_B3,
    LIQUID_LIMIT_U2,
    PARTICLE_DENSITY_B3,
    PLASTIC_LIMIT_B1,
    RING_DENSITY_U2,
    SIEVE_G2,
    WATER_CONTENT_U5,
)

pytestmark = pytest.mark.browser
PLACES = [
    "/",
    "/projects/1",
    "/projects/2",
    "/projects/1/densities",
    "/projects/1/infiltration",
    "/projects/1/positions",
    "/samples/2",
    "/samples/3",
    "/samples/9?with=3",
    "/equipment",
    "/equipment/1",
    "/locations/1",
    "/instruments",
    "/practice",
    "/tests/999",
    f"/tests/{SIEVE_G2}/import",
    f"/tests/{LIQUID_LIMIT_U2}/sheet",
    f"/tests/{LIQUID_LIMIT_U2}/run",
    f"/tests/{WATER_CONTENT_U5}/run",
    "/tests/59/run",
]
INDEX = [
    f"/tests/{number}"
    for number in (
        LIQUID_LIMIT_U2,
        PLASTIC_LIMIT_B1,
        CUP_INSPECTION_CUP_1,
        WATER_CONTENT_U5,
        HYDROMETER_B3,
        CLASSIFICATION_B3,
        RING_DENSITY_U2,
        COMPACTION_G1,
        EXCAVATION_DENSITY_G1,
        PARTICLE_DENSITY_B3,
    )
]
# Bearing, plates, vane, compression, cell, box, cylinders of water, retention, lime.
GROUND = [f"/tests/{number}" for number in (42, 43, 44, 45, 49, 50, 51, 52, 53, 54, 56, 57)]


@pytest.mark.parametrize("pages", [PLACES, INDEX, GROUND], ids=["places", "index", "ground"])
def test_axe_finds_nothing(page, pages):
    errors, found = [], {}
    page.on("pageerror", lambda error: errors.append(str(error)))
    # Colours are the same variables on every page, sheets are made of the same parts: some are looked at.
    step = 1 if THOROUGH or pages is PLACES else 4
    for k, path in enumerate(pages[::step]):
        page.goto(path)
        page.wait_for_timeout(250)
        if bad := (by_day_and_night if THOROUGH or k % 2 else violations)(page):
            found[path] = bad
    assert found == {}
    assert errors == []


def test_axe_finds_nothing_in_a_panel(page):
    page.goto(f"/tests/{LIQUID_LIMIT_U2}")
    for panel in ("School", "Explain", "Cautions", "Equipment", "History", "To check"):
        page.get_by_role("button", name=panel, exact=True).click()
        page.wait_for_timeout(200)
        assert by_day_and_night(page) == [], panel

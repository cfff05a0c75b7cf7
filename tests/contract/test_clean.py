"""Sound readings draw no stop and no warning, whatever the soil."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.contract.places import columns
from vadum.soil.registry import METHODS

EVERY = pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)


@EVERY
def test_a_clean_test_is_left_in_peace(method):
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        settings = method.Settings()
        readings = method.virtual(method.a_soil(rng), settings, rng)
        result = method.reduce(readings, settings, method.Context())
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed
        assert result.reportable, seed


@EVERY
def test_every_number_says_what_its_absence_means(method):
    silent = [one.name for one in columns(method.Readings) if "unit" in one.extra and not one.extra.get("absent")]
    assert silent == []


@EVERY
def test_what_may_be_blank_beside_or_instead_is_of_its_own_row(method):
    rows = {}
    for one in columns(method.Readings):
        rows.setdefault(one.table, set()).add(one.name)
    for one in columns(method.Readings):
        for other in (one.extra.get("beside"), one.extra.get("instead")):
            # A tin may stand in a table that has no other way to the water content.
            assert other in {None, "water_content_percent"} | rows[one.table], (one.table, one.name)
        assert one.extra.get("usual") is None or one.extra["usual"][0] < one.extra["usual"][1]

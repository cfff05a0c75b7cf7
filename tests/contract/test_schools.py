"""Every school of every method: on clean virtual soils it is complete and has nothing to find fault with."""

import numpy as np
import pytest

from tests import SOILS, THOROUGH
from vadum.soil.contract.cells import choices
from vadum.soil.contract.places import columns
from vadum.soil.registry import METHODS

COUNT = SOILS if THOROUGH else max(3, SOILS // 10)
# Schools that a soil drawn at random is not clean for, and how it is chosen or why it is left out.
NOT_CLEAN = {
    ("water-content", "organic_or_gypsum", True): "such soil is not dried at 110 degrees",
    ("well-permeameter", "soil", "coarse"): "ground drawn at random may be far too tight for sand, and it is said",
    ("well-permeameter", "soil", "compacted-clay"): "ground drawn at random is loam, and two heads say so",
    ("plate-static", "plate", "762"): "a soil drawn for a small plate may be stiffer than a large one ever finds",
    ("plate-incremental", "increments", "doubling"): "four or five points of a doubled loading make two lines by luck",
    ("dynamic-cone", "relation", "astm-d6951-cl"): "it holds for lean clay below 10 % alone, and that is said",
    ("plate-incremental", "construction", "width-10"): "loading ends at the yield, and a tenth of the width is luck",
    ("triaxial", "criterion", "strain-15"): "a soft clay past its peak has an unusual strength, and it is said",
}

# What is chosen beside a school that stands by another choice alone.
BESIDE = {("plate-static", "wanted", "ks"): {"plate": "762"}}


def schools():
    for code, method in METHODS.items():
        for name, info in method.Settings.model_fields.items():
            options = [*choices(method.Settings, name)] or ([True] if info.annotation is bool else [])
            yield from ((code, name, option) for option in options if (code, name, option) not in NOT_CLEAN)


def soil_for(method, name, option, seed):
    """Return a soil that the school is meant for."""
    rng = np.random.default_rng(seed)
    soil = method.a_soil(rng)
    # Nobody sieves silt dry: of a soil with fines the school is told to wash, which is another test.
    while (name, option) == ("washing", "dry") and soil.finer(0.075) > 10:
        soil = method.a_soil(rng)
    # ks is read where the large plate has settled 1.25 mm: stiff ground never gets there.
    while (name, option) == ("wanted", "ks") and soil.first_mm(200) < 1.5:
        soil = method.a_soil(rng)
    return soil, rng


@pytest.mark.filterwarnings("ignore::RuntimeWarning")
@pytest.mark.parametrize(("code", "name", "option"), list(schools()))
def test_a_school_is_quiet_on_clean_soils(code, name, option):
    method = METHODS[code]
    settings = method.Settings.model_validate({name: option} | BESIDE.get((code, name, option), {}))
    for seed in range(COUNT):
        soil, rng = soil_for(method, name, option, seed)
        result = method.reduce(method.virtual(soil, settings, rng), settings, method.Context())
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed
        assert result.complete, seed
        # Of several standards a sheet cites what was followed, never all of them.
        assert result.follows or len(method.basis) == 1 or code == "classification", seed
        assert set(result.follows) != set(method.basis) or len(method.basis) == 1, seed
        assert result.reportable, seed


def left_over(method, settings, readings, other):
    """Return readings with what a school before, that read other cells, left in those that this one does not show."""
    mixed = {key: [dict(row) for row in held] if isinstance(held, list) else held for key, held in readings.items()}
    for one in columns(method.Readings):
        if one.shown_in(settings):
            continue
        if not one.table:
            mixed |= {one.name: other[one.name]} if one.name in other else {}
            continue
        rows = mixed.setdefault(one.table, [])
        for i, row in enumerate(other.get(one.table) or []):
            if i == len(rows) and not any(c.table == one.table and c.shown_in(settings) for c in COLUMNS[method.code]):
                rows.append({})
            # Half of what a row of a hidden table needs: nobody could ever fill in the rest.
            if i < len(rows) and one.name in row and (i + len(one.name)) % 2:
                rows[i].setdefault(one.name, row[one.name])
    return mixed


COLUMNS = {code: columns(method.Readings) for code, method in METHODS.items()}
# Loads in the column of another way to read them are asked about where the way in use has none.
MEANT = {"load-elsewhere"}


@pytest.mark.filterwarnings("ignore::RuntimeWarning")
@pytest.mark.parametrize(("code", "name", "option"), list(schools()))
def test_what_the_school_does_not_show_changes_nothing(code, name, option):
    """A test was begun by one school, then another was chosen."""
    method = METHODS[code]
    chosen = method.Settings.model_validate({name: option} | BESIDE.get((code, name, option), {}))
    for before, now in ((chosen, method.Settings()), (method.Settings(), chosen)):
        soil, _ = soil_for(method, name, option, 1)
        other, readings = (
            method.virtual(soil, settings, np.random.default_rng(seed)).model_dump(mode="json", exclude_none=True)
            for seed, settings in ((5, before), (6, now))
        )
        alone = method.reduce_raw(readings, now)
        mixed = method.reduce_raw(left_over(method, now, readings, other), now)
        assert set(mixed.codes()) - MEANT == set(alone.codes())
        assert [(p.key, p.text) for p in mixed.parameters] == [(p.key, p.text) for p in alone.parameters]
        assert mixed.complete == alone.complete

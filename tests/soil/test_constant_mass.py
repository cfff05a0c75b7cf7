"""Constant mass: shown by weighing again, or said to be assumed; never taken from one weighing made twice."""

import numpy as np
import pytest

from vadum.soil.registry import METHODS

WATER = METHODS["water-content"]
# Methods whose tins may be dried until constant, by the table their tins stand in.
TABLES = {
    "liquid-limit": "trials",
    "plastic-limit": "threads",
    "ring-density": "tins",
    "excavation-density": "tins",
    "compaction": "points",
}


def readings_of(code, seed=3):
    method = METHODS[code]
    rng = np.random.default_rng(seed)
    found = method.virtual(method.a_soil(rng), method.Settings(), rng)
    return method, found.model_dump(mode="json", exclude_none=True)


def again(rows, after=60, lost=0.0):
    return [
        {"tin": row["tin"], "after_min": after, "mass_tin_dry_g": round(row["mass_tin_dry_g"] - lost, 3)}
        for row in rows
        if "mass_tin_dry_g" in row
    ]


def headline(method, result):
    return next(p.value for p in result.parameters if p.key == method.headline[0])


@pytest.mark.parametrize("code", TABLES)
@pytest.mark.parametrize("how", ["oven", "microwave"])
def test_tins_may_be_dried_until_constant(code, how):
    method, readings = readings_of(code)
    assumed = method.reduce_raw(readings)
    assert "constant mass assumed" in assumed.school
    once = method.reduce_raw(readings, {"tins_dried": how})
    assert "not-constant" in once.codes()
    assert not once.complete
    least = 60 if how == "oven" else 1
    readings["reweighings"] = again(readings[TABLES[code]], after=least)
    shown = method.reduce_raw(readings, {"tins_dried": how})
    assert shown.findings == assumed.findings
    assert shown.complete
    assert "until constant" in shown.school
    assert headline(method, shown) == headline(method, assumed)


@pytest.mark.parametrize("code", TABLES)
def test_weighed_again_at_once_is_one_weighing(code):
    method, readings = readings_of(code)
    readings["reweighings"] = again(readings[TABLES[code]], after=0)
    result = method.reduce_raw(readings, {"tins_dried": "oven"})
    assert "not-constant" in result.codes()
    assert not result.reportable


@pytest.mark.parametrize("code", TABLES)
def test_the_last_weighing_is_the_dry_mass(code):
    method, readings = readings_of(code)
    first = method.reduce_raw(readings)
    readings["reweighings"] = again(readings[TABLES[code]], lost=0.3)
    losing = method.reduce_raw(readings, {"tins_dried": "oven"})
    assert "not-constant" in losing.codes()
    assert "Back into the oven" in losing.next_action
    assert headline(method, losing) != headline(method, first)
    readings["reweighings"] += again(readings[TABLES[code]], lost=0.3)
    assert "not-constant" not in method.reduce_raw(readings, {"tins_dried": "oven"}).codes()


def test_one_weighing_shows_nothing_without_its_hours():
    row = {"tin": "A", "mass_tin_g": 20.0, "mass_tin_wet_g": 81.0, "mass_tin_dry_g": 70.0}
    bare = WATER.reduce_raw({"determinations": [row]})
    assert bare.codes() == ["not-constant"]
    assert "hours in the oven are not written" in bare.findings[0].message
    assert WATER.reduce_raw({"determinations": [row | {"drying_h": 17}]}).findings == []
    twice = {"determinations": [row], "reweighings": [{"tin": "A", "after_min": 0, "mass_tin_dry_g": 70.0}]}
    assert "two weighings are at least 60 min" in WATER.reduce_raw(twice).findings[0].message


def test_equal_masses_are_asked_about():
    row = {"tin": "A", "mass_tin_g": 20.0, "mass_tin_wet_g": 70.0, "mass_tin_dry_g": 70.0, "drying_h": 17}
    assert "no-water" in WATER.reduce_raw({"determinations": [row]}).codes()


@pytest.mark.parametrize(("drying", "least"), [("microwave", 100), ("hot-plate", 200)])
def test_fast_drying_takes_more_soil(drying, least):
    def reduced(wet):
        row = {"tin": "A", "mass_tin_g": 20.0, "mass_tin_wet_g": 20 + wet, "mass_tin_dry_g": 20 + wet / 1.2}
        twice = [{"tin": "A", "after_min": 5, "mass_tin_dry_g": 20 + wet / 1.2}] * 2
        return WATER.reduce_raw({"determinations": [row], "reweighings": twice}, {"drying": drying}).codes()

    assert reduced(least - 1) == ["specimen-small"]
    assert reduced(least + 1) == []

"""The triaxial test beyond its envelope: areas by three schools, strain limit, typed times, secants, preparation."""

from math import asin, degrees, pi

import numpy as np
import pytest

from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import METHODS

TX = METHODS["triaxial"]
V0 = pi / 4 * 50**2 * 100 / 1000


def value(result: Reduction, key: str) -> float:
    return next(p.value for p in result.parameters if p.key == key)


def virtual(seed=3, mistakes=(), **settings):
    chosen = TX.Settings.model_validate(settings)
    rng = np.random.default_rng(seed)
    made = TX.virtual(TX.a_soil(rng), chosen, rng, frozenset(mistakes))
    return made.model_dump(mode="json", exclude_none=True)


def areas(readings, **settings):
    cells = TX.reduce_raw(readings, settings).computed
    return [cells.get(f"after.{k}.area_mm2") for k in range(3)]


def one(out=5.0, short=0.8, **after):
    return {
        "specimens": [
            {
                "diameter_mm": 50,
                "length_mm": 100,
                "cell_kpa": 400,
                "back_kpa": 300,
                "out_cm3": out,
                "shortened_mm": short,
            }
        ],
        "after": [after],
        "particle_density": 2.70,
    }


# The area when shearing begins


def test_areas_of_three_schools_by_hand():
    """V0 196.350 cm3, 5 cm3 out, 0.8 mm shorter."""
    assert areas(one())[0] == pytest.approx((V0 - 5) * 1000 / 99.2, abs=0.01)
    assert areas(one(), area="alike")[0] == pytest.approx(pi / 4 * 2500 * (1 - 2 / 3 * 5 / V0), abs=0.01)
    # 306 g dry at 2.70 and 77.9 g of water, both at 20 degrees (0.99821 g/cm3), over 99.2 mm.
    final = one(mass_dry_g=306, mass_wet_g=383.9)
    by_hand = (306 / (2.70 * 0.99821) + 77.9 / 0.99821) * 1000 / 99.2
    assert areas(final, area="final")[0] == pytest.approx(by_hand, abs=0.05)


def test_what_is_small_makes_the_schools_agree():
    """The three are one formula to first order in the strains: a second way to each of them."""
    measured = areas(one(out=0.3, short=100 * 0.3 / V0 / 3))[0]
    alike = areas(one(out=0.3, short=100 * 0.3 / V0 / 3), area="alike")[0]
    assert alike == pytest.approx(measured, rel=2e-6)


def test_height_lost_while_saturating_counts_three_times_in_volume():
    """1 mm of 100 is 3 % of the volume: (V0 0.97 - 5) over 98.2 mm."""
    assert areas(one(saturating_mm=1.0))[0] == pytest.approx((0.97 * V0 - 5) * 1000 / 98.2, abs=0.01)


def test_a_virtual_specimen_has_one_area_by_all_rules():
    """What is full of water and shrinks alike has the same size by masses, by water out and height, by water alone."""
    readings = virtual(area="final")
    by_masses, measured, alike = (areas(readings, area=rule) for rule in ("final", "measured", "alike"))
    assert by_masses == pytest.approx(measured, rel=0.001)
    assert alike == pytest.approx(measured, rel=0.001)


def test_final_masses_missing_or_exchanged_are_said():
    found = TX.reduce_raw(one(mass_dry_g=306), {"area": "final"})
    finding = next(f for f in found.findings if f.code == "final-mass-missing")
    assert finding.cells == ["after.0.mass_wet_g"]
    assert "dry-heavier" in TX.reduce_raw(one(mass_dry_g=384, mass_wet_g=306), {"area": "final"}).codes()
    soaked = TX.reduce_raw(one(mass_dry_g=306, mass_wet_g=399), {"area": "final"})
    assert "areas-differ" in soaked.codes()
    assert "areas-differ" not in TX.reduce_raw(one(mass_dry_g=306, mass_wet_g=383.9), {"area": "final"}).codes()


def test_state_of_a_specimen_by_hand():
    """306 g in 196.350 cm3: 1.5584 g/cm3, e = 2.70 x 0.99821 / 1.5584 - 1."""
    cells = TX.reduce_raw(one(mass_dry_g=306)).computed
    assert cells["after.0.dry_density"] == pytest.approx(1.55845, abs=1e-4)
    assert cells["after.0.void_ratio"] == pytest.approx(0.72942, abs=1e-4)


# The strain limit


def test_the_stress_at_the_limit_is_read_between_readings():
    """At 10.1 % no line was read: by hand between 10.0 and 10.25 % of the length when shearing begins."""
    readings = virtual(criterion="strain-15")
    settings = {"criterion": "strain-15", "limit_percent": 10.1}
    result = TX.reduce_raw(readings, settings)
    cells = TX.reduce_raw(readings, {}).computed
    length = cells["after.0.length_mm"]
    rows = [(k, r) for k, r in enumerate(readings["shearing"]) if r["specimen"] == 1]
    before = max((r for r in rows if r[1]["shortening_mm"] <= 0.101 * length), key=lambda r: r[1]["shortening_mm"])
    after = rows[rows.index(before) + 1]
    share = (0.101 * length - before[1]["shortening_mm"]) / (after[1]["shortening_mm"] - before[1]["shortening_mm"])
    q = [cells[f"shearing.{k}.deviator_kpa"] for k, _ in (before, after)]
    assert value(result, "deviator_1") == pytest.approx(q[0] + share * (q[1] - q[0]), abs=0.02)
    assert not [cell for cell in result.computed if cell.startswith("shearing.-")]


def test_nothing_beyond_the_limit_is_a_failure():
    """A curve that rises to the end fails at the limit, whichever it is, and is not asked to go on."""
    rows = [{"specimen": 1, "shortening_mm": e, "force_n": 40.0 * e} for e in range(0, 21)]
    readings = one() | {"shearing": rows, "membrane_mm": 0.3}
    strengths = []
    for limit in (8, 12):
        result = TX.reduce_raw(readings, {"limit_percent": limit})
        strengths.append(value(result, "deviator_1"))
        assert "peak-not-passed" not in result.codes()
    assert strengths[0] < strengths[1]
    unfinished = TX.reduce_raw(readings, {"limit_percent": 25})
    assert any("25 %" in f.action for f in unfinished.findings if f.code == "peak-not-passed")


# Times of consolidation


def test_typed_times_lead_over_the_construction():
    readings = virtual()
    built = TX.reduce_raw(readings, {})
    t100 = value(built, "t100_1")
    typed = readings | {"times": [{"t100_min": round(1.2 * t100, 1)}]}
    result = TX.reduce_raw(typed, {})
    assert value(result, "t100_1") == pytest.approx(1.2 * t100, abs=0.06)
    # cv falls as t100 grows.
    assert value(result, "cv_1") == pytest.approx(value(built, "cv_1") / 1.2, rel=0.01)
    assert next(p for p in result.parameters if p.key == "t100_1").basis == "read off by hand"
    assert value(result, "t100_2") == value(built, "t100_2")


def test_typed_times_alone_say_the_rate():
    """Two specimens, t100 100 and 200 min with side drains and one end: 1.8 x 200 = 360 min for 8 % of 100 mm."""
    size = {"diameter_mm": 50, "length_mm": 100, "cell_kpa": 400, "back_kpa": 300}
    readings = {
        "specimens": [size, size],
        "saturation": [
            {"specimen": 1, "cell_kpa": 250, "pore_kpa": 240},
            {"specimen": 1, "cell_kpa": 310, "pore_kpa": 299},
        ],
        "times": [{"t100_min": 100}, {"t100_min": 200}],
    }
    assert "t100 of 200 min: shear at 0.022 mm/min" in TX.reduce_raw(readings, {}).next_step


@pytest.mark.parametrize("factor", [60, 1 / 60, 2.5])
def test_a_typed_time_that_the_curve_contradicts_is_asked_about(factor):
    readings = virtual()
    t100 = value(TX.reduce_raw(readings, {}), "t100_2")
    readings["times"] = [{}, {"t100_min": t100 * factor}]
    finding = next(f for f in TX.reduce_raw(readings, {}).findings if f.code == "time-differs")
    assert finding.cells == ["times.1.t100_min"]


# Secant friction


def test_each_circle_has_its_secant():
    result = TX.reduce_raw(virtual(), {})
    step = next(s for s in result.derivation if s.about.startswith("specimen 2"))
    s, t = map(float, step.result.split(", "))
    assert value(result, "secant_2") == pytest.approx(degrees(asin(t / s)), abs=0.05)
    # A line with c′ above nothing lies below every secant.
    assert min(value(result, f"secant_{k}") for k in (1, 2, 3)) > value(result, "friction_effective") - 0.2


def test_one_specimen_with_a_reason_is_a_secant():
    readings = virtual()
    for table in ("specimens", "calipers", "tins", "saturation", "consolidation", "shearing", "after"):
        rows = readings[table]
        readings[table] = rows[:1] if "specimen" not in rows[0] else [r for r in rows if r["specimen"] == 1]
    assert not TX.reduce_raw(readings, {}).complete
    result = TX.reduce_raw(readings, {"two_because": "one tube only"})
    assert result.complete
    assert "one-specimen" in result.codes()
    assert result.parameter("friction_effective") is None
    assert value(result, "secant_1") > 15


# Preparation


def test_the_membrane_soaks_from_the_day_before():
    """16 h before the specimen is mounted, the stones in the last 40 min; nothing is done until it is ticked."""
    readings = TX.Readings.model_validate({"specimens": [{"diameter_mm": 50, "length_mm": 100, "mass_g": 390}]})
    operations = {o.key: o for o in TX.timetable(readings, TX.Settings())}
    assert operations["membrane-soak"].due_min == 0
    assert operations["membrane-soak"].holds_min == 960
    assert operations["stones-boil"].due_min == 920
    assert operations["trim"].due_min == 960
    assert not any(operations[key].done for key in ("membrane-soak", "stones-boil", "stones-cool", "stones-de-air"))
    assert operations["trim"].done
    dry = {o.key: o for o in TX.timetable(readings, TX.Settings(soak_h=0))}
    assert "membrane-soak" not in dry
    assert dry["trim"].due_min == 40


def test_trimmings_are_asked_for():
    readings = virtual()
    readings.pop("tins")
    finding = next(f for f in TX.reduce_raw(readings, {}).findings if f.code == "no-trimmings")
    assert "tin of trimmings" in finding.action


def test_calipers_come_before_the_balance():
    tables = [name for name in TX.Readings.model_fields if name in ("calipers", "specimens", "tins")]
    assert tables == ["calipers", "specimens", "tins"]


def test_ends_as_mounted_lead_over_the_rule():
    """BS 1377-8, table 1: lambda 80 with side drains and one end, 100 with both; the factor 1.8 and 2.3 of t100."""
    readings = virtual()
    one, both = TX.reduce_raw(readings, {}), TX.reduce_raw(readings | {"ends": "both"}, {})
    assert value(both, "cv_1") == pytest.approx(value(one, "cv_1") * 80 / 100, rel=1e-6)
    assert value(TX.reduce_raw(readings, {"ends": "both"}), "cv_1") == pytest.approx(value(both, "cv_1"))

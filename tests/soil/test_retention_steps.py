"""Retention step by step: devices that change, steps planned, ratings, tares and cans, what is extrapolated."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests import SOILS
from vadum.soil.methods.retention.advice import fit_findings
from vadum.soil.physics.retention import Curve, Device, fit_retention, suction_kpa, van_genuchten
from vadum.soil.registry import METHODS
from vadum.soil.virtual.holding_soil import a_holding_soil

CELL = METHODS["retention"]


def value(result, key):
    return result.parameter(key).value


def virtual(seed=1, **settings):
    chosen = CELL.Settings.model_validate(settings)
    rng = np.random.default_rng(seed)
    soil = CELL.a_soil(rng)
    return soil, CELL.virtual(soil, chosen, rng).model_dump(mode="json", exclude_none=True)


# Devices


@pytest.mark.parametrize(
    ("device", "read", "kpa"),
    [
        # ISO 80000-4: conventional column of water 9.80665 Pa/mm, of mercury 133.322 Pa/mm.
        (Device.WATER, 102.0, 10.003),
        (Device.MERCURY, 24.8, 33.064),
        (Device.GAUGE, 0.33, 33.0),
        (Device.KILOPASCAL, 33.0, 33.0),
    ],
)
def test_a_suction_by_each_device(device, read, kpa):
    assert suction_kpa(read, device) == pytest.approx(kpa, abs=0.001)


def by_hand(row):
    """Return a row's suction on another device: water to 6 kPa, mercury to 33 kPa, then a gauge in kPa."""
    kpa = 100 * row["suction"]
    device, unit = (
        ("water-column", 0.0980665) if kpa <= 6 else ("mercury-column", 1.3332239) if kpa <= 33 else ("kilopascal", 1)
    )
    return row | {"suction": round(kpa / unit, 3), "device": device}


def test_a_device_changed_in_mid_test_is_one_curve():
    """Read on three devices the same cell says the same: to the last digit that the devices are read to."""
    for seed in range(SOILS // 5 + 3):
        soil, plain = virtual(seed)
        one = CELL.reduce_raw(plain)
        three = CELL.reduce_raw(plain | {"weighings": [by_hand(row) for row in plain["weighings"]]})
        assert [f.message for f in three.findings] == [], seed
        assert three.reportable
        for key in ("theta_s", "field_capacity", "available"):
            assert value(three, key) == pytest.approx(value(one, key), abs=0.05), (seed, key)
        assert value(three, "field_capacity") == pytest.approx(100 * soil.theta(33), abs=0.4)
        assert three.school.startswith("cm water then cm mercury then kPa")


def test_a_blank_device_is_that_of_the_row_above():
    _, plain = virtual()
    rows = [by_hand(row) for row in plain["weighings"]]
    sparse, last = [], None
    for row in rows:
        sparse.append(row if row["device"] != last else {k: v for k, v in row.items() if k != "device"})
        last = row["device"]
    full, blank = (CELL.reduce_raw(plain | {"weighings": r}) for r in (rows, sparse))
    assert value(full, "field_capacity") == value(blank, "field_capacity")
    assert blank.computed["weighings.3.kpa"] == full.computed["weighings.3.kpa"]


def test_a_suction_read_again_on_the_next_device_is_the_same_step():
    """At 10 kPa the column of 102 cm is changed for a gauge that shows 0.10 bar: one step, one point."""
    rows = [
        {"suction": 0, "device": "water-column", "day": 0, "mass_g": 2400},
        {"suction": 102, "day": 1, "mass_g": 2390},
        {"suction": 0.10, "device": "gauge", "day": 2, "mass_g": 2389.95},
    ]
    result = CELL.reduce_raw(
        {"volume_cm3": 198.5, "mass_apparatus_g": 1834.62, "mass_ring_g": 112.37, "weighings": rows}
    )
    assert len(result.curve) == 0  # no dry mass yet
    assert result.next_action == "Next step: 0.2 bar (20 kPa)."
    assert result.computed["weighings.2.loss"] == pytest.approx(0.05)


def test_a_suction_that_moves_a_hair_between_two_weighings_is_the_same_step():
    """The column stands at 102 and a day later at 101 cm: one step that came to rest, at what stood then."""
    rows = [
        {"suction": 0, "device": "water-column", "day": 0, "mass_g": 2400},
        {"suction": 102, "day": 1, "mass_g": 2390},
        {"suction": 101, "day": 2, "mass_g": 2389.95},
        {"suction": 204, "day": 3, "mass_g": 2384},
        {"suction": 204, "day": 4, "mass_g": 2383.96},
    ]
    dry = {"mass_dry_g": 400.0}
    result = CELL.reduce_raw(
        {"volume_cm3": 198.5, "mass_apparatus_g": 1834.62, "mass_ring_g": 112.37, "weighings": rows} | dry
    )
    assert {"suction-falls", "left-early"}.isdisjoint(result.codes())
    assert [round(kpa, 2) for kpa, _ in result.curve] == [0.0, 9.9, 20.01]


def test_old_words_of_a_device_are_still_read():
    assert CELL.Settings.model_validate({"device": "water column"}).device == Device.WATER
    assert CELL.Settings.model_validate({"device": "gauge"}).device == Device.GAUGE


# Steps


def test_the_steps_planned_are_those_of_next_board_and_run():
    settings = {"plan_kpa": "2 5, 10; 33"}
    _, plain = virtual(**settings)
    assert CELL.Settings.model_validate(settings).plan == (2.0, 5.0, 10.0, 33.0)
    plain.pop("mass_dry_g")
    rows = [row for row in plain["weighings"] if row["suction"] <= 0.02]
    result = CELL.reduce_raw(plain | {"weighings": rows}, settings)
    assert result.next_action == "Next step: 0.05 bar (5 kPa)."
    # Run mode proposes the same suction in the next row.
    assert result.expected == {f"weighings.{len(rows)}.suction": (0.05, 0.05)}
    board = CELL.timetable(CELL.Readings(), CELL.Settings.model_validate(settings))
    assert [o.what for o in board if o.key.startswith("set-")] == [f"Set {kpa} kPa" for kpa in (2, 5, 10, 33)]
    # While it is not stable, the step in hand is proposed.
    early = CELL.reduce_raw(plain | {"weighings": rows[:2]}, settings)
    assert early.expected == {"weighings.2.suction": (0.02, 0.02)}


@pytest.mark.parametrize("text", ["1 3 x", "1 -3", "0 5", "1e3", "1 3 99999999"])
def test_steps_that_are_none_are_refused_with_an_example(text):
    with pytest.raises(ValidationError, match="no suction in kPa; write such as 1 3 6"):
        CELL.Settings.model_validate({"plan_kpa": text})


def test_nothing_is_proposed_beyond_the_rating_and_what_was_is_stopped():
    _, plain = virtual()
    dry = plain.pop("mass_dry_g")
    rows = [row for row in plain["weighings"] if row["suction"] <= 0.33]
    held = CELL.reduce_raw(plain | {"weighings": rows, "rated_kpa": 50})
    assert held.next_action.startswith("Last step stable: take the soil out")
    beyond = CELL.reduce_raw(plain | {"rated_kpa": 50, "mass_dry_g": dry})
    finding = next(f for f in beyond.findings if f.code == "beyond-rating")
    assert "0.6 bar (60 kPa) is beyond" in finding.message
    assert not beyond.reportable


# Masses


def test_ring_in_the_tare_and_dry_soil_in_its_can():
    _, plain = virtual()
    apart = CELL.reduce_raw(plain)
    together = plain | {
        "mass_apparatus_g": plain["mass_apparatus_g"] + plain["mass_ring_g"],
        "mass_dry_g": round(plain["mass_dry_g"] + 41.27, 2),
        "mass_can_g": 41.27,
    }
    together.pop("mass_ring_g")
    same = CELL.reduce_raw(together, {"tare": "with"})
    assert same.complete
    for key in ("theta_s", "field_capacity", "dry_density", "porosity"):
        assert value(same, key) == pytest.approx(value(apart, key), abs=1e-6)
    assert "missing-reading" not in same.codes()


def test_what_was_lost_in_a_day_is_shown_before_the_dry_mass_is_known():
    _, plain = virtual()
    plain.pop("mass_dry_g")
    result = CELL.reduce_raw(plain)
    first, second = plain["weighings"][1:3]
    assert result.computed["weighings.2.loss"] == pytest.approx(first["mass_g"] - second["mass_g"], abs=1e-6)
    assert "weighings.2.theta" not in result.computed


# What is drawn from the curve


def test_field_capacity_by_its_school():
    soil, plain = virtual()
    for kpa in (6, 10, 33):
        result = CELL.reduce_raw(plain, {"field_capacity_kpa": kpa})
        assert value(result, "field_capacity") == pytest.approx(100 * soil.theta(kpa), abs=0.4)
        assert result.parameter("field_capacity").name == f"water at field capacity, {kpa} kPa"
        named = {label: x for x, label in result.figures[0].x.named}
        assert named["field capacity"] == kpa


def test_a_wilting_point_that_was_weighed_is_read_and_not_extrapolated():
    settings = {"plan_kpa": "3 10 33 100 300 1000 1500", "device": "kilopascal"}
    soil, plain = virtual(**settings)
    result = CELL.reduce_raw(plain, settings)
    assert result.parameter("wilting").name == "water at the wilting point, 1500 kPa, as weighed"
    last = plain["weighings"][-1]["mass_g"]
    tare = plain["mass_apparatus_g"] + plain["mass_ring_g"] + plain["mass_dry_g"]
    assert value(result, "wilting") == pytest.approx(100 * (last - tare) / (0.998 * plain["volume_cm3"]), abs=1e-6)
    assert value(result, "wilting") == pytest.approx(100 * soil.theta(1500), abs=0.4)
    assert result.parameter("available").name == "field capacity less wilting point"


def test_what_is_extrapolated_is_in_small_type_and_named():
    """The sheet sets the first four of the headline large: nothing that lies beyond the last step is among them."""
    _, plain = virtual()
    result = CELL.reduce_raw(plain)
    large = [result.parameter(key) for key in result.headline(CELL.headline)][:4]
    assert not any("extrapolated" in p.name for p in large)
    assert "extrapolated beyond 100 kPa" in result.parameter("available").name


@given(st.floats(0.01, 0.12), st.floats(0.02, 0.3), st.floats(1.3, 2.6))
def test_the_curve_may_keep_no_more_than_the_driest_step_held(r, alpha, n):
    psi = np.array([0.0, 1, 3, 6, 10, 20, 33, 60, 100, 300])
    theta = van_genuchten(psi, r, 0.45, alpha, n)
    found = fit_retention(psi, theta, Curve.VAN_GENUCHTEN)
    assert found.values[0] <= theta.min() + 1e-9
    assert np.max(np.abs(found.at(psi) - theta)) < 2e-3


def test_a_parameter_that_is_hardly_known_is_said():
    """A clay that has hardly begun to drain at 100 kPa, weighed with a scatter of 0.2 %: no bend to fit."""
    psi = np.array([0.0, 1, 3, 6, 10, 20, 33, 60, 100])
    scatter = np.random.default_rng(3).normal(0, 0.002, len(psi))
    held = van_genuchten(psi, 0.1, 0.50, 0.004, 1.25)
    (finding,) = fit_findings(fit_retention(psi, held + scatter, Curve.VAN_GENUCHTEN))
    assert "van Genuchten is known badly: α to" in finding.message
    assert fit_findings(fit_retention(psi, van_genuchten(psi, 0.05, 0.45, 0.1, 1.8), Curve.VAN_GENUCHTEN)) == []


def test_soils_drawn_are_as_wide_as_the_claim():
    """Two hundred clean cells: water within half a percent at saturation and field capacity, and no finding."""
    for seed in range(SOILS):
        rng = np.random.default_rng(1000 + seed)
        soil = a_holding_soil(rng)
        result = CELL.reduce(CELL.virtual(soil, CELL.Settings(), rng), CELL.Settings(), CELL.Context())
        assert [f.message for f in result.findings if f.severity != "note"] == [], seed
        assert value(result, "theta_s") == pytest.approx(100 * soil.theta_s, abs=0.5)
        assert value(result, "field_capacity") == pytest.approx(100 * soil.theta(33), abs=0.5)


# Suctions that were not typed


def weighed(plain, *first):
    """Return a test whose record begins with other weighings than the saturated one."""
    return plain | {"weighings": [*first, *plain["weighings"][1:]]}


def test_a_weighing_before_any_suction_is_asked_for_not_dropped():
    """A saturated ring whose 0 was not typed: its water was left out, and that of 1 kPa called saturated."""
    _, plain = virtual()
    saturated = plain["weighings"][0]
    nameless = {k: v for k, v in saturated.items() if k != "suction"}
    result = CELL.reduce_raw(weighed(plain, nameless))
    assert "no-suction" in result.codes()
    assert not result.reportable
    assert "weighings.0.suction" in result.findings[0].cells
    assert "0 for the saturated ring" in result.next_action
    left_out = saturated | {"left_out": "weighed with its lid", "suction": None}
    assert "no-suction" not in CELL.reduce_raw(weighed(plain, left_out)).codes()


def test_without_a_saturated_weighing_nothing_is_called_saturated():
    """ISO 11274: the water of the saturated ring is its mass at suction 0; a first step of 10 kPa says less."""
    _, plain = virtual()
    later = [row for row in plain["weighings"] if row["suction"] * 100 > 5]
    result = CELL.reduce_raw(plain | {"weighings": later})
    assert "not-weighed-saturated" in result.codes()
    given_ = {p.key for p in result.parameters}
    assert "field_capacity" in given_
    assert not given_ & {"theta_s", "drainable"}


def test_water_that_is_lost_at_no_suction_asks_for_the_suction():
    """The first suction was set and not typed: its weighing counted as a second one of the saturated ring."""
    _, plain = virtual()
    rows = [dict(row) for row in plain["weighings"]]
    assert rows[0]["suction"] == 0 < rows[1]["suction"]
    lost = rows[0]["mass_g"] - rows[1]["mass_g"]
    del rows[1]["suction"]
    result = CELL.reduce_raw(plain | {"weighings": rows})
    assert "lost-at-nothing" in result.codes()
    said = next(f for f in result.findings if f.code == "lost-at-nothing")
    assert f"{lost:.1f} g since row 1" in said.message
    assert said.cells[0] == "weighings.1.suction"
    # What evaporates while a ring is weighed twice is nothing of this.
    rows[1] |= {"suction": 0.0, "mass_g": rows[0]["mass_g"] - 0.3}
    assert "lost-at-nothing" not in CELL.reduce_raw(plain | {"weighings": rows}).codes()

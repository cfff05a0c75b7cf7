"""The drop-weight plate: by hand, lifts back, every slip at the plate, the project's limit."""

import numpy as np
import pytest

from tests import SOILS
from vadum.soil.physics.drop_plate import dynamic_modulus_mpa, settlement_over_velocity_ms
from vadum.soil.registry import METHODS
from vadum.soil.virtual.rolled_lift import RolledLift, a_rolled_lift

PLATE = METHODS["drop-plate"]
LIFT = RolledLift(evd_mpa=42.0, scatter=0.08, seating=0.2)


def virtual(soil=LIFT, seed=3, mistakes=(), **settings):
    chosen = PLATE.Settings(**settings)
    return PLATE.virtual(soil, chosen, np.random.default_rng(seed), frozenset(mistakes)).model_dump(
        mode="json", exclude_none=True
    )


def place(*drops, **more):
    return {"places": [dict(zip(("s_1_mm", "s_2_mm", "s_3_mm"), drops, strict=True)) | more], "finished": "yes"}


def test_by_hand():
    # The plate of 300 mm at 0.1 MPa: Evd = 22.5 / s.
    assert dynamic_modulus_mpa(150, 100, 0.45) == pytest.approx(50.0)
    assert settlement_over_velocity_ms(0.6, 240) == pytest.approx(2.5)
    result = PLATE.reduce_raw(place(0.50, 0.49, 0.51))
    assert result.parameter("evd").text == "45.0"
    assert result.reportable


def test_lifts_come_back():
    for seed in range(SOILS):
        soil = a_rolled_lift(np.random.default_rng(seed))
        result = PLATE.reduce_raw(virtual(soil, seed))
        assert [f.code for f in result.findings if f.severity != "note"] == [], seed
        # The drops that count still seat the plate by up to three percent, and the display shows hundredths.
        assert result.parameter("evd").value == pytest.approx(soil.evd_mpa, rel=0.04), seed


@pytest.mark.parametrize(
    ("mistake", "code"),
    [
        ("compacting", "drops-apart"),
        ("hundredths", "divisions-for-mm"),
        ("hollow", "not-level"),
        ("crust", "on-crust"),
        ("coarse", "plate-small"),
        ("soft-spot", "evd-apart"),
    ],
)
def test_each_mistake_at_the_plate_is_caught(mistake, code):
    found = next(f for f in PLATE.reduce_raw(virtual(mistakes=[mistake])).findings if f.code == code)
    assert found.action


def test_s_over_v_tells_what_gives_still():
    typed = {"velocity": True}
    clean = PLATE.reduce_raw(virtual(**typed), typed)
    assert clean.codes() == []
    assert clean.parameter("ratio_1").value == pytest.approx(2.4, abs=0.05)
    loose = PLATE.reduce_raw(place(0.6, 0.6, 0.6, v_1_mm_s=150, v_2_mm_s=150, v_3_mm_s=150), typed)
    assert "gives-still" in loose.codes()


def test_stiff_soft_and_badly_seated_ground():
    assert "out-of-range" in PLATE.reduce_raw(place(0.05, 0.05, 0.05)).codes()
    assert "out-of-range" in PLATE.reduce_raw(place(2.4, 2.4, 2.4)).codes()
    assert "still-seating" in PLATE.reduce_raw(place(0.5, 0.5, 0.5, seating_3_mm=0.9)).codes()


def test_the_project_sets_the_limit_of_each_place():
    readings = virtual(mistakes=["soft-spot"])
    result = PLATE.reduce_raw(readings, {"required_evd_mpa": 30})
    assert result.parameter("judgement").text == "below 30 MPa at 0+080"
    assert PLATE.reduce_raw(virtual(), {"required_evd_mpa": 30}).parameter("judgement").text.startswith("at least 30")


def test_what_comes_next_at_the_plate():
    readings = virtual() | {"finished": None}
    assert "Move on" in PLATE.reduce_raw(readings).next_action
    begun = [*readings["places"][:1], {"place": "0+040", "s_1_mm": 0.5}]
    assert "0+040, drop 2 of 3" in PLATE.reduce_raw(readings | {"places": begun}).next_step

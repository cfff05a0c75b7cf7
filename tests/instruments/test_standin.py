"""A stand-in shows what is before it, to its own steps, at its own speed, with the faults it is given."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.instruments.catalogue import IDENTITIES, stand_ins
from vadum.instruments.port import InstrumentTrouble, Sample, within_range
from vadum.instruments.standin import Signal, StandIn

T0 = 1_000_000.0
GAUGE = next(i for i in IDENTITIES if i.name == "dial gauge A")


def gauge(**change):
    return StandIn(GAUGE, noise_steps=0.0, **change)


@given(st.floats(-4, 40), st.floats(0.001, 600))
def test_it_shows_what_is_before_it_to_its_step(value, speed):
    one = gauge(speed=speed)
    one.present("travel", Signal((0.0,), (value,)), T0)
    assert abs(one.sample("travel", T0).value - value) <= 0.005 + 1e-9


def test_time_runs_as_fast_as_it_is_told():
    settling = Signal((0.0, 10.0), (0.0, 5.0))
    slow, fast = gauge(speed=1.0), gauge(speed=60.0)
    for one in (slow, fast):
        one.present("travel", settling, T0)
    # After 5 s: 5/60 min at one speed, 5 min at the other; the fast one creeps by less than a step.
    assert slow.sample("travel", T0 + 5).value == pytest.approx(0.04, abs=0.006)
    assert fast.sample("travel", T0 + 5).value == pytest.approx(2.5, abs=0.006)
    assert fast.sample("travel", T0 + 60).value == pytest.approx(5.0, abs=0.006)


def test_zero_is_taken_off_what_follows():
    one = gauge()
    one.present("travel", Signal((0.0,), (1.37,)), T0)
    one.zero("travel", T0)
    assert one.sample("travel", T0).value == 0.0
    one.present("travel", Signal((0.0,), (2.0,)), T0 + 1)
    assert one.sample("travel", T0 + 1).value == pytest.approx(0.63)


def test_noise_stays_within_a_few_steps():
    one = replace(gauge(), noise_steps=0.3, rng=np.random.default_rng(2))
    one.present("travel", Signal((0.0,), (3.0,)), T0)
    shown = [one.sample("travel", T0 + i).value for i in range(200)]
    assert len(set(shown)) > 1
    assert max(abs(value - 3.0) for value in shown) <= 0.02 + 1e-9


def test_a_frozen_one_stands_still_and_a_drifting_one_walks():
    one = gauge()
    one.present("travel", Signal((0.0, 10.0), (0.0, 10.0)), T0)
    one.set_fault("frozen", T0)
    first = one.sample("travel", T0)
    assert one.sample("travel", T0 + 120) == first
    one.set_fault("drift", T0 + 120)
    assert one.sample("travel", T0 + 180).value == pytest.approx(3.0 + 0.3, abs=0.02)


def test_it_measures_only_what_it_measures():
    with pytest.raises(KeyError):
        gauge().sample("mass", T0)


def test_every_kind_is_there_and_shows_something_in_range():
    made = stand_ins(T0, speed=60, seed=5)
    kinds = {one.identity.kind for one in made.values()}
    assert kinds == {
        "balance",
        "dial gauge",
        "load ring",
        "load cell with displacement",
        "water-level logger",
        "pH meter with thermometer",
        "hydrometer eye",
        "position receiver",
    }
    for one in made.values():
        for quantity in one.identity.quantities:
            for later in (0.0, 30.0, 600.0):
                within_range(one.identity, one.sample(quantity.name, T0 + later))


def test_a_settling_gauge_settles_and_a_level_falls():
    made = stand_ins(T0, speed=60)
    travel = [made["dial gauge A"].sample("travel", T0 + s).value for s in (1, 10, 60, 600)]
    level = [made["level logger"].sample("level", T0 + s).value for s in (1, 10, 60, 600)]
    assert travel == sorted(travel)
    assert level == sorted(level, reverse=True)


@pytest.mark.parametrize(
    ("change", "words"), [({"value": 51.0}, "outside its range -5 to 50"), ({"unit": "in"}, "does not measure")]
)
def test_what_it_cannot_show_is_refused(change, words):
    sample = Sample(
        instrument="dial gauge A", quantity="travel", value=1.0, unit="mm", tick=1, at="2026-01-01T00:00:00Z"
    )
    with pytest.raises(InstrumentTrouble, match=words):
        within_range(GAUGE, sample.model_copy(update=change))

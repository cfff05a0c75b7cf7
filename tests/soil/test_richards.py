"""The falling head against Richards' equation: Ks within three percent, and the band holds the truth.

Five loams are simulated (minutes of computing, `make thorough`); the suite reads two records that were simulated so.
"""

from functools import cache

import numpy as np
import pytest

from tests import THOROUGH
from tests.soil.richards import Column, Loam
from vadum.soil.physics.falling_fit import fit_falling_head
from vadum.soil.physics.falling_head import Cylinder

RADIUS, EMBEDDED, START = 50.0, 50.0, 400.0
# Class averages of Carsel and Parrish (1988), Water Resources Research 24, and the water content before.
LOAMS = {
    "loam, dry": (Loam(0.078, 0.43, 3.6e-3, 1.56, 10.4 / 60), 0.15),
    "loam, moist": (Loam(0.078, 0.43, 3.6e-3, 1.56, 10.4 / 60), 0.25),
    "silt loam, moist": (Loam(0.067, 0.45, 2.0e-3, 1.41, 4.5 / 60), 0.25),
    "sandy loam, dry": (Loam(0.065, 0.41, 7.5e-3, 1.89, 44.2 / 60), 0.15),
    "sandy loam, moist": (Loam(0.065, 0.41, 7.5e-3, 1.89, 44.2 / 60), 0.25),
}
CHOSEN = list(LOAMS) if THOROUGH else ["sandy loam, moist"]


@cache
def simulated(name):
    soil, before = LOAMS[name]
    return Column(soil, RADIUS, EMBEDDED, START, before).fall(0.04)


def records(name, count):
    """Return readings as hands take them: so many, closer together at the start, to the millimetre and half a line."""
    minutes, levels = simulated(name)
    rng = np.random.default_rng(3)
    for _ in range(count):
        at = minutes[-1] * np.linspace(0, 1, int(rng.integers(16, 60))) ** rng.uniform(1.0, 2.0)
        read = np.round(np.interp(at, minutes, levels) + rng.normal(0, 0.3, len(at)) * (at > 0))
        yield at[read > 0], read[read > 0]


@pytest.mark.parametrize("name", CHOSEN)
def test_the_band_holds_what_the_ground_really_conducts(name):
    soil, before = LOAMS[name]
    cylinder = Cylinder(RADIUS, EMBEDDED, START, soil.saturated - before)
    found = [fit_falling_head(cylinder, *record) for record in records(name, 20)]
    off = [one.ks_mm_min / soil.ks_mm_min - 1 for one in found]
    held = sum(one.ks_band[0] <= soil.ks_mm_min <= one.ks_band[1] for one in found)
    assert abs(float(np.median(off))) < 0.03
    assert held >= 17
    # Tied to the filling, the clock would make it too high, and no band would hold it.
    assert all(one.start_mm > 0 for one in found)


def test_no_water_is_lost_in_the_simulation():
    soil, before = LOAMS["sandy loam, moist"]
    column = Column(soil, RADIUS, EMBEDDED, START, before, fine=10.0)
    held = float((soil.water(column.head) * column.volume).sum())
    _, levels = column.fall(0.6)
    gained = float((soil.water(column.head) * column.volume).sum()) - held
    assert gained == pytest.approx(np.pi * RADIUS**2 * (START - levels[-1]), rel=0.02)

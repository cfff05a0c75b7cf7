"""The band of a strength envelope: where the line lies with 95 percent, by the scatter of its specimens."""

import numpy as np

from vadum.soil.contract.figure import Region
from vadum.soil.numbers.scatter import LEAST_FREEDOM, student
from vadum.soil.physics.envelope import Envelope

_PLACES = 30


def envelope_band(line: Envelope | None, reach_kpa: float) -> list[Region]:
    """Return the band from no normal stress to ``reach_kpa``; none where too few specimens tell of scatter."""
    if line is None or line.freedom < LEAST_FREEDOM:
        return []
    t = student(line.freedom)
    sides = [(float(x), band) for x in np.linspace(0, reach_kpa, _PLACES) if (band := line.band_at(float(x), t))]
    low, high = [(x, max(0.0, band[0])) for x, band in sides], [(x, band[1]) for x, band in sides]
    return [Region(key="band", role="accepted", points=low + high[::-1])] if sides else []

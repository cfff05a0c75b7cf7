"""How the loading of a cylinder begins: nothing stands on it, and its shortening counts from there.

Load and gauge are set to zero, or read, when the ram has just met the specimen: ISO 17892-7, 17892-8 and 17892-9.
"""

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.finding import note, warn

# Not shortened yet, by one division of a gauge; more than what an uneven end takes up.
_STILL_MM, _AWAY_MM = 0.01, 0.2
# Water that a burette was read to before, and did not give up meanwhile.
_DRIP_CM3 = 0.1
# A record whose first line is so many of its steps along has lost lines, or was not set to zero.
_STEPS = 2.5
# Of the largest load: what stands on a specimen whose ram has just met it.
_MET = 0.05

ZERO_NOT_TAKEN = warn(
    "zero-not-taken",
    "{who}{force:.1f N} stood on it before it was shortened, of {most:.0f N} at most.",
    "Zero the load cell before loading; if it was its zero, take it off every reading.",
)
BEGUN_LATE = warn(
    "begun-late",
    "{who}The record begins at {began:g mm} with {force:.0f N} on the specimen, of {most:.0f N} at most.",
    "Add the lines before it; if gauge or load cell was not set to zero, take off what it showed.",
)
DIAL_BEGAN = note(
    "dial-began",
    "{who}The gauge stood at {began:g mm} with nothing on the specimen; its shortening counts from there.",
    "Look whether the first lines are missing; else nothing to do.",
)
WATER_BEGAN = note(
    "water-began",
    "{who}{out:g cm³} of water were out before it was shortened; what comes out counts from there.",
    "Look whether the first lines are missing; else nothing to do.",
)


def began_mm(shortening_mm: NDArray[np.float64], force_n: NDArray[np.float64]) -> float:
    """Return where a gauge stood that was not set to zero: its first reading, where next to nothing stood on the
    specimen."""
    first = float(shortening_mm[0])
    return first if abs(first) > _AWAY_MM and force_n[0] <= _MET * force_n.max() else 0.0


def begun_late(shortening_mm: NDArray[np.float64], force_n: NDArray[np.float64]) -> bool:
    """Return whether a record begins under load: further along than its own steps, or at its largest load."""
    first, loaded = float(shortening_mm[0]), force_n[0] > _MET * force_n.max()
    step = float(shortening_mm[1] - shortening_mm[0])
    return bool(loaded and (force_n.argmax() == 0 or (first > _AWAY_MM and first > _STEPS * step)))


def stood_before(shortening_mm: NDArray[np.float64], force_n: NDArray[np.float64]) -> float:
    """Return what a load cell showed before a specimen was shortened, above nothing or below; 0 where it is little."""
    first = float(force_n[0])
    return first if abs(shortening_mm[0]) <= _STILL_MM and abs(first) > _MET * force_n.max() else 0.0


def out_before_cm3(shortening_mm: NDArray[np.float64], out_cm3: NDArray[np.float64]) -> float:
    """Return what a burette that was not set to zero said was out before a specimen was shortened; 0 where it said
    next to nothing."""
    first = float(np.nan_to_num(out_cm3[0]))
    return first if abs(shortening_mm[0]) <= _STILL_MM and abs(first) > _DRIP_CM3 else 0.0

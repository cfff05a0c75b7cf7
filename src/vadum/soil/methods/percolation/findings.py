"""What can be wrong with the readings, and what to do about it at the hole."""

from vadum.soil.bench.filling import NUMBER_SKIPS, TIME_BACK, WATER_STANDS, WRONG_WAY
from vadum.soil.contract.finding import note, stop, warn

NOT_LOCATED = stop("services", "Cables and pipes are not located.", "Do not dig before they are.")
NOT_SOAKED = warn(
    "not-soaked",
    "The hole was not soaked: dry ground drinks faster than it will.",
    "Fill it to 300 mm, keep it full for 4 h, read it the next day.",
)
ABOVE_HOLE = stop(
    "above-hole",
    "Fill {number}: {depth:g mm} of water in a hole {hole_depth_mm:g mm} deep.",
    "Look at the level, the base and their unit.",
)
BELOW_BASE = stop(
    "below-base",
    "Fill {number}: a level of {level_mm:g mm} lies beyond the base at {base_mm:g mm}.",
    "Measure the base again; put the level right.",
)
RUN_DRY = warn(
    "run-dry",
    "Fill {number}: the hole was empty at {to_min:g min}: it may have been empty before.",
    "Read at shorter intervals; leave the row out with the reason.",
)
FALL_SMALL = warn(
    "fall-small",
    "The last intervals fall by {fall:g mm}, read to {step:g mm}.",
    "Wait longer between two levels: 10 mm at least.",
)
NEVER_STEADY = warn(
    "never-steady",
    "{count} intervals, and the last {steady_rates} still differ by more than {within_percent:g %}.",
    "Refill and go on; the ground may still be swelling.",
)
RATES_JUMP = warn(
    "rates-jump",
    "Fill {number}: {rate:.3g [mm/min]} until {to_min:g min}, the intervals beside it {near:.3g mm/min}.",
    "Read level and time again, or leave the row out with the reason.",
)
WATER_TABLE = warn(
    "water-table",
    "The water table at {water_table_m:g m} is less than {least:g m} below the hole.",
    "The rate holds for this water table only; a design needs the distance its code asks for.",
)
ONLY_FALL = note(
    "only-fall",
    "Without the base on the scale nobody knows how much wall is wet: the fall is no infiltration rate.",
    "Measure down to the base of the hole on the same scale.",
)
__all__ = [
    "ABOVE_HOLE",
    "BELOW_BASE",
    "FALL_SMALL",
    "NEVER_STEADY",
    "NOT_LOCATED",
    "NOT_SOAKED",
    "NUMBER_SKIPS",
    "ONLY_FALL",
    "RATES_JUMP",
    "RUN_DRY",
    "TIME_BACK",
    "WATER_STANDS",
    "WATER_TABLE",
    "WRONG_WAY",
]

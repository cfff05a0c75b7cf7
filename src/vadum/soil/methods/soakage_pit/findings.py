"""What can be wrong with the readings, and what to do about it at the pit."""

from vadum.soil.bench.filling import NUMBER_SKIPS, TIME_BACK, WATER_STANDS, WRONG_WAY
from vadum.soil.contract.finding import note, stop, warn

NOT_LOCATED = stop("services", "Cables and pipes are not located.", "Do not dig before they are.")
FULL_BELOW_BASE = stop(
    "full-below-base",
    "Full at {full_mm:g [mm]} lies below the base at {base_mm:g mm}.",
    "Measure both down from the same mark; look whether they are exchanged.",
)
BELOW_BASE = stop(
    "below-base",
    "Fill {number}: {level_mm:g [mm]} down is below the base at {base_mm:g mm}.",
    "Measure the base again; put the level right.",
)
START_LOW = stop(
    "start-low",
    "Fill {number} begins at {depth:.0f [mm]} of water, below three quarters of {full:.0f mm}.",
    "Fill it to the level of the drain; leave this fill out with the reason.",
)
SPARSE = warn(
    "sparse",
    "Fill {number}: {count:g} readings between three quarters and one quarter of the depth.",
    "Read more often: the two times are drawn between readings.",
)
LEANS_IN = stop(
    "leans-in",
    "The pit is narrower at the water than at its base.",
    "Look whether the sizes at base and water are exchanged.",
)
LONG_FOR_WIDE = warn(
    "long-for-wide",
    "The pit is {width_mm:g [mm]} wide and {length_mm:g mm} long.",
    "Look whether length and width are exchanged, and at their unit.",
)
NOT_24_H = note(
    "not-24-h",
    "Fill {number} took {hours:.0f h} to fall to a quarter: half empty within 24 h is usual for a soakaway.",
    "Say so to the designer: the ground is hardly fit for it.",
)
NOT_A_QUARTER = warn(
    "not-a-quarter",
    "Fill {number} was left with {depth:.0f [mm]} of water, above a quarter of {full:.0f mm}.",
    "Read it on; if it was pumped out or left, leave its rows out with the reason.",
    awaited=True,
)
VOLUME_DIFFERS = warn(
    "volume-differs",
    "{poured:.0f [L]} filled a pit that holds {holds:.0f L} by its sizes.",
    "Measure length, width and depths again, in mm; the meter may have run on.",
)
FASTER_AGAIN = warn(
    "faster-again",
    "Fill {number} soaks away {factor:.2g} times as fast as the one before: wet ground takes less, not more.",
    "Look at its times and levels, and for a crack, a pipe or a root in the side.",
)
FILLS_APART = note(
    "fills-apart",
    "Fill {number} still takes {percent:.0f %} less than the one before.",
    "Fill it once more: the ground is not as wet as it will be.",
)
RATE_JUMPS = warn(
    "rate-jumps",
    "Fill {number}: between {from_min:g [min]} and {to_min:g min} it falls {factor:.2g} times as fast as beside.",
    "Read level and time again, or leave the row out with the reason.",
)
__all__ = [
    "BELOW_BASE",
    "FASTER_AGAIN",
    "FILLS_APART",
    "FULL_BELOW_BASE",
    "LEANS_IN",
    "LONG_FOR_WIDE",
    "NOT_24_H",
    "NOT_A_QUARTER",
    "NOT_LOCATED",
    "NUMBER_SKIPS",
    "RATE_JUMPS",
    "SPARSE",
    "START_LOW",
    "TIME_BACK",
    "VOLUME_DIFFERS",
    "WATER_STANDS",
    "WRONG_WAY",
]

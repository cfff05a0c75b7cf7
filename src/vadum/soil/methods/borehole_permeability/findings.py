"""What can be wrong with the readings, and what to do about it at the borehole."""

from vadum.soil.bench.filling import NUMBER_SKIPS, TIME_BACK, WATER_STANDS, WRONG_WAY
from vadum.soil.contract.finding import note, stop, warn

NOT_LOCATED = stop("services", "Cables and pipes are not located.", "Do not drill before they are.")
NOT_CLEANED = warn(
    "not-cleaned",
    "The section was not cleaned: cuttings and smear close it.",
    "Flush or bail it until the water is clear, wait for rest, begin again.",
)
TURNED = stop(
    "turned",
    "The section goes from {top_m:g [m]} to {base_m:g m}: its end lies above its beginning.",
    "Look whether the two are exchanged.",
)
NARROW_SECTION = warn(
    "narrow-section",
    "The section is {section_mm:g [mm]} wide, its casing {casing_mm:g mm}.",
    "Look whether the two are exchanged.",
)
SHORT_SECTION = warn(
    "short-section",
    "The section is {ratio:.2g} times as long as wide; the factor holds from {least:g} on.",
    "Choose an open end, or give the reason.",
)
LONG_SECTION = warn(
    "long-section",
    "The section is {length:.3g m} long; {most:g m} is much for one value.",
    "Look at its depths and their unit, or give the reason.",
)
LENGTH_DIFFERS = warn(
    "length-differs",
    "The depths of the section are {between:.2f m} apart; what was lowered, or drilled bare, is {taped:.2f m} long.",
    "Tape both depths again from the top of the casing.",
)
ABOVE_WATER = warn(
    "above-water",
    "The water at rest, {rest_m:g [m]}, stands below {depth:g m}, where the water goes in.",
    "The ground there is not full of water: measure rest and depths again, or give the reason.",
)
AT_REST = stop(
    "at-rest",
    "Run {number} begins at the level of rest.",
    "Measure the rest before water is put in or taken out; put the first level right.",
)
PAST_REST = stop(
    "past-rest",
    "Run {number}: the level passes its rest of {rest_m:g m} at {to_min:g min}.",
    "Measure the rest again when nothing moves any more; it is not where it was said.",
)
READ_ON = warn(
    "read-on",
    "Run {number}: {left:.0f %} of the first head is left.",
    "Read on until {percent:g %} is left; close the sheet with what there is only if the hole must be given up.",
    awaited=True,
)
NOT_STRAIGHT = warn(
    "not-straight",
    "Run {number}: ln H bends: the last half falls {factor:.2g} times as fast as the first.{rest}",
    "Measure the rest again; look for a leak at the joints, or soil that settles in the section.",
)
ODD_LEVEL = warn(
    "odd-level",
    "Run {number}: the level at {minutes:g min} lies {off:.0f [mm]} off the line of the others.",
    "Read it again; leave the row out with the reason if it cannot be mended.",
)
SLUG_DIFFERS = warn(
    "slug-differs",
    "{slug:g L} would move the level by {moved:.2f [m]}; it moved by {head:.2f m}.",
    "Measure the casing inside, look at the first level and the rest.",
)
RUNS_APART = warn(
    "runs-apart",
    "The runs differ by a factor of {factor:.2g}: {least:.2g} to {most:.2g m/s}.",
    "A falling level clogs, a rising one washes out: clean the section and repeat; say which run counts.",
)
FALLING_ONLY = note(
    "falling-only",
    "Water that is put in clogs the section in silt: k is rather too low.",
    "Bail it and read it rising as well where it can be done.",
)
__all__ = [
    "ABOVE_WATER",
    "AT_REST",
    "FALLING_ONLY",
    "LONG_SECTION",
    "NARROW_SECTION",
    "NOT_CLEANED",
    "NOT_LOCATED",
    "NOT_STRAIGHT",
    "NUMBER_SKIPS",
    "ODD_LEVEL",
    "PAST_REST",
    "READ_ON",
    "RUNS_APART",
    "SHORT_SECTION",
    "SLUG_DIFFERS",
    "TIME_BACK",
    "TURNED",
    "WATER_STANDS",
    "WRONG_WAY",
]

"""What can be wrong with the readings, and what to do about it at the cell."""

from vadum.soil.contract.finding import note, stop, warn

NOT_SATURATED = warn(
    "not-saturated",
    "Air was not driven out of the specimen: it makes k too low.",
    "Saturate it from below, under vacuum or back pressure, and measure again.",
)
NOT_DEAIRED = warn(
    "not-deaired",
    "The water was not freed of air: bubbles close the pores with time.",
    "Use water that was boiled or stood under vacuum.",
)
TAPS = stop(
    "taps",
    "The tubes stand {taps_mm:g [mm]} apart on a specimen {length_mm:g mm} long.",
    "Measure both again; look whether they are exchanged.",
)
GRAINS = warn(
    "grains",
    "Grains of {largest_mm:g [mm]} in a cell of {diameter_mm:g mm}: 8 to 12 times the largest is asked.",
    "Take a wider cell, or sieve the coarse grains out and say so.",
)
NOT_FALLEN = stop(
    "not-fallen",
    "Row {row}: from {from_mm:g [mm]} to {to_mm:g mm} the water does not fall.",
    "Look whether the two marks are exchanged.",
)
STEEP = warn(
    "steep",
    "Row {row}: a gradient of {gradient:.3g}; beyond {most:g} the grains may move.",
    "Lower the head; look at head, length and their unit.",
)
FALLS_WITH_TIME = warn(
    "falls-with-time",
    "k falls by {percent:.0f %} from the first measurement to the last: air in the pores, or fines that clog.",
    "Drive the air out, use water without air, and measure until it is steady.",
)
RISES_WITH_TIME = warn(
    "rises-with-time",
    "k rises by {percent:.0f %} from the first measurement to the last: fines wash out, or water goes by the wall.",
    "Look at the outflow for fines and at the wall; set the specimen up again under less head.",
)
NOT_LAMINAR = warn(
    "not-laminar",
    "k at the gradient of {most:.2g} is {ratio:.2f} of that at {least:.2g}: flow grows less than the head.",
    "Measure at smaller gradients; leave the steep rows out with the reason.",
)
ODD_ROW = warn(
    "odd-row",
    "Row {row}: k {k:.2g [m/s]} stands off {near:.2g m/s} of the others.",
    "Measure it again; leave the row out with the reason if it cannot be mended.",
)
FEW = warn("few", "{count:g} of {needed:g} measurements.", "Measure again under another head.", awaited=True)
ONE_HEAD = note(
    "one-head",
    "All were measured under one gradient: nobody sees whether the flow is laminar.",
    "Measure under two more heads.",
)
TOO_TIGHT = warn(
    "too-tight",
    "k of {k:.1g m/s} under a constant head: hardly any water comes.",
    "Take a falling head for it, or read for hours and cover the water.",
)
TOO_OPEN = warn(
    "too-open",
    "k of {k:.1g m/s} under a falling head: the tube runs out in seconds.",
    "Take a constant head, or a wider tube.",
)
DENSITY_FAR = note(
    "density-far",
    "The specimen is compacted to {degree:.0f %} of the sample's densest.",
    "Say for which state k was asked: loose sand lets through several times as much as dense.",
)

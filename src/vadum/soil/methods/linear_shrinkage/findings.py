"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

DRY_LONGER = stop(
    "dry-longer",
    "Bar {number}: {dry:g mm} dry is longer than its mould, {mould:g mm}.",
    "Look whether the two are exchanged; measure mould and bar again.",
)
IN_PIECES = stop(
    "in-pieces",
    "Bar {number} fell apart: its length is a guess.",
    "Make another bar: dry it slower in air until it comes off the walls, then in the oven.",
)
CRACKED = warn(
    "cracked",
    "Bar {number} is cracked: the cracks count as length.",
    "Push the parts together and measure again, or make another bar and dry it slower.",
)
ONE_FACE = warn(
    "one-face",
    "Bar {number} is curved and measured along one face only.",
    "Measure along top and bottom; the mean counts.",
)
FACES_APART = warn(
    "faces-apart",
    "Bar {number}: top and bottom differ by {mm:.1f mm}, but it is not called curved.",
    "Measure both faces again; say how the dry bar looks.",
)
BENT_TOO_FAR = warn(
    "bent-too-far",
    "Bar {number}: top {top:g mm} and bottom {bottom:g mm} differ by more than a bar can be bent.",
    "Measure both faces again along their middle.",
)
FACE_LONGER = warn(
    "face-longer",
    "Bar {number}: one face is {face:g mm} long, its mould {mould:g mm}.",
    "Measure that face again; no face is longer than the mould was.",
)
MOULD_LENGTH = warn(
    "mould-length",
    "Bar {number}: a mould of {mould:g mm}, 140 mm is the standard's.",
    "Measure the mould inside; say under remarks which one it is.",
)
NOT_AT_LIMIT = warn(
    "not-at-limit",
    "The paste was {mixed_at} than the liquid limit: the bar shrinks {less}.",
    "Mix another paste at the liquid limit, 25 blows or 20 mm of the cone.",
)
BARS_APART = warn(
    "bars-apart",
    "The bars are {spread:.1f %} apart, more than {most:g [%]}.",
    "Make another bar; leave the odd one out with a reason.",
)
FAR_FROM_PLASTICITY = note(
    "far-from-plasticity",
    "PI {index:g} ({source}) against 2.13 LS = {estimate:.0f}: further apart than such soils usually are.",
    "Look at both sheets; shrinkage and plasticity need not agree, but a slip shows here.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

_TOO_DRY = "Add 1–3 mL of water, remix, let it rest, repeat."
_TOO_WET = "Dry it by stirring in open air, then repeat; never add dry soil, never fan it, leave no crust."
VERIFICATION_MISSING = warn(
    "verification-missing",
    "{first} blows were not verified by a second closure.",
    "Refill the cup from the same mix without adding water and close the groove again.",
)
VERIFICATION_OFF = stop(
    "verification-off",
    "Second closure {second} blows, first {first}: more than 2 apart.",
    "Remix without adding water and close the groove until two counts in a row agree within 2.",
)
ONE_SPECIMEN = warn(
    "one-specimen",
    "One specimen at {low:g}–{high:g} blows: D4318 method B takes two, T 89 takes one at 22–28 only.",
    "Remix, close the groove twice again and fill a second tin.",
)
SPECIMENS_APART = stop(
    "specimens-apart",
    "The two specimens give {low:.1f} and {high:.1f %}: more than one percent apart.",
    "Repeat the test: mix again, close the groove twice, take a specimen each time.",
)
SECOND_DROP_MISSING = warn(
    "penetrations-apart",
    "{depth:g mm} was not checked by a second drop.",
    "Smooth the cup and drop the cone again; two drops agree within 0.5 mm.",
)
PENETRATIONS_APART = warn(
    "penetrations-apart",
    "The two drops differ by {mm:.1f mm}.",
    "Clean the cone, remix and make this trial again; two drops agree within 0.5 mm.",
)
TOO_FEW_TRIALS = stop(
    "too-few-trials",
    "{count} of {needed} trials weighed in the accepted range.",
    "Make {missing} more at other {what}.",
    awaited=True,
)
SLOPE_WRONG_WAY = stop(
    "slope-wrong-way",
    "Water content {goes}: it must go the other way.",
    "Check tin numbers and counts first; a crust or dry lumps in the mix do this too. Repeat the odd trial.",
)
ONE_COUNT = stop(
    "one-count",
    "All trials stand at {x:g}: there is no line through one {what}.",
    "Add or dry off some water, remix, and make a trial at another {what}.",
    awaited=True,
)
EQUAL_WATER = warn(
    "equal-water",
    "Trials {one} and {other} have the same water content at {x:g} and {y:g}: masses copied?",
    "Read the balance slip or the tins of the two again.",
)
TINS_EXCHANGED = warn(
    "tins-exchanged",
    "Trials {one} and {other} fall on the line if their tins are exchanged.",
    "Read the two tin numbers again.",
)
OFF_THE_LINE = warn(
    "off-the-line",
    "Trial {number} ({x:g}) lies {percent:.1f %} w off the line.",
    "Check its tin and masses; if they hold, repeat the trial or leave it out with a reason.",
)
SCATTERED = warn(
    "scattered",
    "r² {r_squared:.3f} is below {least_r_squared:g}: the trials do not make a line.",
    "Check the tins, then repeat the trial furthest off; mix longer before each.",
)
SLOPE_ODD = warn(
    "slope-odd",
    "Over ten times the blows the line falls by {share:.0f %} of the limit; soils do by {low:.0f [%]} to {high:.0f %}.",
    "Read the tins and masses of the outermost trials again; if they hold, repeat the one furthest from 25 blows.",
)
RANGE_NOT_COVERED = warn(
    "range-not-covered", "No trial of its own at {ranges} blows.", "Make one more trial at {ranges} blows."
)
LIQUID_LIMIT_NOT_DETERMINABLE = note(
    "liquid-limit-not-determinable",
    "The liquid limit cannot be determined: the soil {reason}.",
    "Report the soil as non-plastic (NP).",
)
TICKED_BESIDE_TRIALS = stop(
    "ticked-beside-trials",
    "“Cannot be determined” is ticked, and {count} good trials stand beside it.",
    "Clear the tick, or leave the trials out with the reason.",
)
NATURAL_DRIED = warn(
    "natural-dried",
    "Prepared dry, and said to be never dried.",
    "Soil that was crushed and sieved dry is air-dried: say so, or say wet.",
)
SEASONED_TOO_SHORT = warn(
    "seasoned-too-short",
    "Seasoned {seasoning_min:g min}, this school asks {seasoning}.",
    "Cover the mix and let it stand; fat clay takes water slowly.",
)
CRANK_RATE = warn("crank-rate", "{rate:g} drops/s is outside 1.9–2.1.", "Turn with the metronome at 120 per minute.")
LITTLE_SOIL = warn(
    "little-soil",
    "{mass_prepared_g:g g} prepared is below {least:g g}.",
    "Prepare more soil passing 0.425 mm before it runs out in mid-test.",
)
LINE_BY_HAND = note(
    "line-by-hand",
    "The flow line was drawn by hand, not by least squares.",
    "Return it to automatic unless you have a reason.",
)
REPLICATES_APART = warn(
    "replicates-apart",
    "The determinations spread over {spread:.1f %} w.",
    "Make another determination; leave the odd one out with a reason.",
)
COUNT_HIGH = warn("count-outside", "{count} blows is above {high}: too dry.", _TOO_DRY)
COUNT_LOW = warn("count-outside", "{count} blows is below {low}: too wet.", _TOO_WET)
ONE_POINT_HIGH = stop("count-outside", "{count} blows is above {high}: too dry for one-point.", _TOO_DRY)
ONE_POINT_LOW = stop("count-outside", "{count} blows is below {low}: too wet for one-point.", _TOO_WET)
CLOSURE_IN_INCHES = warn(
    "closure-length", "Closed over {closure:g mm}: is that in inches?", "Type 0.5in, or 13 for 13 mm."
)
CLOSURE_SHORT = warn(
    "closure-length",
    "The groove closed over {closure:g mm} only.",
    "Count on until 13 mm (1/2 in) have met; repeat this trial.",
)
CLOSURE_LONG = warn(
    "closure-length",
    "The groove closed over {closure:g mm}: counted past 13 mm.",
    "Stop at 13 mm (1/2 in); repeat this trial.",
)
TOO_DEEP = warn("penetration-outside", "{depth:.1f mm} is above {most:g}: too wet.", _TOO_WET)
TOO_SHALLOW = warn("penetration-outside", "{depth:.1f mm} is below {least:g}: too dry.", _TOO_DRY)
ALL_ABOVE_25 = stop(
    "one-side-of-25",
    "All trials are above 25 blows: the limit would be guessed beyond the trials.",
    "Add 1–3 mL, remix, and make a trial at 15–25 blows.",
)
ALL_BELOW_25 = stop(
    "one-side-of-25",
    "All trials are below 25 blows: the limit would be guessed beyond the trials.",
    "Dry the mix by stirring and make a trial at 25–35 blows.",
)
ALL_DEEPER = stop("one-side-of-limit", "All penetrations are above {at:g mm}.", "Dry the mix by stirring and repeat.")
ALL_SHALLOWER = stop(
    "one-side-of-limit", "All penetrations are below {at:g mm}.", "Add a little water, remix and repeat."
)
NOT_INSPECTED = warn(
    "cup-inspection", "{cup} has no inspection on record.", "Inspect it before the next trial: drop height, wear, feet."
)
INSPECTION_OVERDUE = warn(
    "cup-inspection", "{cup} was not inspected today.", "Inspect it before the next trial: drop height, wear, feet."
)
CUP_TO_ADJUST = warn(
    "cup-inspection",
    "{cup} was found out of adjustment.",
    "Set the drop to 10 mm with the gauge block and inspect it again.",
)
CUP_TO_REPLACE = warn("cup-inspection", "{cup} was found worn.", "Take another cup.")

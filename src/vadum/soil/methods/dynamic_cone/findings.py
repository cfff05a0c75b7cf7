"""What can be wrong with the readings, and what to do about it at the rod."""

from vadum.soil.contract.finding import note, stop, warn

SERVICES_UNKNOWN = stop("services-unknown", "Cables and pipes are not located.", "Stop until the services are located.")
RULE_BACK = stop(
    "rule-back",
    "Row {number}: the rule goes from {before:g [mm]} to {after:g mm}, the wrong way.",
    "Read the rule again; where it counts down as the cone goes in, say so under School.",
)
FROM_NOWHERE = note(
    "way-unknown",
    "Row {number} follows a row that is left out, and its rule is off: how far this one went is not known.",
    "Put the rule above right where you know what it showed; else go on, the depth is that of the rule.",
)
ROW_ODD = warn(
    "row-odd",
    "Row {number}: {per_blow:.1f mm} a blow, {near:.1f [mm]} in the rows beside it.",
    "Count the blows and read the rule again at the next row; leave this one out with the reason if it was a slip.",
)
FIRST_ODD = warn(
    "first-odd",
    "The first row goes {per_blow:.1f mm} a blow, the next ones {near:.1f [mm]}: did the rule begin at {zero:g mm}?",
    "Put the rule at start right; leave the first row out with the reason if the top was loose.",
)
LAST_ODD = warn(
    "last-odd",
    "Row {number}, the last, goes {per_blow:.1f mm} a blow, those before it {near:.1f [mm]}: one row tells no layer.",
    "Drive two rows more; where that cannot be, leave it out with the reason.",
)
ROW_COARSE = warn(
    "row-coarse",
    "Row {number} goes {mm:.0f mm} in {blows} blows: layers inside it are not seen.",
    "Read after fewer blows, at least each {most:g mm}.",
)
STONE = note(
    "on-a-stone",
    "Row {number}: {mm:g mm} in {blows} blows: the cone stands on a stone or on a hard layer.",
    "Stop here and say so under ended; go in again a metre beside it.",
)
CONE_WORN = stop(
    "cone-worn",
    "The cone is {cone:g mm} across, worn below 18 mm: it goes in too easily.",
    "Screw on a new cone and test again beside this place.",
)
NOT_UPRIGHT = warn(
    "not-upright", "The rod did not go down plumb: friction takes part of the blow.", "Go in again beside this place."
)
FEW_ROWS = warn(
    "few-rows",
    "Too few rows to {mm:.0f mm} to tell layers: {count}.",
    "Go in again beside this place and read the rule each 10 to 50 mm.",
)
OUTSIDE_RELATION = warn(
    "outside-relation",
    "CBR {ratio:.0f %} in {top:.2f [m]} to {bottom:.2f m}: the relation for lean clay ends at 10 %.",
    "Choose the relation of all soils for that layer.",
)

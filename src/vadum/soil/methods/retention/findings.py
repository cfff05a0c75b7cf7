"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

SATURATED_ONCE = warn(
    "saturated-once",
    "The ring was not saturated twice: air stays in it.",
    "Saturate again for 24 h in 0.01 M calcium chloride before the first step.",
)
PLATE_DRY = stop("plate-dry", "The plate is not saturated: air goes through it.", "Saturate the plate, begin again.")
NO_SUCTION = stop(
    "no-suction",
    "A mass of {mass_g:.2f g} at no suction: nothing is made of it.",
    "Type the suction that stood in row {row}, 0 for the saturated ring; else leave the row out with a reason.",
)
NOT_SATURATED = warn(
    "not-weighed-saturated",
    "The first weighing is at {at}: what the saturated ring holds is not known, nor what drains from it.",
    "Weigh the saturated ring at suction 0 before the first step; if it was weighed, add that row.",
)
LOST_AT_NOTHING = warn(
    "lost-at-nothing",
    "At suction 0 the ring lost {lost_g:.1f g} since row {before}: nothing takes water there.",
    "Type the suction that stood in row {row}; else weigh the saturated ring again.",
)
SUCTION_FALLS = warn(
    "suction-falls",
    "The suction goes from {before} back to {after}: a soil that is wetted again holds less.",
    "Type suctions that rise; leave out what was read on the way back.",
)
MASS_RISES = stop(
    "mass-rises",
    "{mass_g:.2f g} at {at} is more than {before:.2f g} at {before_at}: water went in, or another apparatus"
    " was weighed.",
    "Weigh again, wipe the apparatus dry, look at the number on it.",
)
LEFT_EARLY = warn(
    "left-early",
    "{at} {said} when it was left, the rule is {stable_g_day:g g} a day.",
    "Stay at the step in hand until it is stable; this one reads too wet.",
)
SUDDEN_LOSS = warn(
    "sudden-loss",
    "At {at} far more water went than the days before: a leak, or air through the plate.",
    "Look for bubbles below the plate; tighten the cell or saturate the plate again.",
)
COLUMN = warn(
    "column",
    "From {read:g} to {after_read:g} {unit} is a factor of {largest:.0f}: was one read on the {other}?",
    "Mercury is {times:g} times as heavy; say in its row what each was read in.",
)
GAUGE_IN_KPA = stop(
    "gauge-in-kpa",
    "{read:g bar} is more than a cell stands: kPa or cm?",
    "Type bar, or say in the row what it was read in.",
)
BEYOND_RATING = stop(
    "beyond-rating",
    "{at} is beyond what plate and cell are rated to, {rated_kpa:g kPa}: air goes through.",
    "Release it; leave the step out with the reason, end here or go on with another plate.",
)
POORLY_KNOWN = note(
    "poorly-known",
    "{curve} is known badly: {poor}, one standard error.",
    "Take more steps around the bend of the curve; use the measured points rather than the parameters.",
)
ABOVE_POROSITY = stop(
    "above-porosity",
    "{water:.1f %} of water in pores of {porosity:.1f %}.",
    "Check volume, dry mass and the masses of ring and apparatus.",
)
BELOW_DRY = stop(
    "below-dry", "Less water than none: the dry mass, ring or apparatus is too heavy.", "Check the three masses."
)
OTHER_FITS_BETTER = note(
    "other-fits-better", "{name} fits clearly better than {chosen_name}.", "Look at the figure; choose it under School."
)
NOT_FULL = warn(
    "not-full",
    "Saturated, the ring holds {water:.0f %} of water in pores of {porosity:.0f %}.",
    "Look at the volume and the mass of the ring; saturate again if both are right.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

DIAL_MISREAD = stop(
    "dial-misread",
    "Cylinder {number}: {dial:g} on a dial of 0 to 10.",
    "Read it again: {rather:g}? Or say under School that the moisture is percent by volume.",
)
MOISTURE_HIGH = stop(
    "moisture-high",
    "Cylinder {number}: {moisture:g %} by volume is more than the pores of a soil hold.",
    "Is it percent of saturation? Then choose the dial, or multiply by the porosity.",
)
MORE_THAN_PORES = stop(
    "more-than-pores",
    "Cylinder {number}: {moisture:g %} by mass are {held:.0f %} by volume in pores of {pores:.0f %}.",
    "Look at the dry density in g/cm³ and at the water content, of the soil right below.",
)
STANDS = warn(
    "stands-still",
    "Cylinder {number}: from {minute:g min} on the head stands at {head:g mm} with water left.",
    "Look whether the gauge touches the ground or the plate; leave out what follows with the reason.",
)
GAP = warn(
    "gap",
    "Cylinder {number}: the record has nothing between {from_min:g [min]} and {to_min:g min}.",
    "Look whether the logger was stopped or water was added meanwhile; say so in the remarks, or end the record there.",
)
MOISTURE_NOT_RISEN = stop(
    "moisture-not-risen",
    "Cylinder {number}: the ground is no wetter after ({moisture_after:g}) than before ({moisture_before:g}).",
    "Look whether the two are exchanged; measure right below the cylinder.",
)
RIM_LEAKS = warn(
    "rim-leaks",
    "Water comes up beside the rim: it does not go through the ground below.",
    "Drive the cylinder deeper or move it, and begin again with a dry place.",
)
TIME_TWICE = stop(
    "time-back",
    "Cylinder {number}: {minute:g min} stands twice.",
    "Leave one of the two rows out with the reason, or put it right.",
)
TIME_BACK = stop(
    "time-back",
    "Cylinder {number}: {minute:g min} stands after {earlier:g min}.",
    "Put the readings in the order in which they were taken.",
)
HEAD_RISING = warn(
    "head-rising",
    "Cylinder {number}: the head rises from {before:g [mm]} to {after:g mm} at {minute:g min}.",
    "Read again. Water added? Then the record ends there; leave out what follows with a reason.",
)
NO_START = stop(
    "no-start",
    "Cylinder {number}: the record begins at {minute:g min}; the head at the start is not known.",
    "Type the head at 0 min.",
)
START_LOW = warn(
    "start-low",
    "Cylinder {number}: it starts at {head_mm:g mm}, at least {least_start_mm:g mm}.",
    "Fill the next one higher.",
)
LEAK_AT_RIM = warn(
    "leak-at-rim",
    "Cylinder {number}: {fell:.0f mm} are gone after {minute:g min}, the ground takes {mm:.0f mm}: a leak at the rim.",
    "Look for water beside the cylinder. Move it, drive it deeper, press the ground against it, begin again.",
)
STOPPED_EARLY = note(
    "stopped-early",
    "Cylinder {number}: stopped with {last:g mm} left: the band is wider than it could be.",
    "Let the next one run empty, with a logger overnight where the ground is slow.",
)
CLAY_IN_MINUTES = warn(
    "clay-in-minutes",
    "Cylinder {number}: {minutes:g min} are too short to judge clay.",
    "Let it run for hours; a clay takes a day.",
)
FRONT_INSIDE = warn(
    "front-inside",
    "Cylinder {number}: the wet front is still inside the cylinder: the readings say more of the seal than of the"
    " ground.",
    "Go on below {clear_head_mm:.0f mm}.",
)
FIT_POOR = warn(
    "fit-poor",
    "Cylinder {number}: the readings scatter by {misfit_mm:.0f mm} about the model.",
    "Look at the figure for the reading that is off; leave it out with a reason.",
)
SUCTION_UNDETERMINED = note(
    "suction-undetermined",
    "Cylinder {number}: the record does not determine the suction; Ks carries the decision.",
    "Nothing to do; a longer record would tell more.",
)
TEMPERATURE_MIXED = warn(
    "temperature-missing",
    "{missing} of {count} cylinders have no water temperature: the site's value is as measured, none at 20 °C.",
    "Type the water's temperature of each cylinder; then all are taken to 20 °C.",
)
PLACES_APART = warn(
    "places-apart",
    "The places differ by a factor of {factor:.1f}, {least:.3g [mm/h]} to {most:.3g mm/h}.",
    "Look at the ground of both; run more cylinders, or let the lowest stand for the site under School.",
)
KS_FOR_SOIL = warn(
    "ks-for-soil",
    "{ks:.2g mm/h} is not that of {soil}, {low:g [mm/h]} to {high:g mm/h} as a rule.",
    "Look whether seconds were typed for minutes or cm for mm; else look at the ground again.",
)

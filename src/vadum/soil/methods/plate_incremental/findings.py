"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

PIT_NARROW = warn(
    "pit-narrow",
    "A pit {pit:g m} wide is less than five plate widths, {metres:g m}: the ground beside the plate is loaded.",
    "Widen the pit at the level of the plate.",
)
WIDTH_OF_PIT = warn(
    "width-of-pit",
    "{base:g m} is the pit's width. B is the footing's width, never the pit's.",
    "Type the width of the footing that is planned.",
)
PLATE_SMALL = warn(
    "plate-small", "The plate is less than four times the largest grain, {grain:g mm}.", "Use a larger plate."
)
SEATING_HELD = warn(
    "seating-held", "The seating load was not released before zero.", "Release it, zero the gauges, begin again."
)
DIVISIONS_FOR_MM = stop(
    "divisions-for-mm",
    "{settlement_mm:g mm} in the first stage cannot be: dial divisions?",
    "Type the gauges in mm: divisions of a hundredth over 100.",
)
TIME_TWICE = stop(
    "time-back",
    "{pressure_kpa:g kPa}: {t1:g min} stands twice.",
    "Leave one of the two rows out with the reason, or put it right.",
)
TIME_BACK = stop(
    "time-back",
    "{pressure_kpa:g kPa}: {t1:g min} stands after {t0:g min}.",
    "Put the readings in the order in which they were taken.",
)
LOADED_EARLY = warn(
    "loaded-early",
    "{pressure_kpa:g kPa} was left {said}, the rule is {rate}.",
    "Hold the stage in hand to the rule; this one counts with less settlement than it had.",
)
GAUGES_APART = warn(
    "gauges-apart",
    "{pressure_kpa:g kPa}: the gauges are {spread:.2f mm} apart, mean {mean:.2f mm}: the plate tilts.",
    "Look whether the jack is plumb and centred. If it goes on tilting, unload and bed the plate again.",
)
SETTLEMENT_FALLS = stop(
    "settlement-falls",
    "From {p0:g [kPa]} to {p1:g kPa} the plate rises, {s0:.2f [mm]} to {s1:.2f mm}.",
    "Read the gauges again: a turn miscounted, a slipped foot, or columns exchanged.",
)
# Relieved ground rebounds (ASTM D1194 reads the rebound): on the way back the gauges only ever fall.
SETTLES_RELIEVED = warn(
    "settles-relieved",
    "From {p0:g [kPa]} back to {p1:g kPa} the plate settles on, {s0:.2f [mm]} to {s1:.2f mm}.",
    "Read the gauges again; leave a reading that was misread out with a reason.",
)
NOT_ZEROED = warn(
    "gauges-not-zeroed",
    "At the first reading the gauges are {apart:.2f mm} apart: they did not begin at nothing.",
    "Type a first row of no pressure with what each gauge showed.",
)
ONE_GAUGE = warn(
    "one-gauge",
    "One gauge cannot show that the plate tilts.",
    "Set a second one opposite before the next increment, else at the next place.",
)
KN_FOR_KPA = stop(
    "kn-for-kpa",
    "{pressure_kpa:g} is the force in kN of about {meant:g kPa} on this plate.",
    "Type the pressure in kPa: force over {area:.4f m²}.",
)
INCREMENT_LARGE = warn(
    "increment-large",
    "From {base:g [kPa]} to {pressure_kpa:g kPa} is more than the increment planned.",
    "Add at most {planned:g kPa} at a time.",
)
GAUGE_ODD = warn(
    "gauge-odd",
    "Gauge {number} moves {step:+.2f mm} while the others move {middle:+.2f mm}.",
    "Read it again: a turn miscounted, or its foot slipped. Leave the row out with a reason if it cannot be right.",
)
GAUGE_BLANK = warn(
    "gauge-blank",
    "Gauge {number} is read in one row and not in the next: by that alone the mean moves {shift:+.2f mm}.",
    "Type it if it was noted; else leave the row out with the reason.",
)
FEW_INCREMENTS = warn(
    "few-increments", "{count} increments, at least {least_stages}.", "Take smaller steps at the next place."
)
NEVER_NEAR_YIELD = note(
    "never-near-yield",
    "The ground did not yield up to {pressure_kpa:g kPa}: that is a lower bound, not an ultimate pressure.",
    "Report it as “above”, or load a heavier reaction.",
)
NOT_DETERMINED = stop(
    "allowable-open",
    "The allowable pressure is not determined: {missing}; loaded was {tested:g kPa}.",
    "Load further at the next place, or report no more than the {tested:g kPa} that were loaded.",
)
PLATE_FAILS_FIRST = note(
    "plate-below-footing",
    "The plate itself fails at {ultimate:.0f kPa}, below the {allowable:.0f kPa} taken over to the footing.",
    "Look at the ground below the plate and the rule for sand: width makes sand stronger, a weak layer does not.",
)
FAR_FROM_PLATE = warn(
    "footing-far-wider",
    "The footing is {ratio:.1f} times as wide as the plate: it reaches ground that the plate never loaded.",
    "Take a larger plate, or sound the ground to twice the footing's width.",
)
TOO_FEW_FOR_LINES = warn(
    "too-few-for-lines",
    "{count} increments make no two lines: they say neither that the ground yielded nor that it did not.",
    "Take at least four increments at the next place; the largest pressure loaded is all that is known.",
)
FAILED_WITHOUT_YIELD = stop(
    "failed-without-yield",
    "Loading ended by failure at {pressure_kpa:g kPa}, and the curve shows no yield.",
    "Look at the last increments: read too early, too large to show it, or ended for another reason.",
)
ENDED_EARLY = warn(
    "ended-early",
    "Loading ended at {pressure_kpa:g kPa}, less than twice the design pressure of {design_kpa:g kPa}.",
    "Go on to three times it, to 25 mm or to failure.",
)
LOADED_AGAIN = note(
    "loaded-again",
    "After it was unloaded the plate stood under {pressure_kpa:g kPa} again: only new pressures count as loading.",
    "Look whether rows stand there twice, and leave them out; else say in the remarks why it was loaded again.",
)
REBOUND_PARTIAL = warn(
    "rebound-partial",
    "The last unloading read is at {pressure_kpa:g kPa}: the rebound is that of a part.",
    "Take all load off and read the gauges; else the sheet says to which pressure.",
)
REBOUND_MISSING = note(
    "rebound-missing",
    "No unloading is read: the rebound is unknown.",
    "Read the gauges at half, a quarter and no load.",
)

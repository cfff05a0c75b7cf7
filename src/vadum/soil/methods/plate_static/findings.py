"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

PLATE_SMALL = warn(
    "plate-small", "Grains of {grain:g mm} are more than a quarter of the plate, {size:g mm}.", "Use {larger}."
)
BEDDING_SOFT = stop(
    "bedding-soft", "The gypsum has not set.", "Wait until a thumbnail leaves no mark, then preload and zero again."
)
REACTION_LIFTED = stop(
    "reaction-lifted",
    "The reaction lifted: the last pressure was not held.",
    "Unload, bring a heavier reaction, begin again beside this place.",
)
TILTED = warn("tilted", "The plate tilted.", "Unload, bed the plate level, begin again beside this place.")
DATUM_NEAR = warn(
    "datum-near",
    "The datum stands {datum_m:g m} from the plate, at least {least_datum_m:g m}: it settles with the ground.",
    "Move its feet away and zero again.",
)
REACTION_NEAR = warn(
    "reaction-near",
    "The reaction stands {reaction_m:g m} from the plate, at least {near:g m}: it presses on the same ground.",
    "Move the vehicle away.",
)
PRELOAD_SHORT = warn(
    "preload-short", "The preload was held {preload_s:g s}, at least 30 s.", "Preload again, then zero the gauge."
)
LEVER_MISSING = stop(
    "lever-missing",
    "The beam's lever is not measured: gauge readings are not settlements.",
    "Measure pivot to plate and pivot to gauge.",
)
KN_FOR_KPA = stop(
    "kn-for-kpa",
    "Stage {number}: {applied:g} is the force in kN of {planned:g kPa} on this plate.",
    "Type {planned:g kPa}, or the force with its unit over the area of {area:.4f m²}.",
)
APPLIED_OFF = stop(
    "applied-off",
    "Stage {number}: {applied:g kPa} for the {planned:g kPa} planned{slip}",
    "Type the pressure that stood below the plate, in kPa; or correct what was planned.",
)
PRESSURE_DIPS = warn(
    "pressure-dips",
    "Stage {number}: {pressure:g kPa} after {before:g kPa}, inside the first loading.",
    "Type the pressure that was held; leave the stage out if it was lost.",
)
GAUGES_APART = warn(
    "gauges-apart",
    "Stage {number}: the gauges are {apart:.2f mm} apart, at a mean of {mean:.2f mm}.",
    "Read them again; if it is so, the plate tilts: unload, bed it level, begin again.",
)
LOADED_LOW = warn(
    "loaded-low",
    "The first loading ended at {kpa:g kPa} and {mm:.1f mm}; it goes to {last:g kPa} or {ends:g mm}.",
    "Load the next place to the end; say in the remarks why this one was not.",
)
LOADED_FAR = warn(
    "loaded-far",
    "{mm:.1f mm} at {kpa:g kPa} had reached the settlement of {ends:g mm}, and the loading went on.",
    "End the first loading there at the next place; the moduli are those of the larger pressure.",
)
UNLOADING_COARSE = warn(
    "unloading-coarse",
    "Unloaded without a stage near {missing} % of {largest:g kPa}.",
    "Unload at 50 and 25 % and almost to nothing at the next place.",
)
SECOND_SOFTER = warn(
    "second-softer",
    "Ev2 {ev2:.1f MPa} is below Ev1 {ev1:.1f MPa}: ground loaded before is not softer.",
    "Look at the last unloading reading and the first of the second loading.",
)
NOT_AT_REST = warn(
    "not-at-rest",
    "Stage {number}: {mm:.2f mm} in the last minute, at most {most:g mm}.",
    "Wait at the next stages until it is less.",
)
SUBGRADE_PLATE = stop(
    "subgrade-plate",
    "ks is that of a plate of {asked:g mm}; this one has {size:g mm}.",
    "Choose the plate of 762 mm, or report the moduli of this one.",
)
SETTLEMENT_MISSED = stop(
    "settlement-missed",
    "The loading ended at {mm:.2f mm}, before the {asked:g mm} at which ks is read.",
    "Load on until the plate has settled that far.",
    awaited=True,
)
STAGE_SHORT = warn(
    "stage-short",
    "Stage {number} was held {hold_s:g s}, {asked:g s} are asked.",
    "Hold the next ones to the end of the clock.",
)
RELOAD_TOO_FAR = warn(
    "reload-too-far",
    "The second loading goes to the last stage of the first: the ground is loaded anew there.",
    "End it at the last but one; leave this stage out.",
)
DIVISIONS_FOR_MM = stop(
    "divisions-for-mm",
    "{settlement:g mm} under {pressure:g kPa} cannot be: dial divisions?",
    "Type the settlement in mm: divisions of a hundredth over 100.",
)
SETTLEMENT_FALLS = stop(
    "settlement-falls",
    "From {p0:g [kPa]} to {p1:g kPa} the gauge goes back, {s0:.2f [mm]} to {s1:.2f mm}.",
    "Read the gauge again: a turn miscounted, a slipped foot, or the plate tilts.",
)
# Relieved ground rebounds, DIN 18134 and ASTM D1194 alike: on the way back the gauge only ever falls.
SETTLES_RELIEVED = warn(
    "settles-relieved",
    "From {p0:g [kPa]} back to {p1:g kPa} the plate settles on, {s0:.2f [mm]} to {s1:.2f mm}.",
    "Read the gauge again; leave a reading that was misread out with a reason.",
)
FEW_STAGES = warn(
    "few-stages", "{count} stages of first loading, at least {least_stages}.", "Take smaller steps at the next place."
)
UNLOADING_MISSING = stop(
    "unloading-missing",
    "No unloading is read: the second loading has no start.",
    "Unload at 50, 25 and 2 % before loading again.",
)
CURVE_UNUSABLE = stop(
    "curve-unusable",
    "The {name} loading does not settle more with load: no modulus can be had.",
    "Look for a gauge that sticks; leave odd readings out with a reason.",
)
SCHOOLS_APART = warn(
    "schools-apart",
    "{what} loading: {quadratic:.1f MPa} by the curve, {secant:.1f MPa} by the secant.",
    "Look at the curve: a reading off it, or a plate that bedded in. Leave it out with a reason, or test again.",
)
READING_ODD = warn(
    "reading-odd",
    "{settlement:.2f mm} at {pressure:g kPa} lies {mm:.2f mm} off the {name} loading's curve.",
    "Read the gauge again; leave it out with a reason if it cannot be right.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

GRANULAR = stop(
    "granular",
    "In {soil} the vane gives only an index of compaction, no undrained strength.",
    "Report the readings as an index; use a penetration test for strength.",
)
PIN_LEFT = stop(
    "pin-left",
    "The pin was left in while driving: the vane has sheared the ground already.",
    "Drive on by half a metre with the pin drawn and read there.",
)
CONSTANT_MISSING = stop(
    "constant-missing",
    "Without the vane's constant a reading is no strength.",
    "Take it from the calibration of this vane.",
)
SIZE_MISSING = stop("size-missing", "Without the vane's size a torque is no strength.", "Measure diameter and height.")
VANE_UNKNOWN = stop(
    "vane-unknown",
    "{at}: vane {vane} is not described.",
    "Write its number with its constant or size under the vanes changed to.",
)
VANE_UNUSED = warn(
    "vane-unused",
    "Vane {vane} is described and no depth was read with it.",
    "Write its number at the depth where it was changed to; leave its line out if it was not used.",
)
REMOULDED_HIGHER = stop(
    "remoulded-higher",
    "{at}: remoulded {remoulded:g} is more than the peak, {peak:g}.",
    "Look whether the two are exchanged; turn ten times and read again.",
)
FRICTION_HIGH = stop(
    "friction-high",
    "{at}: the rods take {friction:g} of {peak:g}: nothing is left for the vane.",
    "Clean and oil the rods, use the slip coupling, read again.",
)
WRONG_VANE = warn(
    "wrong-vane",
    "{at}: {peak:g} is {percent:.0f %} of full scale, {full_scale:g}.",
    "Change to the {size} vane for the next depth.",
)
RATE_OFF = warn(
    "rate-off",
    "{at}: the peak came after {seconds_to_peak:g s}, too {which}.",
    "Turn at 6 to 12 degrees a minute: about two minutes to the peak.",
)
FEW_TURNS = warn("few-turns", "{at}: {turns:g} turns do not remould the ground.", "Turn ten times, then read.")
DEPTH_TWICE = stop("depth-back", "{depth_m:g m} stands twice.", "Read the mark on the rods again.")
DEPTH_BACK = stop("depth-back", "{depth_m:g m} does not lie below {last:g m}.", "Read the mark on the rods again.")
STEP_OFF = warn(
    "step-off",
    "From {last:g [m]} to {depth_m:g m} the step is {step:.2f m}, not {step_m:g [m]}.",
    "Read the mark on the rods again; say why if a depth was left out.",
)
JUMP = warn(
    "jump",
    "{depth_m:g m}: {peak_kpa:.0f kPa} stands out, {median:.0f kPa} around it: a stone, a shell, a root?",
    "Draw the vane, look, go on half a step deeper; leave the depth out with the reason.",
)
PI_UNKNOWN = warn(
    "pi-unknown",
    "The PI is not known: the strength is printed as measured.",
    "Type the PI, or run the limits of a sample from here.",
)
VANE_SHAPE = warn(
    "vane-shape",
    "A vane {height_mm:g [mm]} high and {diameter_mm:g mm} wide: vanes are one to two and a half times as high.",
    "Look whether the two are exchanged; measure the vane.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

UTILITIES = stop("utilities", "Utilities are not located.", "Do not break the ground before they are.")
DIAMETER_FOR_RADIUS = warn(
    "diameter-for-radius",
    "{hole_radius_mm:g mm} is an auger's usual diameter, a hole of radius {hole_radius_mm:g mm} would be {across:g mm}"
    " wide.",
    "Type the radius, {half:g mm}, if that is the diameter.",
)
HEAD_UNUSUAL = warn("head-unusual", "A head of {head:g mm}; 50 to 250 mm is usual.", "Look at the unit: mm, not cm.")
HEAD_ABOVE_HOLE = stop(
    "head-above-hole", "A head of {head:g mm} in a hole {hole_depth_mm:g mm} deep.", "Measure both again."
)
SIZES_DIFFER = warn(
    "sizes-differ",
    "Radius {typed:g mm} and diameter {across:g mm} are not of one hole: half of it is {half:g mm}, which counts.",
    "Clear the one that is not so.",
)
SLENDER = warn(
    "slender",
    "A head of {head:g mm} is {ratio:.2g} times the radius; the shape factor holds from {least:g} to {most:g}.",
    "Look at head and diameter, in mm; give the reason where it is so.",
)
STUCK = stop(
    "stuck",
    "Head {number}: the level stands for {stood:g min}: the valve is shut, or air holds it.",
    "Open the valve, tap the tube, look for bubbles; leave those rows out with the reason.",
)
SCALE_RISES = stop(
    "scale-rises",
    "Head {number}: every level is above the one before.",
    "Choose a scale that rises under School, or look whether the rows are turned round.",
)
HEAD_2_MISSING = stop(
    "head-2-missing",
    "Levels or result of a second head, and no head 2.",
    "Measure and type the second head, or report by one head.",
)
HEADS_EXCHANGED = stop(
    "heads-exchanged",
    "{larger:g mm} of water took less than {smaller:g [mm]} did.",
    "Look whether the two heads, or their rows, are exchanged.",
)
CLASS_CONTRADICTED = warn(
    "class-contradicted",
    "The two heads say α* {alpha:.2g} per cm; the class “{soil}” has {usual:g}.",
    "Look at the soil that came out of the hole and choose its class; else repeat with heads further apart.",
)
HEADS_ALIKE = warn(
    "heads-alike",
    "Heads of {head_1_mm:g [mm]} and {head_2_mm:g mm} are too alike for two unknowns.",
    "Take the second at twice the first.",
)
BEYOND_REACH = stop(
    "beyond-reach",
    "The hole is {hole_depth_mm:g mm} deep, the frame reaches {reach_mm:g mm}.",
    "Use an extension, or test in a pit.",
)
SMEAR = warn(
    "smear", "The wall is not brushed: an auger smears clay and silt shut.", "Brush it, clean the hole, begin again."
)
WATER_TABLE = warn(
    "water-table",
    "The water table at {water_table_m:g m} is less than {least:g m} below the hole.",
    "The rate holds for this water table only; a design needs the distance its code asks for.",
)
SECTIONS = stop(
    "sections",
    "The inner section, {inner_cm2:g cm²}, is not smaller than the combined one, {combined_cm2:g cm²}.",
    "Look whether the two are exchanged.",
)
TIME_TWICE = stop(
    "time-back", "{elapsed_min:g min} stands twice.", "Leave one of the two rows out with the reason, or put it right."
)
TIME_BACK = stop(
    "time-back",
    "{elapsed_min:g min} stands after {last:g min}.",
    "Put the levels in the order in which they were read.",
)
LEFT_UNSTEADY = warn(
    "left-unsteady",
    "Head {number} was left before its rate was steady.",
    "Read it on until the last rates agree, or leave its rows out with a reason.",
)
LEVEL_RISES = warn(
    "level-rises",
    "Head {number}: the level rises until {to_min:g min}: filled up, or air went in?",
    "Say refilled in that row, or leave it out with a reason.",
)
RATE_JUMPS = warn(
    "rate-jumps",
    "Head {number}: the rate jumps from {mm_min:.2g [mm/min]} to {b_mm_min:.2g mm/min} at {to_min:g min}.",
    "Air in the tube, another reservoir, or misread: read again.",
)
NEVER_STEADY = warn(
    "never-steady",
    "Head {number}: {count} rates and the last {steady_rates} still differ by more than {within_percent:g %}.",
    "Go on with longer intervals; look for a leak beside the hole.",
)
TWO_HEADS_NEGATIVE = note(
    "two-heads-negative",
    "The two heads give a negative solution: layers, cracks or an unsteady rate.",
    "The mean of both one-head values is reported; repeat with more distance between the heads.",
)
SMEAR_SUSPECTED = warn(
    "smear-suspected",
    "Kfs of {kfs_mm_h:.2g mm/h} is very low for sand: the wall may be smeared, or the section is of the wrong tube.",
    "Brush the wall and repeat; look which reservoir was open.",
)
FAST_FOR_CLAY = warn(
    "fast-for-clay",
    "Kfs of {kfs_mm_h:.3g mm/h} is that of sand, the class says clay.",
    "Look at the section of the reservoir in use, and at the class.",
)
RESERVOIRS_ODD = warn(
    "reservoirs-odd",
    "Both tubes together have {ratio:.1f} times the section of the inner one; 10 to 25 is usual.",
    "Read both sections on the reservoir, in cm²; take them from the register if the piece stands there.",
)

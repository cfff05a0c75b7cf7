"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

GROOVE_WORN = stop("groove-worn", "A groove is felt in the cup.", "Replace the cup; inspect the new one.")
CUP_THIN = stop(
    "cup-thin", "The wall is down to {thickness:g %} of a new cup.", "Replace the cup; inspect the new one."
)
WALL_THIN = stop("cup-thin", "The wall is down to less than half.", "Replace the cup; inspect the new one.")
CUP_LIFTS = warn(
    "drop-height",
    "The cup lifts off the gauge block: it drops more than 10 mm.",
    "Turn the adjusting screw until the block pings and the cup does not lift; tighten and try again.",
)
CUP_SILENT = warn(
    "drop-height",
    "The cup stays silent on the gauge block: it drops less than 10 mm.",
    "Turn the adjusting screw until the block pings and the cup does not lift; tighten and try again.",
)
DROP_WRONG = warn(
    "drop-height",
    "Drop {drop:g mm} is outside 10 ± {drop_tolerance_mm:g mm}.",
    "Turn the adjusting screw until the gauge block just passes at the worn spot; tighten and measure again.",
)
FOOT_MISSING = warn("foot-missing", "{feet} of 4 feet in place.", "Fit the missing foot before use.")
TOOL_TIP = warn("tool-tip", "The tool's tip is {tip:g mm}, not 2.0 ± 0.1.", "Take another grooving tool.")
BASE_REBOUND = warn("base-rebound", "Base rebound {rebound:g %} is outside 77–90 %.", "Have the base replaced.")
CUP_WORN = stop(
    "contact-worn", "The worn spot on the cup is {spot:g mm}, more than {widest_spot_mm:g [mm]}.", "Replace the cup."
)
BASE_WORN = stop(
    "contact-worn",
    "The worn spot on the base is {spot:g mm}, more than {widest_spot_mm:g [mm]}.",
    "Have the base faced or replaced.",
)

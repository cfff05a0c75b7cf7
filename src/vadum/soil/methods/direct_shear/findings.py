"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

SCREWS_LEFT_IN = stop(
    "screws-left-in",
    "The screws of the box were left in: the force is the box's, not the soil's.",
    "Take them out, lift the upper half by a grain, shear a new specimen.",
)
HANGER_MISSING = warn(
    "hanger-missing",
    "No hanger mass: every normal stress is too small by it.",
    "Weigh the hanger as it acts on the specimen.",
)
DENSITY_IMPOSSIBLE = stop(
    "density-impossible",
    "Specimen {number}: {rho:.2f g/cm³} cannot be.",
    "Check container before and after, height and side.",
)
DENSITIES_APART = warn(
    "densities-apart",
    "The densities differ by {off:.1f %}; specimen {far} has {densitie:.3f g/cm³}, mean {mean:.3f [g/cm³]}.",
    "Fill the next ones to the same mass and height.",
)
STILL_RISING = stop(
    "still-rising",
    "Specimen {number}: the force still rises at {horizontal_mm:.1f mm}, {travelled:.0f %} of the box.",
    "Go on to {travel_percent:g %} of the box or until it falls.",
    goes_on=True,
)
ONE_PASS = stop(
    "one-pass",
    "Specimen {number}: one pass only; the residual strength needs two that end alike.",
    "Push the box back and shear it again, until two passes end alike.",
    awaited=True,
)
STILL_FALLING = stop(
    "still-falling",
    "Specimen {number}: the last pass ended {apart:.0f %} below the one before: it still falls.",
    "Push the box back and shear it once more, until two passes end within {within:g %}.",
)
PASS_HIGHER = warn(
    "pass-higher",
    "Specimen {number}: the last pass ended {apart:.0f %} above the one before.",
    "Look for soil squeezed between the halves of the box; take one pass more, or leave the last one out.",
)
DRY_HEAVIER = stop(
    "dry-heavier",
    "Specimen {number}: dry {dry:.2f g}, more than the {moist:.2f g} that went in.",
    "Take the container's mass off the dry mass, or look for exchanged specimens.",
)
LIMITS_TURNED = warn(
    "limits-turned",
    "Loosest {loosest:g [g/cm³]}, densest {densest:g g/cm³}: the loosest sand is the lighter one.",
    "Look whether the two are exchanged; both are of the sand's own test.",
)
RELATIVE_ODD = warn(
    "relative-odd",
    "Specimen {number}: relative density {relative:.0f %}, outside its own limits.",
    "Look at the loosest and densest dry density, then at the dry mass and the height.",
)
TRAVEL_BACK = stop(
    "travel-back",
    "Specimen {number}: the travel goes back at {horizontal_mm:.2f mm}.",
    "Look whether two specimens are mixed, or the gauge slipped.",
)
ZERO_NOT_TAKEN = warn(
    "zero-not-taken",
    "Specimen {number}: {shear_kpa:.1f kPa} before anything moved.",
    "Zero the load cell before shearing; subtract it if it is known.",
)
SPIKE = stop(
    "spike",
    "Specimen {number}: a stiff spike at the start that falls again: were the screws in?",
    "Look at the screws and at the gap; shear a new specimen.",
)
FORCE_IN_KG = warn(
    "force-in-kg",
    "Shear stresses of {percent:.0f %} of the normal ones: is the force in kg?",
    "Multiply by 9.81, or set the unit when importing.",
)
TOO_FEW_STRESSES = stop(
    "too-few-stresses",
    "{count} normal stresses, at least {least}.",
    "Shear another specimen under a different load.",
    awaited=True,
)
STRESSES_CLOSE = warn(
    "stresses-close",
    "The normal stresses span {least:.0f [kPa]} to {largest:.0f kPa}, less than a factor of {factor:g}.",
    "Shear another specimen under a smaller or larger load.",
)
DIAL_BEGAN = note(
    "dial-began",
    "Specimen {number}: the dial began at {began:g mm}; its way counts from there.",
    "Look whether the first lines are missing; else nothing to do.",
)
COHESION_NEGATIVE = warn(
    "cohesion-negative",
    "The free line meets the axis at {cohesion:.1f kPa}, with φ′ {phi:.1f °}: reported without cohesion.",
    "Look at hanger, cap and lever first; c′ = 0 stands on the sheet.",
)
SPECIMEN_OFF = warn(
    "specimen-off",
    "Specimen {number} lies {off:.0f kPa} {side} the line of the others.",
    "Count the masses on its hanger again and look at its density; leave it out with the reason, or shear another.",
)
ENDED_EARLY = warn(
    "ended-early",
    "Specimen {number} ended at {ended:g mm} while its stress still fell; another went to {longest:g mm}.",
    "Go on with it if it is still in the box; else do not use the line through the ends, or shear another one as far.",
)
ORDER_ODD = warn(
    "order-odd",
    "Specimen {number} under {normal_kpa:.0f kPa} is weaker than specimen {a_number} under {a_normal_kpa:.0f kPa}.",
    "Look whether loads or records are exchanged.",
)
TOO_FAST = warn(
    "too-fast",
    "{rate_mm_min:g mm/min} is too fast for t50 of {t50_min:g min}: the clay does not drain.",
    "Shear at {fastest:.2g mm/min} or slower.",
)
VERTICAL_REVERSED = warn(
    "vertical-reversed",
    "Specimen {number} contracts by {degrees:.0f °} at a peak {over:.0f %} above its end: dense soil rises there.",
    "Look which way the vertical gauge counts; type the column anew with up positive.",
)

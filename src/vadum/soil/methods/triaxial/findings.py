"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

B_LOW = stop(
    "b-low",
    "Specimen {number}: B {b:.2f} is below {least_b:g}: it is not saturated.",
    "Raise cell and back pressure by another step, wait, measure B again.",
)
B_HIGH = warn(
    "b-high",
    "Specimen {number}: B {b:.2f} cannot be: is the transducer zeroed?",
    "Zero the transducer, look for air in the line.",
)
CELL_NOT_ABOVE_BACK = stop(
    "cell-not-above-back",
    "Specimen {number}: cell {cell_kpa:g kPa} is not above back pressure {back_kpa:g kPa}.",
    "Raise the cell pressure before anything else: the membrane swells off.",
)
SLENDERNESS = warn(
    "slenderness", "Specimen {number}: L/D {ratio:.2f} is not about 2.", "Trim the next one to twice its diameter."
)
LEAK = stop(
    "leak",
    "The volume drifts by {leak_cm3_h:g cm³} an hour with everything held: it leaks.",
    "Look at membrane, O-rings and valves; do not shear.",
)
PATCHED = note("patched", "Voids of stones were patched.", "Say so on the sheet.")
DRAINING_UNREAD = warn(
    "draining-unread",
    "Specimen {number}: much of its water came out from {low:g [min]} to {high:g min}, where nothing was read.",
    "Add the readings that are missing; if there are none, type t90 and t50 by hand or shear as slowly as the others"
    " ask for.",
)
TOO_FAST = warn(
    "too-fast",
    "{rate_mm_min:g mm/min} is too fast for {slowest}: pore pressures do not even out.",
    "Shear at {fastest:.2g mm/min} or slower.",
)
PEAK_NOT_PASSED = stop(
    "peak-not-passed",
    "Specimen {number}: the deviator still rises at {strain_percent:.1f %}.",
    "Go on to a peak or to {limit:g %}.",
    goes_on=True,
)
PORE_ABOVE_CELL = stop(
    "pore-above-cell",
    "Specimen {number}: the pore pressure exceeds the cell pressure.",
    "Look at the transducers' zero; the two may be exchanged.",
)
PRESSURES_CLOSE = warn(
    "pressures-close",
    "The pressures span {least:.0f [kPa]} to {largest:.0f kPa}: the envelope is hardly a line.",
    "Run another specimen at twice the smallest.",
)
CIRCLE_ODD = warn(
    "circle-odd",
    "Specimen {worst}: its circle misses the tangent of the others by {percent:.0f %} of its radius.",
    "Look at its density, its B and its rate; leave it out with a reason.",
)
UU_NOT_LEVEL = warn(
    "uu-not-level",
    "The strengths differ, {least:.0f [kPa]} to {largest:.0f kPa}: undrained circles of saturated clay are alike.",
    "Look at saturation and at the samples' state; report each circle, not a mean, where they are two soils.",
)
PHI_UNDRAINED = warn(
    "phi-undrained",
    "The radii grow with the cell pressure as if φu were {phi:.0f °}: a saturated clay has none.",
    "Look whether the specimens were saturated and of one kind; partly saturated soil has no single cu.",
)
COHESION_NEGATIVE = warn(
    "cohesion-negative",
    "The free line meets the axis at {cohesion:.1f kPa}, with φ′ {phi:.1f °}: reported without cohesion.",
    "Look at pore pressures, membrane and the weakest circle first; c′ = 0 stands on the sheet.",
)
NO_B = warn(
    "b-not-measured",
    "Specimen {number} was sheared, and no B is written.",
    "Type the last step of saturation; without it nobody knows whether it was saturated.",
)
NO_PORE = stop(
    "pore-not-read",
    "Specimen {number}: no pore pressure at failure, so there is no effective circle.",
    "Type the pore pressures of the shearing, or choose another kind of test under School.",
)
NO_VOLUME = warn(
    "volume-not-read",
    "Specimen {number}: no water out while it was sheared; its area is taken as if it had kept its volume.",
    "Type the volumes of the shearing.",
)
ORDER_ODD = warn(
    "order-odd",
    "Specimen {number} under {more:.0f kPa} is weaker than specimen {other} under {less:.0f [kPa]}.",
    "Look whether the two are exchanged; else at density and B of the weaker one.",
)
TWO_SPECIMENS = warn(
    "two-specimens",
    "Two circles make the envelope: nothing can say how well it is known.",
    "Shear a third where there is soil; the sheet prints the reason given.",
)
ONE_SPECIMEN = warn(
    "one-specimen",
    "One circle makes no envelope: φ′ is that of its secant, with c′ = 0.",
    "Shear two more where there is soil; the sheet prints the reason given.",
)
TIME_DIFFERS = warn(
    "time-differs",
    "Specimen {number}: {name} typed as {typed:g min}, the readings say about {built:.3g min}.",
    "Look at the unit and at the curve; clear the field to take what is constructed.",
)
FINAL_MISSING = stop(
    "final-mass-missing",
    "Specimen {number}: no area, which goes by the final water content: its wet or its dry mass is missing.",
    "Weigh the whole specimen when it comes out, and dry; or choose another area under School.",
    awaited=True,
)
AREAS_DIFFER = warn(
    "areas-differ",
    "Specimen {number}: final masses say {final:.0f mm²}, water out and height say {measured:.0f mm²}.",
    "Blot the specimen before weighing; look at both masses, the Gs and the water out.",
)
DRY_HEAVIER = stop(
    "dry-heavier",
    "Specimen {number}: dry {dry:g g} is not below the {moist:g g} it had before.",
    "Take the container's mass off, or look for exchanged specimens.",
)
NO_TRIMMINGS = warn(
    "no-trimmings",
    "No water content of the trimmings.",
    "Weigh a tin of trimmings of each specimen while they are moist.",
)
CALIPERS_DIFFER = warn(
    "calipers-differ",
    "Specimen {number}: the {name} is typed as {typed:g mm}, its calipers say {mean:.2f mm}.",
    "Clear the typed value, or measure again.",
)
OUT_DIFFERS = warn(
    "out-differs",
    "Specimen {number}: {out_cm3:g cm³} out, its consolidation ends at {last:g cm³}.",
    "Take the last reading of the consolidation, or read the burette again.",
)
SHORTENING_ODD = warn(
    "shortening-odd",
    "Specimen {number}: it shortened by {shortened_mm:g mm}; {out_cm3:g cm³} out of it say about {isotropic:.2g mm}.",
    "Look at the gauge's zero and the unit of both; a specimen that drains shrinks all round.",
)
BACK_DIFFERS = warn(
    "back-differs",
    "Specimen {number}: back pressure {back_kpa:g kPa}, the pore pressure begins at {first:g kPa}.",
    "Read the back pressure again; wait until the pore pressure has come to it before shearing.",
)
SIZE_IMPOSSIBLE = stop(
    "size-impossible",
    "Specimen {number}: {out_cm3:g cm³} out and {shortened_mm:g mm} shorter leave no specimen.",
    "Look at the units: water out in cm³, shortening in mm.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

WASHED_HEAVIER = stop(
    "washed-heavier",
    "After washing {washed:g g}, before {dry:g g}: washing takes mass away.",
    "Look whether the two are exchanged; dry the washed soil to constant mass and weigh again.",
)
TOTAL_MISSING = warn(
    "total-missing",
    "No dry mass before sieving: the sum of the sieves stands in for it and nothing checks it.",
    "Enter the dry mass of the specimen if it was weighed.",
)
WASHED_WITHOUT_TOTAL = stop(
    "total-missing",
    "Washed, and no dry mass from before washing: the fines that were washed away are in no sum.",
    "Look for the mass before washing in the notes; without it only a dry sieving of what is left can be reported.",
)
CUMULATIVE_ENTRY = stop(
    "cumulative-entry",
    "The masses never fall from sieve to sieve and the last, {last:g g}, is what went in: typed as a running sum?",
    "Choose cumulative entry under School, or type what lies on each sieve alone.",
)
DRY_FINES = warn(
    "dry-fines",
    "{percent:.0f %} passed {finest:g mm} dry: fines of such a soil cling and count as sand.",
    "Wash the specimen over the finest sieve and sieve what stays.",
)
FINES_UNKNOWN = warn(
    "fines-unknown",
    "The finest sieve is {finest:g mm}: the share below {bound:g mm} is not known.",
    "Sieve the pan over {bound:g mm}, or run a hydrometer test.",
)
FINES_BETWEEN = warn(
    "fines-between",
    "There is no sieve of {bound:g mm}: the share below it is read between {finer:g mm} and {coarser:g [mm]}.",
    "Sieve over {bound:g mm}, or choose the fractions that end at {finer:g mm} under School.",
)
RIFFLED_MORE = stop(
    "riffled-more",
    "The riffled part, {riffled:g g}, is more than all that passed the split, {below:g g}.",
    "Look whether the two are exchanged; type both again.",
)
UNIT_SLIP = stop(
    "unit-slip",
    "{retained_g:g g} on one sieve of a specimen of {put_in:g g}: typed in another unit?",
    "Read the balance again and type the mass in g, or with its unit (0.125 kg).",
)
MASS_MISSING = stop(
    "mass-missing",
    "The {opening_mm:g mm} sieve has no mass, but finer ones have.",
    "Enter what it holds, 0 when nothing stays on it.",
)
CLODS = warn(
    "clods",
    "Clods were left: they count as grains of their own size.",
    "Break them with a rubber pestle, without crushing grains, and sieve again.",
)
TOP_SIEVE_RETAINS = warn(
    "top-sieve-retains",
    "{percent:.1f %} stays on the coarsest sieve, {coarsest:g mm}: the curve has no upper end.",
    "Put a coarser sieve on top until everything passes it.",
)
COLUMNS_EXCHANGED = stop(
    "columns-exchanged",
    "The masses are openings of sieves and the openings are not: the two columns seem exchanged.",
    "Look at the headings; put the openings in mm under opening and the masses in g under retained.",
)
SIEVE_TWICE = stop(
    "sieve-twice",
    "The {opening:g mm} sieve stands twice.",
    "Keep one line per sieve; add the masses if it was loaded twice.",
)
SIEVES_OUT_OF_ORDER = stop(
    "sieves-out-of-order",
    "{here:g mm} stands below {above:g mm}: a coarser sieve cannot follow a finer one.",
    "Read the openings on the frames and put the lines in the order of the stack.",
)
BALANCE_FALLS = stop(
    "balance-falls",
    "The balance shows less with the {opening:g mm} sieve added than before.",
    "Read the balance again; if each sieve was weighed alone, change the entry style under School.",
)
PAN_LIGHTER = stop(
    "pan-lighter",
    "In the pan lies {mass:.1f g}: less than nothing, once what was there before it is taken off.",
    "Read the balance again for the pan, and for what was weighed before it.",
)
SIEVE_OVERLOADED = warn(
    "sieve-overloaded",
    "{mass:.0f g} on the {opening:g mm} sieve; it carries {most:.0f g}{already}.",
    "Split the specimen into {loads} loads, sieve each, add the masses and enter the number of loads.",
)
STILL_PASSING = warn(
    "still-passing",
    "{rate:.1f %} of what lies on {opening:g mm} still passed in one minute; 1 % ends the sieving.",
    "Shake the stack longer and weigh again.",
)
GRAIN_LARGER = warn(
    "grain-larger",
    "{percent:.0f %} did not pass {opening:g mm}, and the largest particle is said to be {grain:g mm}.",
    "Look at the largest grain again and type its size, or the sieve that all but one percent passes.",
)
SPECIMEN_SMALL = warn(
    "specimen-small",
    "{dry:.0f g} is too little for grains of {grain:g mm}: at least {least:.0f g}.",
    "Take more of the sample and sieve it together with this, or say so on the report.",
)
SUM_SHORT = warn(
    "sum-off",
    "{held_by} hold {weighed:.1f g}, {off:.1f %} less than the {put_in:.1f g} put in.",
    "Weigh each sieve's soil again before it is thrown away; look into frames, brushes and the pan.",
)
SUM_OVER = warn(
    "sum-off",
    "{held_by} hold {weighed:.1f g}, {off:.1f %} more than the {put_in:.1f g} put in.",
    "Look for a mass written twice, a sieve weighed with its frame, or a swapped entry style.",
)
SUM_FAR_SHORT = SUM_SHORT.grave()
SUM_FAR_OVER = SUM_OVER.grave()
SPECIMEN_LARGE = warn(
    "specimen-large",
    "{dry:.0f g} is far more than grains of {grain:g mm} need, {least:.0f g}.",
    "Look at the dry mass before washing: unit and point; if it is right, the sheet says so.",
)
NO_SUCH_SIEVE = warn(
    "no-such-sieve",
    "No series has a sieve of {opening:g mm}.",
    "Read the opening on the sieve's label; type it in mm, by its number (No. 40) or in inches (½ in).",
)

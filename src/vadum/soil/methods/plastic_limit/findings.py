"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

TOO_FEW_PORTIONS = stop(
    "too-few-portions", "{count} of {needed} portions weighed.", "Roll another from the same ball.", awaited=True
)
ABOVE_U_LINE = warn(
    "above-u-line",
    "LL {liquid_limit:g}, PI {index:g} lies above the U-line: natural soils hardly do.",
    "Check both tests' tins and that they are of the same sample; repeat one portion.",
)
NON_PLASTIC = note("non-plastic", "{why} The soil is non-plastic.", "Report it as NP.")
TICKED_BESIDE_PORTIONS = stop(
    "ticked-beside-portions",
    "“Cannot be determined” is ticked, and {count} weighed portions stand beside it.",
    "Clear the tick, or leave the portions out with the reason.",
)
PL_ABOVE_LL = stop(
    "pl-above-ll",
    "PL {plastic:g} is {more:g} above LL {liquid:g}: a mistake, not a soil without plasticity.",
    "Look whether both tests are of this sample, and read the tins of both again.",
)
WATER_OF_THE_WHOLE = note(
    "water-of-the-whole",
    "{retained:g %} stayed on 0.425 mm: the fine part holds {fine:.1f [%]} where the whole sample holds {whole:g %}.",
    "LI and IC use the water of the fine part; the sheet says so.",
)
PORTION_SMALL = warn(
    "portion-small",
    "{grams:.2f g} of threads is below {least_mass_g:g g}.",
    "Roll more soil into the same tin before it dries.",
)
PORTIONS_APART = warn(
    "portions-apart",
    "The portions are {percent:.1f %} w apart, more than {spread_percent:g [%]}.",
    "Roll another portion; leave the odd one out with a reason.",
)
CRUMBLED_THICK = warn(
    "thread-diameter",
    "Crumbled at {at:g mm}, not {thread_mm:g mm}: too dry.",
    "Work in a drop of water and roll again.",
)
CRUMBLED_THIN = warn(
    "thread-diameter", "Crumbled at {at:g mm}, not {thread_mm:g mm}: too wet.", "Knead it drier and roll again."
)

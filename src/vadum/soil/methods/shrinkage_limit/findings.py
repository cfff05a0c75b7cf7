"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

DRY_HEAVIER = stop(
    "dry-heavier",
    "Pat {number}: mould and dry pat, {dry:g g}, are heavier than wet, {wet:g g}.",
    "Look whether the two are exchanged; weigh the dry pat in its mould again.",
)
MOULD_HEAVIER = stop(
    "mould-heavier",
    "Pat {number}: the empty mould, {mould:g g}, is heavier than mould and pat, {full:g g}.",
    "Look whether the masses are of one mould; weigh it again.",
)
WAX_LIGHTER = stop(
    "wax-lighter",
    "Pat {number}: waxed {waxed:g g}, dry {dry:g g}: wax adds mass.",
    "Look whether the two are exchanged; weigh the waxed pat again.",
)
WAX_THICK = warn(
    "wax-thick",
    "Pat {number}: its wax takes {percent:.0f %} of the pat's own room, more than a thin coat.",
    "Look at the waxed mass and weigh it again; scrape a thick coat off and wax the pat once more.",
)
NOTHING_LEFT = stop(
    "nothing-left",
    "Pat {number}: under water {under:g g} leaves no volume for the soil.",
    "Look for a bubble under the pat or a wrong zero of the balance; weigh it under water again.",
)
DRY_LARGER = stop(
    "dry-larger",
    "Pat {number}: the dry pat, {dry:.2f cm³}, is not smaller than its mould, {mould:g cm³}.",
    "Look at the mould's volume and the mass under water; a bubble under the wax does this.",
)
BROKEN = stop(
    "broken",
    "Pat {number} broke: wax runs into the cracks and counts as soil's room.",
    "Make another pat: dry it in air until its colour turns light, then in the oven.",
)
CRACKED = warn(
    "cracked",
    "Pat {number} is cracked: the wax bridges the cracks and the pat looks larger.",
    "Make another pat and dry it slower; jar the air out of the paste.",
)
TOO_DRY = warn(
    "mixed-too-dry",
    "Pat {number} was filled at {water:.0f %}, below the liquid limit, {limit:g [%]}: air stays in the paste.",
    "Mix it a little wetter than the liquid limit and fill in three layers, jarring each.",
)
PATS_APART = warn(
    "pats-apart",
    "The pats are {spread:.1f %} of water apart, more than {most:g [%]}.",
    "Make another pat; leave the odd one out with a reason.",
)
ABOVE_PLASTIC_LIMIT = warn(
    "above-plastic-limit",
    "SL {limit:.0f} is above PL {plastic:g}: clays shrink on below their plastic limit.",
    "Look at the volumes; a mould's volume too small or a bubble under the wax does this.",
)
FAR_FROM_CHART = note(
    "far-from-chart",
    "SL {limit:.0f} against {estimate:.0f} by the plasticity chart: further apart than such soils usually are.",
    "Look at the sheets of both; the chart is a guide, but a slip shows here.",
)

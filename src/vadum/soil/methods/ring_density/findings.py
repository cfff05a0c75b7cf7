"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

HEADSPACE_ABOVE_RING = stop(
    "headspace-above-ring",
    "A headspace of {headspace_mm:g mm} does not fit a ring {height:g mm} high.",
    "Measure from the rim down to the soil, in mm.",
)
SURFACE_NOT_FLAT = warn(
    "surface-not-flat",
    "The headspaces scatter: their mean, and with it the volume, is known to {percent:.1f %} only.",
    "Trim the surface and measure again, or measure at more angles.",
)
ODD_HEADSPACE = warn(
    "odd-headspace",
    "A headspace of {mm:g [mm]} stands out of the others, {near:g mm}.",
    "Measure it again; leave it out with the reason if a stone or a chip was there.",
)
CALIPERS_APART = warn(
    "calipers-apart",
    "{what} {odd:g mm} stands apart from the others, {near:g mm}, by {percent:.0f %}.",
    "Read the calipers again; trim the piece true, or wax it and weigh it under water.",
)
WAX_LIGHTER = stop(
    "wax-lighter",
    "The waxed lump, {waxed:g g}, is not heavier than the bare one, {bare:g g}.",
    "Look whether the two are exchanged; weigh the lump again after the wax has set.",
)
LUMP_SWIMS = stop(
    "lump-swims",
    "Under water {under:g g} leaves no room for the soil: wax alone would fill the volume.",
    "Look for air under the wax or a wrong balance zero; weigh it under water again.",
)
WAX_THICK = warn(
    "wax-thick",
    "The wax takes {percent:.0f %} of the volume: its density decides.",
    "Brush the next lump thinner; fill holes with wax before it is weighed bare.",
)
RING_SHAPE = warn(
    "ring-shape",
    "A ring {diameter:g mm} wide and {height:g mm} high is unusual.",
    "Look whether diameter and height are exchanged, or one is in cm.",
)
BAG_HEAVIER = stop(
    "bag-heavier",
    "Bag with soil {full:g g} is not heavier than the bag, {bag:g g}.",
    "Look whether the two are exchanged; weigh again.",
)
SOIL_LOST = stop(
    "soil-lost",
    "Soil was lost from the ring: its mass does not belong to its volume.",
    "Drive another ring beside it; mark this one void.",
)

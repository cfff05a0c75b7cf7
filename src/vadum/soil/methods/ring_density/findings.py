"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

HEADSPACE_ABOVE_RING = stop(
    "headspace-above-ring",
    "A headspace of {headspace_mm:g mm} does not fit a ring {height:g mm} high.",
    "Measure from the rim down to the soil, in mm.",
)
SURFACE_NOT_FLAT = warn(
    "surface-not-flat",
    "Headspaces differ by {mm:.1f mm}: the surface is not flat.",
    "Trim the surface and measure again, or measure at more angles.",
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

"""What can be wrong with the readings, and what to do about it at the plate."""

from vadum.soil.contract.finding import note, stop, warn

DIVISIONS = stop(
    "divisions-for-mm",
    "{place}: a settlement of {s:g mm} under a drop cannot be.",
    "Type the settlement in mm as the plate's display shows it.",
)
DROPS_APART = warn(
    "drops-apart",
    "{place}: the measuring drops differ by {percent:.0f %}, {least:.2f [mm]} to {most:.2f mm}.",
    "Drop three times more; if they still fall, the ground compacts under the plate: more passes, then test again.",
)
STILL_SEATING = note(
    "still-seating",
    "{place}: the last seating drop went {seat:.2f mm}, the first that counts {first:.2f mm}.",
    "Look whether the plate lies flat; seat it with three drops more.",
)
GIVES_STILL = warn(
    "gives-still",
    "{place}: s/v is {ratio:.1f ms}, above {most:g [ms]}: the ground is not compacted to its end.",
    "Roll once more and test again, or compare with a density.",
)
OUT_OF_RANGE = warn(
    "out-of-range",
    "{place}: {s:.2f mm} is outside the 0.1 to 2 mm the plate is calibrated for.",
    "Test stiff ground with a plate under a jack, soft ground with the cone.",
)
PLATE_SMALL = warn(
    "plate-small",
    "Grains of {grain:g mm} are more than a quarter of the plate, {size:g mm}.",
    "Test with a larger plate.",
)
NOT_LEVEL = stop("not-level", "The plate does not lie on all its face.", "Level it with thin sand and begin again.")
ON_CRUST = warn(
    "on-crust",
    "The loose or dried top was not taken off.",
    "Take off the top some 5 cm deep and test on what is below.",
)
EVD_APART = note(
    "evd-apart",
    "{place}: {evd:.1f MPa} is less than half of the mean, {mean:.1f MPa}.",
    "Look at the ground there: wet spot, trench or a stone; test once more beside it.",
)

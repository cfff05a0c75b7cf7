"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import warn

DRIED_TOO_HOT = warn(
    "dried-too-hot",
    "Organic soil or gypsum dried by {dried_by} loses more than its water.",
    "Dry a fresh specimen at 60 °C.",
)
OVEN_TEMPERATURE = warn(
    "oven-temperature",
    "The oven stands at {read:g °C}, not {wanted:g [°C]} ± 5.",
    "Set the oven; note how long it was off.",
)
SPECIMEN_SMALL = warn(
    "specimen-small", "{soil:.5g g} of moist soil is below {least:g g}, {why}.", "Take a larger specimen."
)
SPECIMEN_SMALL_FOR_TENTH = warn(
    "specimen-small",
    "{soil:.5g g} of moist soil is below {least:g g}, {why}.",
    "Take a larger specimen, or report to 1 %.",
)

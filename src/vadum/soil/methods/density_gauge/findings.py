"""What can be wrong with the readings, and what to do about it at the gauge."""

from vadum.soil.contract.finding import stop, warn

GAUGE_UNFIT = stop(
    "gauge-unfit",
    "The standard count is outside its limits: the gauge shows no density.",
    "Repeat the count away from vehicles and walls; where it stays off, measure with sand or a ring.",
)
NOT_PERMITTED = stop(
    "not-permitted",
    "The gauge was held by nobody permitted to.",
    "Put it back into its case and lock it; tell its keeper.",
)
ABOVE_ZERO_AIR = stop(
    "above-zero-air",
    "{place}: {rho:.3f g/cm³} at {w:.1f %} lies above the zero-air line, at most {full:.3f [g/cm³]}.",
    "Dry a tin from below the gauge: stone, salt or organic matter mislead it; else dig a hole beside it.",
)
PLACES_APART = warn(
    "places-apart",
    "{place}: {rho:.2f g/cm³} is {percent:.0f %} off the mean, {mean:.2f [g/cm³]}.",
    "Turn the gauge by ninety degrees and read again: a hollow below it, a stone, or a place less rolled.",
)
NO_COMPARISON = warn(
    "no-comparison",
    "No offset is typed: nothing says that the gauge agrees with this soil.",
    "Dig one hole with sand beside a place and type the difference, 0 where there is none.",
)

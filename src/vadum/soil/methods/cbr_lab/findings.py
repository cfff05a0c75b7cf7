"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

TOO_COARSE = stop(
    "too-coarse",
    "{removed:g %} is above 20 mm: the mould cannot judge this soil, at most {most:g %}.",
    "Do not run it. Test in the ground with a plate instead.",
)
MOULD_HEAVIER = stop(
    "mould-heavier",
    "The mould with soil is not heavier than the empty mould.",
    "Weigh again, both with base and without collar.",
)
MOULD_VOLUME = warn(
    "mould-volume",
    "{volume:g cm³} is {percent:+.0f %} off a 152 × 127 mm mould, {usual:.0f cm³}.",
    "Measure the mould again; look whether the spacer was in.",
)
EFFORT_OTHER = note(
    "effort-other",
    "The effort is none of the usual schemes.",
    "Write blows, layers and rammer into the remarks of the report.",
)
COLLAR_ON = stop(
    "collar-on",
    "A bulk density of {bulk:.2f g/cm³} cannot be: was the collar on the balance?",
    "Weigh again without collar; check M1 and M2.",
)
ABOVE_ZERO_AIR = stop(
    "above-zero-air",
    "{rho:.3f g/cm³} at {w:.1f %} lies above the zero-air line, at most {full:.3f [g/cm³]}.",
    "Check the collar, the mould's volume, the tins, then the Gs.",
)
DENSITY_HIGH = warn(
    "density-high",
    "{rho:.2f g/cm³} is {percent:.0f %} of the curve's maximum ({source}).",
    "Look at the collar and at the blows per layer.",
)
WATER_OFF = warn(
    "water-off",
    "w {w:.1f %} is {percent:.1f %} {which} than wanted, {wanted:.1f %} ({source}).",
    "Make the mould again with the water the calculator under Mix gives, or report it at this water content.",
)

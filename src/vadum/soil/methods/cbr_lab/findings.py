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
    "{volume:g cm³} is {percent:+.0f %} off the standard mould, {usual:.0f cm³}.",
    "Measure the mould again; look whether the spacer was in.",
)
EFFORT_OTHER = note(
    "effort-other",
    "The effort is none of the usual schemes.",
    "Type blows a layer, layers and rammer; the sheet prints them.",
)
SOAKED_TINS = stop(
    "soaked-tins",
    "w {w:.1f %} is {percent:.1f %} wetter than wanted, {wanted:.1f %}: were these tins taken after soaking?",
    "Put tins from below the plunger, after soaking, in their own table: the density is of the soil as compacted.",
)
SOAKED_SHORT = warn(
    "soaked-short",
    "Soaked {hours:g h} by the last dial, {wanted:g h} is the rule.",
    "Leave it in the water until then; else the sheet says how long it was.",
)
SWELL_MISSING = warn(
    "swell-missing",
    "Soaked, and no swell was read.",
    "Read the dial before the mould goes into the water and after it comes out.",
)
SWELL_BEGUN_LATE = warn(
    "swell-begun-late",
    "The first dial was read at {hours:g h}: what the soil swelled before that is not in its swell.",
    "Type what the dial showed when the mould went into the water, at 0 h.",
)
SWELL_NEGATIVE = warn(
    "swell-negative",
    "The soil shrank by {percent:.2f %} under water.",
    "Look at the sign of the dial and whether the tripod was moved.",
)
SWELL_HASTENS = warn(
    "swell-hastens",
    "From {before:g} to {hours:g h} it swelled by {last:.2f mm}, having slowed to {slowed:.2f mm} in the time before.",
    "Read the dial again: a turn miscounted, or the tripod was set down elsewhere.",
)
SOAKED_LIGHTER = stop(
    "soaked-lighter",
    "Soaked {soaked:g g}, before {before:g g}: water adds mass.",
    "Look whether the two are exchanged; weigh both without collar and surcharge.",
)
PORES_NOT_FULL = warn(
    "pores-not-full",
    "After {hours:g h} under water its pores are {saturation:.0f %} full.",
    "Weigh the empty mould again; that this soil lets its water go is said in the remarks.",
)
PORES_OVERFULL = warn(
    "pores-overfull",
    "Soaked, the mould holds {saturation:.0f %} of the water that its pores take.",
    "Let it drain 15 min without collar and surcharge, and weigh it again; look at the empty mould's mass.",
)
TINS_OVERFULL = warn(
    "tins-overfull",
    "Below the plunger w is {w:.1f %}: the pores of this soil take {most:.1f %}.",
    "Weigh these tins again, look at the numbers on them; that the top has swelled apart is said in the remarks.",
)
ENDS_FAR_APART = warn(
    "ends-far-apart",
    "Top {top:.3g %} and bottom {bottom:.3g %}: one end of a specimen is not so many times as firm as the other.",
    "Look at the readings of both: a decimal point, another ring, a run on another specimen.",
)
MORE_AIR = warn(
    "more-air-than-water",
    "At the water wanted its pores are {saturation:.0f %} full, less than half.",
    "Weigh the empty mould again; that this soil packs so loosely is said in the remarks.",
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

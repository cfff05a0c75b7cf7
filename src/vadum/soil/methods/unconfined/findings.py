"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

RATE_OFF = warn(
    "rate-off",
    "{rate:g mm/min} is {percent:.2f %} a minute for this length.",
    "Set the next run between {low:.2g [mm/min]} and {high:.2g mm/min}.",
)
DRIED = warn(
    "dried",
    "{minutes_since_cut:g min} passed since trimming: it dries and gains strength.",
    "Wrap it; load within the set time.",
)
NOT_SATURATED = note(
    "not-saturated",
    "S {saturation:.0f %}: half of qu is not the undrained strength of saturated clay.",
    "Say so beside su; a triaxial test tells more.",
)
FISSURED = note(
    "fissured",
    "The specimen is fissured: a small one is stronger than the ground.",
    "Test larger specimens, or a plate.",
)
PATCHED = note(
    "patched",
    "Stones were taken out and patched: the surface is not the soil's own.",
    "Describe it; take another specimen if there is one.",
)
FAILED_SLOWLY = warn(
    "failed-slowly",
    "It took {minutes:.0f min} to fail at this rate, {most:g [min]} at most.",
    "Set the next run faster, within 0.5 to 2 % a minute.",
)
ANGLE_ODD = warn(
    "angle-odd",
    "A plane at {angle:g °} from the horizontal: planes of failure stand at {low:g [°]} to {high:g °}.",
    "Measure it again from the horizontal; look for a fissure or a layer that the specimen slid along.",
)
GRAINS_LARGE = warn(
    "grains-large",
    "Grains of {grain:g mm} in a specimen {across:.0f mm} across, at most {most:.0f [mm]}.",
    "Say so on the sheet; test a larger specimen where there is soil.",
)
ANGLE_MISSING = note("angle-missing", "A plane without its angle.", "Measure it from the horizontal.")
BEYOND_LIMIT = stop(
    "beyond-limit",
    "{table}: the first reading is at {first:.1f %} already, the limit is {limit_percent:g %}.",
    "Type the readings from the start of loading on; look whether the shortening is in mm.",
)
PEAK_NOT_PASSED = stop(
    "peak-not-passed",
    "The stress still rises at {last:.1f %}: neither a peak nor {limit_percent:g %} is reached.",
    "Go on loading until the stress falls or to the strain limit.",
    goes_on=True,
)
HALF_UNREAD = note(
    "half-unread",
    "Half the strength lies between {low:.1f [%]} and {high:.1f %}, where nothing was read: E50 is drawn through.",
    "Add the readings that are missing; else do not use E50.",
)
BEDDING = warn(
    "bedding",
    "The curve begins {bedding:.1f %} late: the specimen beds in.",
    "Put the start right under School; look at the ends of the specimen.",
)
REMOULDED_HIGHER = stop(
    "remoulded-higher",
    "Remoulded {left:.0f kPa} is more than undisturbed, {qu:.0f kPa}.",
    "Look whether the tables are exchanged, or the water content changed.",
)
REMOULDED_UNFINISHED = warn(
    "remoulded-unfinished",
    "The remoulded run ends at {last:.1f %} with neither a peak nor {limit_percent:g %}: the sensitivity is too high.",
    "Go on loading it until the stress falls or to the strain limit.",
    goes_on=True,
)

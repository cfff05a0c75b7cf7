"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

NOT_CALIBRATED = stop(
    "not-calibrated",
    "No calibration of the meter is recorded.",
    "Calibrate at 10.0 and 12.45, twice, check with a third buffer.",
)
NOT_BRACKETING = stop(
    "not-bracketing",
    "Buffers of {least:g} to {largest:g} do not bracket the readings.",
    "Calibrate with 10.0 and {upper:g}.",
)
CALIBRATED_ONCE = note(
    "calibrated-once",
    "The two buffers were not both read twice.",
    "Read each buffer a second time and type what the meter shows.",
)
NO_THIRD = note(
    "no-third-buffer", "No third buffer was read as a check.", "Read one that the meter was not set with, 7.0 or 12.0."
)
SINGLE_BUFFER = note(
    "single-buffer",
    "Calibrated at a single buffer of 12.0: the weaker school.",
    "Calibrate at 10.0 and 12.45 where you can.",
)
BUFFER_OFF = warn(
    "buffer-off",
    "The meter shows {shown_ph:.2f} in the buffer of {buffer_ph:.2f}.",
    "Fresh buffer, rinse, calibrate again.",
)
SLOPE = warn(
    "slope", "A slope of {slope_percent:g %}: the electrode is worn or dirty.", "Clean or change it, calibrate again."
)
LIME_ONLY_OFF = stop(
    "lime-only-off",
    "Lime only reads {ph25:.2f} at 25 °C, 12.45 ± 0.10 is right.",
    "Calibrate the meter again, take fresh lime and water without carbon dioxide, repeat.",
)
LIME_ONLY_APART = warn(
    "lime-only-apart",
    "Lime only reads {ph25:.2f}, more than 0.05 from 12.45: 12.30 and 12.40 cannot be told apart for sure.",
    "Calibrate again and read the bottles once more.",
)
ABOVE_LIME_ONLY = stop(
    "above-lime-only",
    "{percent:g %} reads {ph25:.2f}, above lime only with {alone:.2f}: soil takes lime up, it gives none.",
    "Look whether the bottles are exchanged; calibrate again and read both.",
)
NOT_AT_25 = warn(
    "not-at-25",
    "{bottle} was read at {c:g °C}; beyond 24 to 26 °C the correction to 25 °C counts for more than the decision.",
    "Let the bottles come to the room's 25 °C and read them again.",
)
FEW_BOTTLES = warn(
    "few-bottles",
    "{count} bottles with soil: the series begins at 2 % and goes on to 6 %.",
    "Make the bottles that are missing from the same dry soil.",
)
FIRST_REACHES = note(
    "first-reaches",
    "The first bottle, {percent:g %}, is already at {ph25:.2f}: the demand is at most that.",
    "Make a bottle with less lime when the exact demand matters.",
)
DRIED_HOT = stop("dried-hot", "Soil dried above 60 °C takes up lime otherwise.", "Take air-dried soil.")
DRIED_CLAY = note(
    "dried-clay", "Fat clay dried in the oven is less reliable.", "Dry it in the air where the time allows."
)
SOIL_MASS = warn(
    "soil-mass",
    "{lime_percent:g %}: {mass_soil_g:g g} of soil, {soil:.1f g} hold {dry_g:g g} dry.",
    "Weigh moist soil for the dry mass, or type its water content.",
)
LIME_MASS = warn(
    "lime-mass",
    "{lime_percent:g %}: {mass_lime_g:g g} of lime, {lime:.3f g} are meant.",
    "Is it percent of the dry soil? Weigh again to 0.001 g.",
)
EARLY = warn("early", "Read at {at:g min}, an hour of shaking is not over.", "Read again after {read_from_min:g min}.")
LATE = warn(
    "late",
    "Read at {last:g min}: later than {minutes:g min} the air takes the pH down.",
    "Read all bottles within 15 min; repeat the late ones.",
)
PERCENT_TWICE = warn(
    "percent-twice",
    "Two bottles of {percent:g %} lime.",
    "Correct the lime of the one that is told wrong; one of two that are alike may be left out with the reason.",
)
PH_FALLS = warn(
    "ph-falls",
    "{percent:g %} reads {ph25:.2f}, less than {before_percent:g %} with {before_ph25:.2f}.",
    "Look whether the bottles are exchanged, shake and read both again; rinse when going down.",
)
NO_SLOPE = note(
    "no-slope", "Nobody wrote what slope the electrode has.", "Read it off the meter, in percent or in mV per pH."
)
OFFSET = warn(
    "offset",
    "{offset_mv:g mV} in the buffer of 7.0, beyond {most:g [mV]}: the reference is poisoned or the buffer is spent.",
    "Take a fresh buffer; refill or change the electrode, calibrate again.",
)
BUFFER_SPENT = warn(
    "buffer-spent", "The buffer of {buffer_ph:g} is past its date.", "Open a fresh one and calibrate again."
)
NOT_DECLARED = warn(
    "not-declared",
    "Bottle {bottle} has neither a lime percentage nor soil: it counts as lime only.",
    "Say lime only in its row, or type the percentage that is on it.",
)
ONLY_WITH_SOIL = stop(
    "only-with-soil",
    "Bottle {bottle} is said to hold lime only, and has soil or a lime percentage too.",
    "Look at the bottle; clear what is not so.",
)
LIME_PERCENT_MISSING = stop(
    "lime-percent-missing",
    "Bottle {bottle} holds soil and no lime percentage: it would count as lime only.",
    "Read the lime percentage on the bottle and type it.",
)

"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

INSTRUMENT_SCALE = stop(
    "instrument-scale",
    "{read:g} is not on the scale of a {instrument}, {low:g} to {high:g}.",
    "Read the type on the hydrometer and set it under School: 152H reads g/L, 151H reads about 1.000 to 1.038.",
)
MASS_UNUSUAL = warn(
    "mass-unusual",
    "{mass:g g} in the cylinder: about 50 g is usual, 100 g for sandy soil.",
    "Check the dry mass; grains hinder one another above 100 g and the reading is coarse below 20 g.",
)
PASSING_ASSUMED = warn(
    "passing-assumed",
    "The share passing {specimen_mm:g mm} is not known; percentages are of the specimen.",
    "Finish the sieve test of this sample or type the share passing.",
)
CORRECTIONS_MISSING = stop(
    "corrections-missing",
    "The dispersant solution has not been read: no composite correction.",
    "Read the hydrometer in 125 mL dispersant made up to one litre, at two temperatures around the test's.",
)
CORRECTION_HALF = warn(
    "correction-half",
    "A reading of the dispersant solution stands without its other half: it is not used.",
    "Type the hydrometer and the temperature of that row; else leave it out with the reason.",
)
CORRECTION_UNUSUAL = warn(
    "correction-unusual",
    "{hydrometer:g} in the dispersant solution; {low:g} to {high:g} is usual for a {instrument}.",
    "Read it again at the top of the meniscus; check the dispersant's strength and the instrument.",
)
CORRECTION_SIGN = stop(
    "correction-sign",
    "{hydrometer:g} in the dispersant solution is less than in water: dispersant makes it denser.",
    "Look at the sign; write what the hydrometer reads in the solution, not what is taken off.",
)
CORRECTION_EXTENDED = warn(
    "outside-corrections",
    "{counted} at {said} °C with a correction extended from {measured} °C: {outside_because}.",
    "Read the dispersant solution at the missing temperature if it still stands.",
)
OUTSIDE_CORRECTIONS = stop(
    "outside-corrections",
    "{counted} at {said} °C outside the corrections, measured at {measured} °C: not used.",
    "Read the dispersant solution at a temperature beyond these, or give a reason to extend the line.",
)
OFF_TIME = warn(
    "off-time",
    "Due at {due:g min}, taken at {at:g [min]}: {word}.",
    "The true time is used. Insert the hydrometer 20 to 30 s before the next reading is due.",
)
LOG_ENDS = note(
    "log-ends",
    "The log ends at {minutes:g min}, with grains of {finest:.2g mm}: clay is not read.",
    "Look whether its times are minutes; let the next one run for 24 h.",
)
BEGINS_LATE = note(
    "begins-late",
    "The first reading, at {minutes:g min}, is of grains of {coarsest:.2g mm}: coarse silt is not read.",
    "Mix again and read the first minutes, or type what was read by hand then.",
)
TIME_FALLS = stop(
    "time-falls",
    "{after:g min} follows {before:g min}: the clock runs on one start.",
    "Check the times; minutes count from the moment the cylinder was set down.",
)
READING_MISSED = warn(
    "reading-missed",
    "Missed: the reading at {names} min.",
    "The curve is straight between its neighbours; go on with the next.",
)
DRY_MASSES_DIFFER = warn(
    "dry-masses-differ",
    "Dry {dry:.2f g}; air-dry {air:.2f g} with {water:.1f %} of water are {worked_out:.2f g} dry.",
    "The dry mass counts. Weigh again, or clear what is not of this specimen.",
)
FINER_ABOVE_ALL = stop(
    "finer-above-all",
    "{largest:.0f %} finer, but only {share:.0f %} of the sample went into the cylinder.",
    "Check the dry mass, the Gs, the composite correction and the reading; the mass is often the air-dry one.",
)
BELOW_CORRECTION = stop(
    "below-correction",
    "{counted} below the composite correction: less than nothing in suspension.",
    "Read again; the hydrometer must float free and be read at the top of the meniscus.",
)
FINER_RISES = warn(
    "finer-rises",
    "{many} {lie} above an earlier one, by {largest:.1f %} at most: soil cannot come back into suspension.",
    "Check reading and temperature; do not disturb the cylinder, insert the hydrometer slowly.",
)
TEMPERATURE_DRIFT = warn(
    "temperature-drift",
    "The suspension went from {least:g [°C]} to {largest:g °C}.",
    "Keep cylinders within {drift_c:g °C}: water bath, away from sun and ovens.",
)
FLOCCULATED = stop(
    "flocculated",
    "A clear layer stands on top: the grains flocculate and fall together.",
    "Stop; repeat with fresh dispersant, more of it or a longer soak, and check for salt or gypsum.",
)
SOIL_ON_WALL = warn(
    "soil-on-wall",
    "Soil stayed on the wall: it is missing from the suspension.",
    "Turn again until nothing sticks, and start the clock anew.",
)
CORRECTIONS_APART = warn(
    "corrections-apart",
    "From {from_c:g [°C]} to {to_c:g °C} the correction goes from {first:g} to {last:g}; about {about:.1f} is usual.",
    "Read the hydrometer in the blank cylinder again at both temperatures, at the top of the meniscus.",
)

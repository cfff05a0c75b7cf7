"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import stop, warn

VERY_STONY = warn(
    "very-stony",
    "Stones fill {stones_volume:.0f %} of the volume: they carry one another and the fine earth lies loose between.",
    "Report both densities; a larger hole gives a better mean.",
)
MOIST_BELOW_DRY = stop(
    "moist-below-dry",
    "The moist soil, {mass_moist_g:g g}, weighs less than its dry parts, {total:.0f g}.",
    "Check the mass as dug; look for g and kg.",
)
POUR_GAINED = stop(
    "sand-gained",
    "A pour went from {before:g [g]} to {after:g g}: nothing left the jar.",
    "Look whether the two are exchanged.",
)
SAND_RUNS_APART = warn(
    "sand-runs-apart",
    "The calibration runs differ by {percent:.1f %}.",
    "Run it again; dry and sieve the sand, pour from the same height.",
)
SAND_UNKNOWN = stop(
    "sand-unknown",
    "The density of the sand is not known.",
    "Type it from its calibration, or the masses of runs into a vessel of known volume.",
)
TEMPLATE_ALL = stop(
    "template-all",
    "The template alone took {template:g g}, the filled hole {all:g g}: nothing is left for the hole.",
    "Look whether the two are exchanged; the second filling holds the template too.",
)
UNWASHED = warn(
    "unwashed",
    "The stones were weighed unwashed: fines that cling count as stones.",
    "Wash them, dry them in the oven and weigh them, or say on the sheet that they were clean.",
)
SAND_GAINED = stop(
    "sand-gained",
    "The jar went from {before:g [g]} to {after:g g}: no sand left it.",
    "Look whether the two are exchanged.",
)
HOLE_EMPTY = stop(
    "hole-empty",
    "{grams:g g} of sand left the jar, the cone alone takes {cone:g g}.",
    "Check the cone's calibration and the masses.",
)
TEMPERATURE_ASSUMED = warn(
    "temperature-assumed",
    "The water's temperature is not written; 20 °C is taken.",
    "Write it; 10 °C change the volume by 0.2 %.",
)
DRIED_HEAVIER = stop(
    "dried-heavier",
    "Air-dry {dry:g g} is more than moist {moist:g g}.",
    "Look whether the two are exchanged or one is in kg.",
)
WASHED_HEAVIER = stop(
    "washed-heavier",
    "Washed stones {washed:g g} are heavier than unwashed, {unwashed:g g}.",
    "Dry the stones to constant mass and weigh again.",
)
FINES_ON_STONES = warn(
    "fines-on-stones",
    "Washing took {grams:.1f g} off the stones: fines were still on the sieve.",
    "They are counted as fine earth; rub the clods and sieve longer next time.",
)
PARTS_LOST = warn(
    "parts-off",
    "Stones and fine earth make {parts:.0f g} of {whole:.0f g}: {percent:.1f %} was lost as dust or spilled.",
    "Weigh both parts again before anything is thrown away.",
)
PARTS_HEAVIER = warn(
    "parts-off",
    "Stones and fine earth make {parts:.0f g} of {whole:.0f g}: the parts weigh {percent:.1f %} more than the whole.",
    "Weigh both parts again before anything is thrown away.",
)
PARTS_FAR_LOST = PARTS_LOST.grave()
PARTS_FAR_HEAVIER = PARTS_HEAVIER.grave()

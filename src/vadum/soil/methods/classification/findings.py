"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

SHARES_OFF = stop(
    "shares-off",
    "Gravel, sand and fines make {total:.1f %}, not 100.",
    "They are shares of what passes 75 mm: check the three.",
)
PASSING_RISES = stop(
    "passing-rises",
    "{less:g %} {fine}, but only {more:g %} {coarse}.",
    "Less can pass a finer sieve, never more: check the columns.",
)
PI_ABOVE_LL = stop(
    "pi-above-ll",
    "PI {index:g} is not below LL {limit:g}: the plastic limit would be nothing.",
    "PI is LL − PL; look whether PL was typed for PI.",
)
ABOVE_U_LINE = warn(
    "above-u-line",
    "LL {limit:g}, PI {index:g} lies above the U-line: natural soils hardly do.",
    "Check both limits before this class is used.",
)
ORGANIC_BY_LIMIT = warn(
    "organic-by-limit",
    "The oven-dried liquid limit says organic, the look does not.",
    "Check that both limits are of this sample.",
)
TYPED_OVER_MEASURED = note(
    "typed-over-measured",
    "Typed {names} differs from the sample's grading by more than {percent:g %}.",
    "The typed value is used; clear it to use the measured one.",
)

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
DRIED_ABOVE = warn(
    "dried-above",
    "LL {dried:g} oven-dried, {limit:g} before: drying takes plasticity away, it does not add any.",
    "Look whether the two are exchanged, and whether both are of this sample.",
)
CURVATURE_OFF = stop(
    "curvature-off",
    "Cc {curvature:g} with Cu {uniformity:g} cannot be: D30 would not lie between D10 and D60.",
    "Cc is D30² / (D10 D60) and lies between 1/Cu and Cu: look whether the two are exchanged.",
)
GRAVEL_OFF = stop(
    "gravel-off",
    "Gravel {gravel:g %} leaves {left:g %} below 4.75 mm, and {passing:g %} is said to pass 2 mm.",
    "Look which of the two is of another soil or another column.",
)
CLAY_ABOVE_FINES = stop(
    "clay-above-fines",
    "{finer:g %} is said to be finer than {size}, and only {fines:g %} passes 0.075 mm.",
    "Look which of the two is of another soil or another column.",
)
FINES_TWICE = stop(
    "fines-twice",
    "Fines {fines:g %} and passing 0.075 mm {passing:g %} are one share: both systems must see one soil.",
    "Type one of them and clear the other.",
)
BY_CONE = note(
    "by-cone",
    "The liquid limit of {source} is by fall cone; the groups are drawn for the percussion cup.",
    "Say so in the report; near a line of the chart run the cup.",
)
AIR_DRIED = warn(
    "air-dried",
    "The liquid limit of {source} is of air-dried soil; organic soil is judged against soil never dried.",
    "Run the limit on soil that was never dried.",
)
TYPED_OVER_MEASURED = note(
    "typed-over-measured",
    "Typed {names} differs from the sample's grading by more than {percent:g %}.",
    "The typed value is used; clear it to use the measured one.",
)

"""What can be wrong with the readings, and what to do about it at the rings."""

from vadum.soil.contract.finding import note, stop, warn

NOT_LOCATED = stop("services", "Cables and pipes are not located.", "Do not drive the rings before they are.")
NOT_SEALED = stop("not-sealed", "Water goes beside the rims.", "Press the soil to the rims, or drive the rings anew.")
NO_RING = stop(
    "no-ring", "Neither the diameter nor the area of the inner ring is known.", "Measure the ring inside.", awaited=True
)
SIZES_DIFFER = warn(
    "sizes-differ",
    "A ring of {across:g mm} has {by_size:.0f [cm²]}, not {typed:.0f cm²}, which count.",
    "Clear the one that is not so.",
)
RING_RATIO = warn(
    "ring-ratio",
    "The outer ring is {ratio:.2f} times as wide as the inner one; twice is asked.",
    "Measure both inside; take a wider outer ring.",
)
HEADS_APART = warn(
    "heads-apart",
    "{inner:g [mm]} of water in the inner ring, {outer:g mm} in the outer one: it flows from one to the other below.",
    "Keep both at one level, within {within:g mm}.",
)
SHALLOW = warn(
    "shallow",
    "Driven in by {inner:g [mm]} and {outer:g mm}: water finds its way below a rim.",
    "Inner ring 50 mm at least, outer one as deep or deeper.",
)
TIME_BACK = stop(
    "time-back",
    "{elapsed_min:g min} does not come after {last:g min}.",
    "Put the readings in the order in which they were made, or leave the row out with the reason.",
)
WRONG_WAY = stop(
    "wrong-way",
    "The {ring} tube goes back until {to_min:g min}: filled up, or misread?",
    "Say refilled in that row, or put the level right.",
)
STUCK = stop(
    "stuck",
    "The {ring} tube stands for {stood:g min}.",
    "Open its valve, look for bubbles; leave those rows out with the reason.",
)
RATE_JUMPS = warn(
    "rate-jumps",
    "{ring}: {rate:.3g [mm/h]} until {to_min:g min}, the intervals beside it {near:.3g mm/h}.",
    "Read level and time again, or leave the row out with the reason.",
)
STOPPED = warn(
    "stopped",
    "Not steady yet after {hours:.2g} h.",
    "Keep both at their level and read on; if the place must be given up, leave the test open and say why.",
    awaited=True,
)
NEVER_STEADY = warn(
    "never-steady",
    "{count} intervals, and the last {steady_rates} still differ by more than {within_percent:g %}.",
    "Go on with longer intervals; look for water beside the rims.",
)
SHORT = note(
    "short",
    "Steady after {hours:.2g h}; the standard reads for six.",
    "Go on where the design leans on it: dry ground may only seem to be steady.",
)
INNER_FASTER = warn(
    "inner-faster",
    "The inner ring takes {ratio:.2g} times as much as the ground between the rings.",
    "Look for a crack or a root in it, water below its rim, and whether the tubes or their columns are exchanged.",
)
OUTER_FASTER = warn(
    "outer-faster",
    "The ground between the rings takes {ratio:.2g} times as much as the inner ring.",
    "Look for water beside the outer rim; look at the sizes of rings and tubes.",
)
WATER_TABLE = warn(
    "water-table",
    "The water table at {water_table_m:g m} is less than {least:g m} below the rings.",
    "The rate holds for this water table only; a design needs the distance its code asks for.",
)

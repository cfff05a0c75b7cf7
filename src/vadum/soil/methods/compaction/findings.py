"""What can be wrong with the readings, and what to do about it at the bench."""

from vadum.soil.contract.finding import note, stop, warn

MOULD_VOLUME = warn(
    "mould-volume",
    "{volume:g cm³} is not a {mould}, {low:g [cm³]} to {high:g cm³}.",
    "Check the mould's volume and the effort under School.",
)
MOULD_HEAVIER = stop(
    "mould-heavier",
    "Point {number}: mould with soil {filled:g g} is not heavier than the mould, {mould:g g}.",
    "Weigh again, both without collar.",
)
DENSITY_IMPOSSIBLE = stop(
    "density-impossible",
    "Point {number}: a bulk density of {bulk_density:.2f g/cm³} cannot be.",
    "Weigh without collar; check the mould's mass and volume.",
)
ABOVE_ZERO_AIR = stop(
    "above-zero-air",
    "Point {number} lies right of the zero-air line: {dry_density:.3f g/cm³} at {water_content:.1f %}, at most"
    " {full:.3f [g/cm³]}.",
    "Check the tin, then the mould's mass and volume, {then}.",
)
PEAK_ABOVE_ZERO_AIR = stop(
    "peak-above-zero-air",
    "The curve's maximum, {dry_density:.3f g/cm³} at {water_content:.1f %}, lies above the zero-air line,"
    " {full:.3f [g/cm³]}.",
    "Make a point near the optimum, or take the other curve under School; then look at the Gs.",
)
PEAK_ABOVE_POINTS = warn(
    "peak-above-points",
    "The curve's maximum, {dry_density:.3f g/cm³} at {water_content:.1f %}, stands {above:.3f g/cm³} above the densest"
    " point: no mould was as dense.",
    "Look at the tins of the points beside it; make a point at that water content.",
)
EQUAL_WATER = warn(
    "equal-water",
    "Points {one} and {other} have one water content, {water_content:.1f %}: they are one point of the curve.",
    "Read both tins again; make a point at another water content.",
)
WATER_GAP = warn(
    "water-gap",
    "From {low:.1f [%]} to {high:.1f %} there is no point: the curve is drawn over {gap:.1f %} of water.",
    "Make a point between them.",
)
TOO_FEW_POINTS = stop("too-few-points", "{count} of {points_needed} points made.", "{next_point}", awaited=True)
DRIEST_DENSEST = stop(
    "optimum-outside",
    "The driest point, {water_content:.1f %}, is the densest: the optimum lies outside the points.",
    "Make a point 2 % drier.",
    awaited=True,
)
WETTEST_DENSEST = stop(
    "optimum-outside",
    "The wettest point, {water_content:.1f %}, is the densest: the optimum lies outside the points.",
    "Make a point 2 % wetter.",
    awaited=True,
)
NO_MAXIMUM = stop(
    "no-maximum",
    "The {curve} through these points has no maximum between them.",
    "Repeat the densest point, or choose the other curve under School.",
)
HAND_OUTSIDE = stop(
    "optimum-outside",
    "The optimum set by hand, {optimum_percent:.1f %}, lies outside the points.",
    "Set it between the points or return it to automatic.",
    awaited=True,
)
ONE_SIDED = warn(
    "one-sided",
    "{dry} points lie dry and {wet} wet of the optimum; two are wanted on each side.",
    "Make one more {side} point.",
)
ERRATIC_POINT = warn(
    "erratic-point",
    "Point {number} does not fit: the curve sags by {largest:.3f g/cm³} with it, by {without:.3f [g/cm³]} without.",
    "Repeat it with fresh soil, or leave it out with a reason.",
)
OVERSIZE_MUCH = stop(
    "oversize-much",
    "{share:g %} of oversize is more than the {most:g [%]} for which the correction holds.",
    "Test in the larger mould, or set the limit for your sieve under School: 40 % above 4.75 mm, 30 % above 19 mm.",
)
OVERSIZE_GRAVITY_ASSUMED = note(
    "oversize-gravity-assumed", "The oversize's specific gravity is assumed, 2.65.", "Weigh some of it in water."
)

"""Where the sieve limb and the sedimentation limb meet."""

from vadum.soil.bench.grading.context import CurveOf, GradingContext
from vadum.soil.bench.grading.fractions import D_PERCENT
from vadum.soil.contract.finding import Finding, warn
from vadum.soil.physics.grading import Curve

LIMBS_APART = warn(
    "limbs-apart",
    "Where sieve and hydrometer meet, the hydrometer limb lies {percent:.1f %} {side} the sieve limb.",
    "Check the share passing the sieve that fed the hydrometer, the dry mass in suspension and the wash; sieve the"
    " hydrometer's own sand over 0.075 mm to compare.",
)

WIDE_GAP = warn(
    "wide-gap",
    "{names} {are} read between {finer:.2g [mm]} and {coarser:.2g mm}, more than a decade apart.",
    "Put a sieve between them, or take hydrometer readings there, before the value is used.",
)

_JUMP_PERCENT = 5.0
# Points further apart say nothing of how the curve runs between them.
_DECADE = 10.0


def limb(of: CurveOf | None) -> Curve:
    """Return a limb from the context, empty when the sample has none."""
    points = [(d, p) for d, p in of.points if d > 0] if of else []
    return Curve.through([d for d, _ in points], [p for _, p in points])


def fine_limb(context: GradingContext) -> Curve:
    return limb(context.hydrometer_curve)


def coarse_limb(context: GradingContext) -> Curve:
    return limb(context.sieve_curve)


def wide_gaps(curve: Curve) -> list[Finding]:
    """Return the D-values that are read between points more than a decade apart."""
    between: dict[tuple[float, float], list[str]] = {}
    for percent in D_PERCENT:
        at = curve.diameter_at(percent)
        if at is None:
            continue
        beside = curve.beside(at)
        if beside[1] > _DECADE * beside[0]:
            between.setdefault(beside, []).append(f"D{percent:g}")
    return [
        WIDE_GAP.at(names=" and ".join(names), are="is" if len(names) == 1 else "are", finer=finer, coarser=coarser)
        for (finer, coarser), names in between.items()
    ]


def jump_finding(jump: float | None) -> list[Finding]:
    """Return a warning when the limbs do not meet."""
    if jump is None or abs(jump) <= _JUMP_PERCENT:
        return []
    side = "above" if jump > 0 else "below"
    return [LIMBS_APART.at(percent=abs(jump), side=side)]

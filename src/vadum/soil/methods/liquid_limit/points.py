"""The weighed trials as points on a figure, and what can be wrong with them together."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.liquid_limit import equations as eq
from vadum.soil.methods.liquid_limit.advice import open_bands
from vadum.soil.methods.liquid_limit.findings import (
    ALL_ABOVE_25,
    ALL_BELOW_25,
    EQUAL_WATER,
    OFF_THE_LINE,
    ONE_COUNT,
    RANGE_NOT_COVERED,
    SCATTERED,
    SLOPE_ODD,
    SLOPE_WRONG_WAY,
    TINS_EXCHANGED,
    TOO_FEW_TRIALS,
)
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, Trial
from vadum.soil.numbers.fit import LineFit, line_fit

# Water contents nearer than this, at counts further apart than this share, were not weighed but copied.
_SAME_WATER, _OTHER_COUNT = 0.005, 0.1
# Flow index over the limit: 2.3 tan β of the one-point formula, whose tan β is 0.121, of single soils 0.04 to 0.2.
_SLOPES = 0.08, 0.55


@dataclass(frozen=True)
class Weighed:
    """A trial in use with its water content: the point on the figure."""

    row: int
    trial: Trial
    x: float
    water_content: float


def too_few(weighed: list[Weighed], needed: int, what: str) -> list[Finding]:
    if not weighed or len(weighed) >= needed:
        return []
    missing = needed - len(weighed)
    return [TOO_FEW_TRIALS.at(count=len(weighed), needed=needed, missing=missing, what=what)]


def line_findings(weighed: list[Weighed], fit: LineFit, settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < 2:
        return []
    cone = settings.cone is not None
    if exchanged := _exchanged_pair(weighed, settings):
        a, b = exchanged
        return [TINS_EXCHANGED.at(f"trials.{a.row}.tin", f"trials.{b.row}.tin", one=a.row + 1, other=b.row + 1)]
    if copied := equal_water(weighed):
        return copied
    rising = fit.slope > 0
    if rising != cone:
        return [
            SLOPE_WRONG_WAY.at(
                *(f"trials.{p.row}.{'penetration_mm' if cone else 'blows'}" for p in weighed),
                goes="rises with blows" if not cone else "falls with penetration",
            )
        ]
    if len(weighed) < 3:
        return []
    findings = []
    worst = int(np.argmax(np.abs(fit.residuals)))
    if abs(fit.residuals[worst]) > _off_line(weighed, settings):
        point = weighed[worst]
        findings.append(
            OFF_THE_LINE.at(
                f"trials.{point.row}.mass_tin_dry_g", number=point.row + 1, x=point.x, percent=abs(fit.residuals[worst])
            )
        )
    low, high = _SLOPES
    share = -fit.slope / eq.liquid_limit_from_flow_curve(fit)
    if not cone and not low <= share <= high:
        ends = (min(weighed, key=lambda p: p.x), max(weighed, key=lambda p: p.x))
        cells = (f"trials.{p.row}.mass_tin_dry_g" for p in ends)
        findings.append(SLOPE_ODD.at(*cells, share=100 * share, low=100 * low, high=100 * high))
    if fit.r_squared < settings.least_r_squared:
        findings.append(SCATTERED.at(r_squared=fit.r_squared, least_r_squared=settings.least_r_squared))
    return findings


def one_count(weighed: list[Weighed], settings: LiquidLimitSettings) -> list[Finding]:
    """Return that several trials stand at one count or penetration, where no line can be drawn."""
    if len(weighed) < 2 or len({p.x for p in weighed}) > 1:
        return []
    column, what = ("penetration_mm", "penetration") if settings.cone else ("blows", "count")
    return [ONE_COUNT.at(*(f"trials.{p.row}.{column}" for p in weighed), x=weighed[0].x, what=what)]


def equal_water(weighed: list[Weighed]) -> list[Finding]:
    """Return two trials of one water content at counts that differ: no soil does that."""
    return [
        EQUAL_WATER.at(
            f"trials.{a.row}.mass_tin_dry_g",
            f"trials.{b.row}.mass_tin_dry_g",
            one=a.row + 1,
            other=b.row + 1,
            x=a.x,
            y=b.x,
        )
        for a, b in combinations(weighed, 2)
        if abs(a.water_content - b.water_content) < _SAME_WATER and abs(a.x - b.x) > _OTHER_COUNT * min(a.x, b.x)
    ]


def _off_line(weighed: list[Weighed], settings: LiquidLimitSettings) -> float:
    """Return how far off the line a trial may lie, percent of water: a share of what they lie around."""
    return settings.off_line_percent / 100 * float(np.mean([p.water_content for p in weighed]))


def _exchanged_pair(weighed: list[Weighed], settings: LiquidLimitSettings) -> tuple[Weighed, Weighed] | None:
    """Return two trials whose exchanged water contents turn a poor line into a good one, or turn it the right way."""
    if len(weighed) < 3:
        return None
    cone = settings.cone is not None
    x = [p.x if cone else float(np.log10(p.x)) for p in weighed]
    w = [p.water_content for p in weighed]
    plain = line_fit(x, w)
    if plain is None or (plain.r_squared > 0.9 and (plain.slope > 0) == cone):
        return None
    near = np.max(np.abs(plain.residuals)) <= _off_line(weighed, settings) / 2
    if (plain.slope > 0) == cone and (near or len(weighed) < 4):
        return None
    for i, j in combinations(range(len(w)), 2):
        trial = list(w)
        trial[i], trial[j] = trial[j], trial[i]
        fit = line_fit(x, trial)
        if fit and fit.r_squared > 0.98 and (fit.slope > 0) == cone:
            return weighed[i], weighed[j]
    return None


def coverage_findings(weighed: list[Weighed], settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < len(settings.bands):
        return []
    counts = [int(p.x) for p in weighed]
    cells = [f"trials.{p.row}.blows" for p in weighed]
    if min(counts) > eq.STANDARD_BLOWS or max(counts) < eq.STANDARD_BLOWS:
        above = min(counts) > eq.STANDARD_BLOWS
        return [(ALL_ABOVE_25 if above else ALL_BELOW_25).at(*cells)]
    missing = open_bands(counts, settings.bands)
    if not missing:
        return []
    ranges = " and ".join(f"{low}–{high}" for low, high in missing)
    return [RANGE_NOT_COVERED.at(*cells, ranges=ranges)]

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
    OFF_THE_LINE,
    RANGE_NOT_COVERED,
    SCATTERED,
    SLOPE_WRONG_WAY,
    TINS_EXCHANGED,
    TOO_FEW_TRIALS,
)
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, School, Trial
from vadum.soil.numbers.fit import LineFit, line_fit


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
    cone = settings.school == School.FALL_CONE
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
    if exchanged := _exchanged_pair(weighed, settings):
        a, b = exchanged
        return [TINS_EXCHANGED.at(f"trials.{a.row}.tin", f"trials.{b.row}.tin", one=a.row + 1, other=b.row + 1)]
    findings = []
    worst = int(np.argmax(np.abs(fit.residuals)))
    if abs(fit.residuals[worst]) > settings.off_line_percent:
        point = weighed[worst]
        findings.append(
            OFF_THE_LINE.at(
                f"trials.{point.row}.mass_tin_dry_g", number=point.row + 1, x=point.x, percent=abs(fit.residuals[worst])
            )
        )
    if fit.r_squared < settings.least_r_squared:
        findings.append(SCATTERED.at(r_squared=fit.r_squared, least_r_squared=settings.least_r_squared))
    return findings


def _exchanged_pair(weighed: list[Weighed], settings: LiquidLimitSettings) -> tuple[Weighed, Weighed] | None:
    """Return two trials whose exchanged water contents turn a poor line into a good one."""
    if len(weighed) < 4:
        return None
    x = [p.x if settings.school == School.FALL_CONE else float(np.log10(p.x)) for p in weighed]
    w = [p.water_content for p in weighed]
    plain = line_fit(x, w)
    if plain is None or np.max(np.abs(plain.residuals)) <= settings.off_line_percent / 2 or plain.r_squared > 0.9:
        return None
    for i, j in combinations(range(len(w)), 2):
        trial = list(w)
        trial[i], trial[j] = trial[j], trial[i]
        fit = line_fit(x, trial)
        if fit and fit.r_squared > 0.98 and (fit.slope > 0) == (settings.school == School.FALL_CONE):
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

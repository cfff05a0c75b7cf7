"""The weighed trials as points on a figure, and what can be wrong with them together."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.methods.liquid_limit import equations as eq
from vadum.soil.methods.liquid_limit.advice import open_bands
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, Trial
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
    return [
        stop(
            "too-few-trials",
            f"{len(weighed)} of {needed} trials weighed in the accepted range.",
            f"Make {missing} more at other {what}.",
        )
    ]


def line_findings(weighed: list[Weighed], fit: LineFit, settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < 2:
        return []
    cone = settings.school == "fall-cone"
    rising = fit.slope > 0
    if rising != cone:
        return [
            stop(
                "slope-wrong-way",
                f"Water content {'rises with blows' if not cone else 'falls with penetration'}: it must go the other"
                " way.",
                "Check tin numbers and counts first; a crust or dry lumps in the mix do this too. Repeat the odd"
                " trial.",
                *(f"trials.{p.row}.{'penetration_mm' if cone else 'blows'}" for p in weighed),
            )
        ]
    if len(weighed) < 3:
        return []
    if exchanged := _exchanged_pair(weighed, settings):
        a, b = exchanged
        return [
            warn(
                "tins-exchanged",
                f"Trials {a.row + 1} and {b.row + 1} fall on the line if their tins are exchanged.",
                "Read the two tin numbers again.",
                f"trials.{a.row}.tin",
                f"trials.{b.row}.tin",
            )
        ]
    findings = []
    worst = int(np.argmax(np.abs(fit.residuals)))
    if abs(fit.residuals[worst]) > settings.off_line_percent:
        point = weighed[worst]
        findings.append(
            warn(
                "off-the-line",
                f"Trial {point.row + 1} ({point.x:g}) lies {abs(fit.residuals[worst]):.1f} % w off the line.",
                "Check its tin and masses; if they hold, repeat the trial or leave it out with a reason.",
                f"trials.{point.row}.mass_tin_dry_g",
            )
        )
    if fit.r_squared < settings.least_r_squared:
        findings.append(
            warn(
                "scattered",
                f"r² {fit.r_squared:.3f} is below {settings.least_r_squared:g}: the trials do not make a line.",
                "Check the tins, then repeat the trial furthest off; mix longer before each.",
            )
        )
    return findings


def _exchanged_pair(weighed: list[Weighed], settings: LiquidLimitSettings) -> tuple[Weighed, Weighed] | None:
    """Return two trials whose exchanged water contents turn a poor line into a good one."""
    if len(weighed) < 4:
        return None
    x = [p.x if settings.school == "fall-cone" else float(np.log10(p.x)) for p in weighed]
    w = [p.water_content for p in weighed]
    plain = line_fit(x, w)
    if plain is None or np.max(np.abs(plain.residuals)) <= settings.off_line_percent / 2 or plain.r_squared > 0.9:
        return None
    for i, j in combinations(range(len(w)), 2):
        trial = list(w)
        trial[i], trial[j] = trial[j], trial[i]
        fit = line_fit(x, trial)
        if fit and fit.r_squared > 0.98 and (fit.slope > 0) == (settings.school == "fall-cone"):
            return weighed[i], weighed[j]
    return None


def coverage_findings(weighed: list[Weighed], settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < len(settings.bands):
        return []
    counts = [int(p.x) for p in weighed]
    cells = [f"trials.{p.row}.blows" for p in weighed]
    if min(counts) > eq.STANDARD_BLOWS or max(counts) < eq.STANDARD_BLOWS:
        above = min(counts) > eq.STANDARD_BLOWS
        return [
            stop(
                "one-side-of-25",
                f"All trials are {'above' if above else 'below'} 25 blows: the limit would be guessed beyond the"
                " trials.",
                (
                    "Add 1–3 mL, remix, and make a trial at 15–25 blows."
                    if above
                    else "Dry the mix by stirring and make a trial at 25–35 blows."
                ),
                *cells,
            )
        ]
    missing = open_bands(counts, settings.bands)
    if not missing:
        return []
    ranges = " and ".join(f"{low}–{high}" for low, high in missing)
    return [
        warn(
            "range-not-covered",
            f"No trial of its own at {ranges} blows.",
            f"Make one more trial at {ranges} blows.",
            *cells,
        )
    ]

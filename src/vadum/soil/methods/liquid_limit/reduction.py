"""From trials to the liquid limit."""

import numpy as np

from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.figure import Mark
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.liquid_limit.advice import trial_findings
from vadum.soil.methods.liquid_limit.figure import limit_figure
from vadum.soil.methods.liquid_limit.findings import (
    CRANK_RATE,
    CUP_TO_ADJUST,
    CUP_TO_REPLACE,
    INSPECTION_OVERDUE,
    LIQUID_LIMIT_NOT_DETERMINABLE,
    LITTLE_SOIL,
    NOT_INSPECTED,
    SEASONED_TOO_SHORT,
)
from vadum.soil.methods.liquid_limit.next_action import afterwards, in_hand, next_step
from vadum.soil.methods.liquid_limit.points import Weighed
from vadum.soil.methods.liquid_limit.readings import (
    LiquidLimitContext,
    LiquidLimitReadings,
    LiquidLimitSettings,
    School,
    Seasoning,
    Trial,
)
from vadum.soil.methods.liquid_limit.results import LIQUID_LIMIT
from vadum.soil.methods.liquid_limit.schools import BASIS, SCHOOLS, Outcome

LEAST_SEASONING_MIN = {Seasoning.HALF_HOUR: 30, Seasoning.HOURS_16: 960, Seasoning.OVERNIGHT: 720}


def reduce_liquid_limit(
    readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
) -> Reduction:
    """Return all that the trials say so far."""
    if readings.not_determinable:
        return _non_plastic(readings.not_determinable, settings)
    trials = readings.trials
    findings = weighing_findings("trials", trials, context.tins)
    weighed, outside = _weighed(trials, settings, context.tins)
    outcome = SCHOOLS[settings.school](weighed, settings)
    # A count without a tin is advice while it is made, and no fault once the next trial stands.
    making = None if outcome.enough else in_hand(trials)
    for i, trial in enumerate(trials):
        if trial.used and (not trial.attempted or i == making):
            findings += trial_findings(i, trial, settings)
    findings += outcome.findings + _preparation(readings, settings) + _cup(settings, context)
    result = Reduction(
        findings=findings,
        computed={
            f"trials.{i}.water_content_percent": w
            for i, trial in enumerate(trials)
            if (w := trial.water_content(context.tins)) is not None
        },
        expected=_expected(trials, outcome, settings, context.tins),
        derivation=[
            *(p.trial.weighing_step(context.tins, p.water_content, f"trial {p.row + 1}") for p in weighed),
            *outcome.steps,
        ],
        figures=[
            limit_figure(
                _marks(trials, weighed, outside, settings, context.tins),
                outcome.ends,
                outcome.limit,
                settings,
                outcome.caption,
            )
        ],
        school=settings.school.label,
        complete=outcome.enough,
    )
    if outcome.limit is not None:
        result.parameters = [
            LIQUID_LIMIT.of(outcome.limit, basis=BASIS[settings.school], doubt=outcome.doubt),
            *outcome.parameters,
        ]
    result.next_step = next_step(trials, [w.x for w in weighed], settings)
    result.afterwards = afterwards(result)
    if (last := in_hand(trials)) is not None:
        result.in_hand = f"trials.{last}."
    return result


def _non_plastic(reason: str, settings: LiquidLimitSettings) -> Reduction:
    return Reduction(
        parameters=[LIQUID_LIMIT.word("NP")],
        findings=[LIQUID_LIMIT_NOT_DETERMINABLE.at("not_determinable", reason=reason)],
        afterwards="Report as non-plastic. Nothing more to measure here.",
        school=settings.school.label,
        complete=True,
    )


def _weighed(
    trials: list[Trial], settings: LiquidLimitSettings, tins: dict[str, float]
) -> tuple[list[Weighed], list[Weighed]]:
    """Return the weighed trials inside the accepted range and those outside it."""
    inside: list[Weighed] = []
    outside: list[Weighed] = []
    low, high = (15, 25) if settings.school == School.FALL_CONE else settings.window
    for i, trial in enumerate(trials):
        x, w = abscissa(trial, settings), trial.water_content(tins)
        if not trial.used or x is None or w is None:
            continue
        # A one-point count outside its window is a stop; its value is still shown, as what is known so far.
        fits = settings.school == School.ONE_POINT or low <= x <= high
        (inside if fits else outside).append(Weighed(i, trial, x, w))
    return inside, outside


def abscissa(trial: Trial, settings: LiquidLimitSettings) -> float | None:
    """Return what the trial is plotted against: the count that goes with the tin, or the penetration in mm."""
    if settings.school == School.FALL_CONE:
        return trial.penetration
    if settings.school == School.ONE_POINT and trial.blows_repeat is not None:
        return float(trial.blows_repeat)
    return float(trial.blows) if trial.blows is not None else None


def _preparation(readings: LiquidLimitReadings, settings: LiquidLimitSettings) -> list[Finding]:
    findings = []
    needed = LEAST_SEASONING_MIN[settings.seasoning]
    if readings.seasoning_min is not None and readings.seasoning_min < needed:
        findings.append(
            SEASONED_TOO_SHORT.at("seasoning_min", seasoning_min=readings.seasoning_min, seasoning=settings.seasoning)
        )
    rate = readings.rate_drops_per_s
    if rate is not None and settings.school != School.FALL_CONE and not 1.9 <= rate <= 2.1:
        findings.append(CRANK_RATE.at("rate_drops_per_s", rate=rate))
    least = 100.0
    if readings.mass_prepared_g is not None and readings.mass_prepared_g < least:
        findings.append(LITTLE_SOIL.at("mass_prepared_g", mass_prepared_g=readings.mass_prepared_g, least=least))
    return findings


_INSPECTION = {
    "missing": NOT_INSPECTED,
    "overdue": INSPECTION_OVERDUE,
    "adjust": CUP_TO_ADJUST,
    "replace": CUP_TO_REPLACE,
}


def _cup(settings: LiquidLimitSettings, context: LiquidLimitContext) -> list[Finding]:
    if settings.school == School.FALL_CONE or context.cup_inspection in (None, "fit"):
        return []
    cup = context.cup or "The cup"
    return [_INSPECTION[context.cup_inspection].at(cup=cup)]


def _marks(
    trials: list[Trial],
    weighed: list[Weighed],
    outside: list[Weighed],
    settings: LiquidLimitSettings,
    tins: dict[str, float],
) -> list[Mark]:
    marks = [Mark(x=p.x, y=p.water_content, label=f"{p.x:g}", path=f"trials.{p.row}") for p in weighed]
    marks += [
        Mark(x=p.x, y=p.water_content, label=f"{p.x:g}, out of range", path=f"trials.{p.row}", in_hand=False)
        for p in outside
    ]
    for i, trial in enumerate(trials):
        x, w = abscissa(trial, settings), trial.water_content(tins)
        if not trial.used and x is not None and w is not None:
            marks.append(Mark(x=x, y=w, label=f"{x:g}, left out", path=f"trials.{i}", left_out=True))
    return marks


def _expected(
    trials: list[Trial], outcome: Outcome, settings: LiquidLimitSettings, tins: dict[str, float]
) -> dict[str, tuple[float, float]]:
    """Return the counts the school accepts, and where the next dry mass should fall by the line so far."""
    expected: dict[str, tuple[float, float]] = {}
    if settings.school != School.FALL_CONE:
        blank = [i for i, trial in enumerate(trials) if trial.blows is None] + [len(trials)]
        expected |= {f"trials.{i}.blows": settings.window for i in blank}
    for i, trial in enumerate(trials):
        x, tare, wet = abscissa(trial, settings), trial.tare_g(tins), trial.mass_tin_wet_g
        if (
            trial.mass_tin_dry_g is not None
            or not trial.used
            or x is None
            or tare is None
            or wet is None
            or wet <= tare
        ):
            continue
        if outcome.ends is None:
            continue
        (x0, y0), (x1, y1) = outcome.ends
        if settings.school == School.FALL_CONE:
            w = y0 + (x - x0) / (x1 - x0) * (y1 - y0)
        else:
            w = y0 + np.log(x / x0) / np.log(x1 / x0) * (y1 - y0)
        reach = settings.off_line_percent
        low, high = (tare + (wet - tare) / (1 + max(0.0, v) / 100) for v in (w + reach, w - reach))
        expected[f"trials.{i}.mass_tin_dry_g"] = (round(low, 2), round(high, 2))
    return expected

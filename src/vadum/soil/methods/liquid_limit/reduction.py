"""From trials to the liquid limit."""

import numpy as np

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.figure import Mark
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.methods.liquid_limit.advice import trial_findings
from vadum.soil.methods.liquid_limit.figure import limit_figure
from vadum.soil.methods.liquid_limit.findings import (
    CRANK_RATE,
    CUP_TO_ADJUST,
    CUP_TO_REPLACE,
    INSPECTION_OVERDUE,
    LIQUID_LIMIT_NOT_DETERMINABLE,
    LITTLE_SOIL,
    NATURAL_DRIED,
    NOT_INSPECTED,
    SEASONED_TOO_SHORT,
    TICKED_BESIDE_TRIALS,
)
from vadum.soil.methods.liquid_limit.next_action import afterwards, in_hand, next_step
from vadum.soil.methods.liquid_limit.points import Weighed
from vadum.soil.methods.liquid_limit.readings import (
    LiquidLimitContext,
    LiquidLimitReadings,
    LiquidLimitSettings,
    Prepared,
    School,
    Seasoning,
    State,
    Trial,
)
from vadum.soil.methods.liquid_limit.results import DEVICE, LIQUID_LIMIT, LIQUID_LIMIT_OVEN_DRIED, RETAINED, STATE
from vadum.soil.methods.liquid_limit.schools import SCHOOLS, Outcome, followed

LEAST_SEASONING_MIN = {Seasoning.HALF_HOUR: 30, Seasoning.HOURS_16: 960, Seasoning.OVERNIGHT: 720}
# ASTM D4318 (2017), clause 10 for the cup; BS 1377-2 (1990), clause 4.3 for the cone.
_LEAST_PREPARED_G = {
    School.MULTIPOINT: 150.0,
    School.ONE_POINT: 50.0,
    School.REPLICATED: 150.0,
    School.FALL_CONE: 200.0,
    School.FALL_CONE_60: 200.0,
}


def reduce_liquid_limit(
    readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
) -> Reduction:
    """Return all that the trials say so far."""
    readings, dried = until_constant(readings, "trials", settings.tins_dried, context.tins)
    trials = readings.trials
    if readings.not_determinable:
        return _non_plastic(readings, settings, context)
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
        school=_school(readings, settings),
        follows=[followed(settings, len(weighed))],
        complete=outcome.enough,
    )
    if outcome.limit is not None:
        result.parameters = [
            _limit_of(readings).of(outcome.limit, basis=followed(settings, len(weighed)), doubt=outcome.doubt),
            *outcome.parameters,
            *_described(readings, settings),
        ]
    result.next_step = next_step(trials, made(trials, settings), settings)
    result.afterwards = afterwards(result)
    dried.judge(result)
    if (last := in_hand(trials)) is not None:
        result.in_hand = f"trials.{last}."
    return result


def _school(readings: LiquidLimitReadings, settings: LiquidLimitSettings) -> str:
    return f"{settings.school}, {readings.state or 'state of the soil not said'}"


def _limit_of(readings: LiquidLimitReadings) -> Result:
    """Return which limit it is: one of oven-dried soil is compared with the sample's limit and never stands for it."""
    return LIQUID_LIMIT_OVEN_DRIED if readings.state == State.OVEN_DRIED else LIQUID_LIMIT


def _described(readings: LiquidLimitReadings, settings: LiquidLimitSettings) -> list[Parameter]:
    """Return what whoever leans on the limit has to know of it."""
    retained = readings.retained_0_425_mm_percent
    return (
        [DEVICE.word("fall cone" if settings.cone else "percussion cup")]
        + ([STATE.word(readings.state.value)] if readings.state in (State.NATURAL, State.AIR_DRIED) else [])
        + ([RETAINED.of(retained)] if retained is not None else [])
    )


def _non_plastic(
    readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
) -> Reduction:
    findings = [LIQUID_LIMIT_NOT_DETERMINABLE.at("not_determinable", reason=readings.not_determinable)]
    good, _ = _weighed(readings.trials, settings, context.tins)
    if len(good) > 1:
        findings.append(TICKED_BESIDE_TRIALS.at("not_determinable", count=len(good)))
    return Reduction(
        parameters=[_limit_of(readings).word("NP")],
        findings=findings,
        afterwards="Report as non-plastic. Nothing more to measure here.",
        school=_school(readings, settings),
        follows=[followed(settings, len(good))],
        complete=True,
    )


def made(trials: list[Trial], settings: LiquidLimitSettings) -> list[float]:
    """Return the counts or penetrations of the trials in the accepted range whose tin is filled, dried or not."""
    low, high = settings.accepted
    filled = [abscissa(t, settings) for t in trials if t.used and t.mass_tin_wet_g is not None]
    return [x for x in filled if x is not None and low <= x <= high]


def _weighed(
    trials: list[Trial], settings: LiquidLimitSettings, tins: dict[str, float]
) -> tuple[list[Weighed], list[Weighed]]:
    """Return the weighed trials inside the accepted range and those outside it."""
    inside: list[Weighed] = []
    outside: list[Weighed] = []
    low, high = settings.accepted
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
    if settings.cone:
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
    if rate is not None and not settings.cone and not 1.9 <= rate <= 2.1:
        findings.append(CRANK_RATE.at("rate_drops_per_s", rate=rate))
    least = _LEAST_PREPARED_G[settings.school]
    if readings.mass_prepared_g is not None and readings.mass_prepared_g < least:
        findings.append(LITTLE_SOIL.at("mass_prepared_g", mass_prepared_g=readings.mass_prepared_g, least=least))
    if readings.state == State.NATURAL and readings.prepared == Prepared.DRY:
        findings.append(NATURAL_DRIED.at("prepared", "state"))
    return findings


_INSPECTION = {
    "missing": NOT_INSPECTED,
    "overdue": INSPECTION_OVERDUE,
    "adjust": CUP_TO_ADJUST,
    "replace": CUP_TO_REPLACE,
}


def _cup(settings: LiquidLimitSettings, context: LiquidLimitContext) -> list[Finding]:
    if settings.cone or context.cup_inspection in (None, "fit"):
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
    first = "penetration_mm" if settings.cone else "blows"
    blank = [i for i, trial in enumerate(trials) if getattr(trial, first) is None] + [len(trials)]
    expected |= {f"trials.{i}.{first}": settings.accepted for i in blank}
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
        if settings.cone:
            w = y0 + (x - x0) / (x1 - x0) * (y1 - y0)
        else:
            w = y0 + np.log(x / x0) / np.log(x1 / x0) * (y1 - y0)
        reach = settings.off_line_percent / 100 * w
        low, high = (tare + (wet - tare) / (1 + max(0.0, v) / 100) for v in (w + reach, w - reach))
        expected[f"trials.{i}.mass_tin_dry_g"] = (round(low, 2), round(high, 2))
    return expected

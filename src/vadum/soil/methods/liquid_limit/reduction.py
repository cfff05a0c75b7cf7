"""From trials to the liquid limit."""

from dataclasses import dataclass, field
from itertools import combinations

import numpy as np

from vadum.soil.derivation import Step
from vadum.soil.figure import Mark, Point
from vadum.soil.finding import Finding, note, stop, warn
from vadum.soil.fit import LineFit, line_fit
from vadum.soil.method import Reduction, judged
from vadum.soil.methods.liquid_limit import equations as eq
from vadum.soil.methods.liquid_limit.advice import open_bands, trial_findings
from vadum.soil.methods.liquid_limit.figure import limit_figure
from vadum.soil.methods.liquid_limit.next_action import next_action
from vadum.soil.methods.liquid_limit.readings import (
    SCHOOL_NAMES,
    LiquidLimitContext,
    LiquidLimitReadings,
    LiquidLimitSettings,
    Trial,
)
from vadum.soil.parameter import Parameter, number, verdict
from vadum.soil.rounding import TENTH, THOUSANDTH, WHOLE
from vadum.soil.weighing import weighing_findings

BASIS = {
    "multipoint": "ASTM D4318 method A",
    "one-point": "ASTM D4318 method B",
    "replicated": "ASTM D4318 method B, replicated",
    "fall-cone": "BS 1377-2 clause 4.3, ISO 17892-12",
}
_SEASONING_MIN = {"30 min": 30, "16 h": 960, "overnight": 720}


@dataclass(frozen=True)
class Weighed:
    """A trial in use with its water content: the point on the figure."""

    row: int
    trial: Trial
    x: float
    water_content: float


@dataclass
class Outcome:
    """What a school makes of the weighed trials."""

    limit: float | None = None
    doubt: float | None = None
    ends: tuple[Point, Point] | None = None
    parameters: list[Parameter] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    steps: list[Step] = field(default_factory=list)
    caption: str = ""
    enough: bool = False


def reduce_liquid_limit(
    readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
) -> Reduction:
    """Return all that the trials say so far."""
    if readings.not_determinable:
        return _non_plastic(readings.not_determinable, settings)
    trials = readings.trials
    findings = weighing_findings("trials", trials, context.tins)
    for i, trial in enumerate(trials):
        if trial.used:
            findings += trial_findings(i, trial, settings)
    weighed, outside = _weighed(trials, settings, context.tins)
    outcome = _SCHOOLS[settings.school](weighed, settings)
    findings += outcome.findings + _preparation(readings, settings) + _cup(settings, context)
    result = Reduction(
        findings=findings,
        computed={
            f"trials.{i}.water_content_percent": w
            for i, trial in enumerate(trials)
            if (w := trial.water_content(context.tins)) is not None
        },
        expected=_expected(trials, outcome, settings, context.tins),
        derivation=[*_weighing_steps(weighed, context.tins), *outcome.steps],
        figures=[
            limit_figure(
                _marks(trials, weighed, outside, settings, context.tins),
                outcome.ends,
                outcome.limit,
                settings,
                outcome.caption,
            )
        ],
        school=SCHOOL_NAMES[settings.school],
        complete=outcome.enough,
    )
    if outcome.limit is not None:
        result.parameters = [
            number(
                "liquid_limit",
                "LL",
                "liquid limit",
                "%",
                outcome.limit,
                WHOLE,
                basis=BASIS[settings.school],
                doubt=outcome.doubt,
            ),
            *outcome.parameters,
        ]
    judged(result)
    result.next_action = next_action(trials, [w.x for w in weighed], settings, result)
    return result


def _non_plastic(reason: str, settings: LiquidLimitSettings) -> Reduction:
    return judged(
        Reduction(
            parameters=[verdict("liquid_limit", "LL", "liquid limit", "NP", basis="ASTM D4318 clause 15")],
            findings=[
                note(
                    "liquid-limit-not-determinable",
                    f"The liquid limit cannot be determined: the soil {reason}.",
                    "Report the soil as non-plastic (NP).",
                    "not_determinable",
                )
            ],
            next_action="Report as non-plastic. Nothing more to measure here.",
            school=SCHOOL_NAMES[settings.school],
            complete=True,
        )
    )


def _weighed(
    trials: list[Trial], settings: LiquidLimitSettings, tins: dict[str, float]
) -> tuple[list[Weighed], list[Weighed]]:
    """Return the weighed trials inside the accepted range and those outside it."""
    inside: list[Weighed] = []
    outside: list[Weighed] = []
    low, high = (15, 25) if settings.school == "fall-cone" else settings.window
    for i, trial in enumerate(trials):
        x, w = abscissa(trial, settings), trial.water_content(tins)
        if not trial.used or x is None or w is None:
            continue
        # A one-point count outside its window is a stop; its value is still shown, as what is known so far.
        fits = settings.school == "one-point" or low <= x <= high
        (inside if fits else outside).append(Weighed(i, trial, x, w))
    return inside, outside


def abscissa(trial: Trial, settings: LiquidLimitSettings) -> float | None:
    """Return what the trial is plotted against: the count that goes with the tin, or the penetration in mm."""
    if settings.school == "fall-cone":
        return trial.penetration
    if settings.school == "one-point" and trial.blows_repeat is not None:
        return float(trial.blows_repeat)
    return float(trial.blows) if trial.blows is not None else None


def _multipoint(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    needed = len(settings.bands)
    outcome = Outcome(findings=_too_few(weighed, needed, "blows"))
    fit = eq.flow_curve([p.x for p in weighed], [p.water_content for p in weighed])
    if fit is None:
        return outcome
    ends = _ends(fit, settings)
    by_hand = settings.hand_line_dry_percent is not None or settings.hand_line_wet_percent is not None
    (x0, y0), (x1, y1) = ends
    flow_index = -(y1 - y0) / np.log10(x1 / x0)
    outcome.limit = (
        float(y0 - flow_index * np.log10(eq.STANDARD_BLOWS / x0)) if by_hand else eq.liquid_limit_from_flow_curve(fit)
    )
    outcome.doubt = fit.doubt_at(float(np.log10(eq.STANDARD_BLOWS)))
    outcome.ends = ends
    outcome.parameters = [
        number("flow_index", "IF", "flow index", "%", flow_index, TENTH, basis="slope per log cycle of blows"),
        number("r_squared", "r²", "correlation", "", fit.r_squared, THOUSANDTH),
    ]
    outcome.caption = f"flow index {flow_index:.1f} · r² {fit.r_squared:.3f} · {len(weighed)} trials"
    if by_hand:
        outcome.caption = f"line by hand · flow index {flow_index:.1f} · {len(weighed)} trials"
        outcome.findings.append(
            note(
                "line-by-hand",
                "The flow line was drawn by hand, not by least squares.",
                "Return it to automatic unless you have a reason.",
            )
        )
    _flow_curve_steps(outcome, fit, flow_index, by_hand, weighed)
    outcome.findings += _line_findings(weighed, fit, settings)
    outcome.findings += _coverage_findings(weighed, settings)
    outcome.enough = len(weighed) >= needed
    return outcome


def _ends(fit: LineFit, settings: LiquidLimitSettings) -> tuple[Point, Point]:
    wet, dry = settings.hand_line_wet_percent, settings.hand_line_dry_percent
    if wet is None and dry is None:
        return (12.0, fit.at(float(np.log10(12.0)))), (42.0, fit.at(float(np.log10(42.0))))
    at_wet = wet if wet is not None else fit.at(float(np.log10(15.0)))
    at_dry = dry if dry is not None else fit.at(float(np.log10(35.0)))
    return (15.0, at_wet), (35.0, at_dry)


def _flow_curve_steps(outcome: Outcome, fit: LineFit, flow_index: float, by_hand: bool, weighed: list[Weighed]) -> None:
    a = outcome.limit + flow_index * np.log10(eq.STANDARD_BLOWS) if outcome.limit is not None else 0.0
    how = (
        "line drawn by hand through its two ends"
        if by_hand
        else f"least squares of w on log10 N, {len(weighed)} trials"
    )
    outcome.steps.append(
        Step(
            symbol="IF",
            formula="w = a − IF · log10 N",
            put_in=how,
            result=f"a = {a:.2f}, IF = {flow_index:.2f}",
            unit="%",
            basis="ASTM D4318 clause 15",
            about="flow curve",
        )
    )
    outcome.steps.append(
        Step(
            symbol="LL",
            formula="LL = a − IF · log10 25",
            put_in=f"{a:.2f} − {flow_index:.2f} × 1.3979",
            result=f"{outcome.limit:.2f}",
            unit="%",
            basis="ASTM D4318 clause 15",
            about="read at 25 blows, reported to the nearest whole number",
        )
    )
    if len(weighed) >= 3 and not by_hand:
        without = _leave_one_out(weighed)
        outcome.steps.append(
            Step(
                symbol="LL",
                formula="LL without one trial at a time",
                put_in=", ".join(f"without {p.x:g}: {v:.1f}" for p, v in zip(weighed, without, strict=True)),
                result=f"{min(without):.1f} to {max(without):.1f}",
                unit="%",
                about="how much one trial moves the result",
            )
        )


def _leave_one_out(weighed: list[Weighed]) -> list[float]:
    values = []
    for i in range(len(weighed)):
        rest = weighed[:i] + weighed[i + 1 :]
        fit = eq.flow_curve([p.x for p in rest], [p.water_content for p in rest])
        values.append(eq.liquid_limit_from_flow_curve(fit) if fit else float(np.mean([p.water_content for p in rest])))
    return values


def _too_few(weighed: list[Weighed], needed: int, what: str) -> list[Finding]:
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


def _line_findings(weighed: list[Weighed], fit: LineFit, settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < 2:
        return []
    cone = settings.school == "fall-cone"
    rising = fit.slope > 0
    if rising != cone:
        return [
            stop(
                "slope-wrong-way",
                f"Water content {'rises with blows' if not cone else 'falls with penetration'}: it must go the other way.",
                "Check tin numbers and counts first; a crust or dry lumps in the mix do this too. Repeat the odd trial.",
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


def _coverage_findings(weighed: list[Weighed], settings: LiquidLimitSettings) -> list[Finding]:
    if len(weighed) < len(settings.bands):
        return []
    counts = [int(p.x) for p in weighed]
    cells = [f"trials.{p.row}.blows" for p in weighed]
    if min(counts) > eq.STANDARD_BLOWS or max(counts) < eq.STANDARD_BLOWS:
        above = min(counts) > eq.STANDARD_BLOWS
        return [
            stop(
                "one-side-of-25",
                f"All trials are {'above' if above else 'below'} 25 blows: the limit would be guessed beyond the trials.",
                "Add 1–3 mL, remix, and make a trial at 15–25 blows."
                if above
                else "Dry the mix by stirring and make a trial at 25–35 blows.",
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


def _one_point(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    outcome = Outcome()
    if not weighed:
        return outcome
    values = _corrected(weighed, settings, outcome)
    outcome.limit = float(np.mean(values))
    outcome.caption = f"one-point, N = {', '.join(f'{p.x:g}' for p in weighed)}"
    outcome.enough = all(p.trial.blows_repeat is not None for p in weighed)
    return outcome


def _replicated(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    outcome = Outcome(findings=_too_few(weighed, 3, "fillings of the cup"))
    if not weighed:
        return outcome
    values = _corrected(weighed, settings, outcome)
    outcome.limit = float(np.mean(values))
    spread = max(values) - min(values)
    outcome.caption = f"{len(values)} determinations · spread {spread:.1f} %"
    if len(values) > 1:
        outcome.parameters = [number("spread", "Δ", "spread of determinations", "%", spread, TENTH)]
        outcome.doubt = float(np.std(values, ddof=1) / np.sqrt(len(values)))
        outcome.steps.append(
            Step(
                symbol="LL",
                formula="mean of the determinations",
                put_in=" + ".join(f"{v:.2f}" for v in values) + f", over {len(values)}",
                result=f"{outcome.limit:.2f}",
                unit="%",
                basis=BASIS["replicated"],
            )
        )
    if spread > settings.replicate_spread_percent:
        outcome.findings.append(
            warn(
                "replicates-apart",
                f"The determinations spread over {spread:.1f} % w.",
                "Make another determination; leave the odd one out with a reason.",
                *(f"trials.{p.row}.mass_tin_dry_g" for p in weighed),
            )
        )
    outcome.enough = len(weighed) >= 3
    return outcome


def _corrected(weighed: list[Weighed], settings: LiquidLimitSettings, outcome: Outcome) -> list[float]:
    """Return w (N/25)^0.121 of each trial and note each step."""
    values = []
    for point in weighed:
        factor = float(eq.one_point_factor(point.x, settings.one_point_exponent))
        values.append(point.water_content * factor)
        outcome.steps.append(
            Step(
                symbol="LL",
                formula=f"LL = w (N/25)^{settings.one_point_exponent:g}",
                put_in=f"{point.water_content:.2f} × ({point.x:g}/25)^{settings.one_point_exponent:g} = {point.water_content:.2f} × {factor:.3f}",
                result=f"{values[-1]:.2f}",
                unit="%",
                basis=BASIS["one-point"],
                about=f"trial {point.row + 1}",
            )
        )
    return values


def _fall_cone(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    outcome = Outcome(findings=_too_few(weighed, 4, "penetrations"))
    fit = eq.cone_line([p.x for p in weighed], [p.water_content for p in weighed])
    if fit is None:
        return outcome
    outcome.limit = fit.at(eq.STANDARD_PENETRATION_MM)
    outcome.doubt = fit.doubt_at(eq.STANDARD_PENETRATION_MM)
    outcome.ends = (13.0, fit.at(13.0)), (27.0, fit.at(27.0))
    outcome.parameters = [number("r_squared", "r²", "correlation", "", fit.r_squared, THOUSANDTH)]
    outcome.caption = f"r² {fit.r_squared:.3f} · {len(weighed)} trials"
    outcome.steps.append(
        Step(
            symbol="LL",
            formula="w = a + b · d, read at d = 20 mm",
            put_in=f"{fit.intercept:.2f} + {fit.slope:.3f} × 20",
            result=f"{outcome.limit:.2f}",
            unit="%",
            basis=BASIS["fall-cone"],
        )
    )
    outcome.findings += _line_findings(weighed, fit, settings)
    depths = [p.x for p in weighed]
    if len(weighed) >= 4 and not min(depths) <= eq.STANDARD_PENETRATION_MM <= max(depths):
        outcome.findings.append(
            stop(
                "one-side-of-20",
                f"All penetrations are {'above' if min(depths) > 20 else 'below'} 20 mm.",
                "Dry the mix by stirring and repeat." if min(depths) > 20 else "Add a little water, remix and repeat.",
                *(f"trials.{p.row}.penetration_mm" for p in weighed),
            )
        )
    outcome.enough = len(weighed) >= 4
    return outcome


_SCHOOLS = {"multipoint": _multipoint, "one-point": _one_point, "replicated": _replicated, "fall-cone": _fall_cone}


def _preparation(readings: LiquidLimitReadings, settings: LiquidLimitSettings) -> list[Finding]:
    findings = []
    needed = _SEASONING_MIN[settings.seasoning]
    if readings.seasoning_min is not None and readings.seasoning_min < needed:
        findings.append(
            warn(
                "seasoned-too-short",
                f"Seasoned {readings.seasoning_min:g} min, this school asks {settings.seasoning}.",
                "Cover the mix and let it stand; fat clay takes water slowly.",
                "seasoning_min",
            )
        )
    rate = readings.rate_drops_per_s
    if rate is not None and settings.school != "fall-cone" and not 1.9 <= rate <= 2.1:
        findings.append(
            warn(
                "crank-rate",
                f"{rate:g} drops/s is outside 1.9–2.1.",
                "Turn with the metronome at 120 per minute.",
                "rate_drops_per_s",
            )
        )
    least = 100.0
    if readings.mass_prepared_g is not None and readings.mass_prepared_g < least:
        findings.append(
            warn(
                "little-soil",
                f"{readings.mass_prepared_g:g} g prepared is below {least:g} g.",
                "Prepare more soil passing 0.425 mm before it runs out in mid-test.",
                "mass_prepared_g",
            )
        )
    return findings


def _cup(settings: LiquidLimitSettings, context: LiquidLimitContext) -> list[Finding]:
    if settings.school == "fall-cone" or context.cup_inspection in (None, "fit"):
        return []
    cup = f"Cup {context.cup}" if context.cup else "The cup"
    said = {
        "missing": ("has no inspection on record", "Inspect it before the next trial: drop height, wear, feet."),
        "overdue": ("was not inspected today", "Inspect it before the next trial: drop height, wear, feet."),
        "adjust": ("was found out of adjustment", "Set the drop to 10 mm with the gauge block and inspect it again."),
        "replace": ("was found worn", "Take another cup."),
    }
    message, action = said[context.cup_inspection]
    return [warn("cup-inspection", f"{cup} {message}.", action)]


def _weighing_steps(weighed: list[Weighed], tins: dict[str, float]) -> list[Step]:
    return [
        Step(
            symbol="w",
            formula="w = 100 (Mwet − Mdry) / (Mdry − Mtin)",
            put_in=f"100 ({p.trial.mass_tin_wet_g:.2f} − {p.trial.mass_tin_dry_g:.2f}) / ({p.trial.mass_tin_dry_g:.2f} − {p.trial.tare_g(tins):.2f})",
            result=f"{p.water_content:.2f}",
            unit="%",
            basis="ASTM D2216",
            about=f"trial {p.row + 1}",
        )
        for p in weighed
    ]


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
    """Return where the next dry mass should fall, from the line through the trials so far."""
    expected = {}
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
        if settings.school == "fall-cone":
            w = y0 + (x - x0) / (x1 - x0) * (y1 - y0)
        else:
            w = y0 + np.log(x / x0) / np.log(x1 / x0) * (y1 - y0)
        reach = settings.off_line_percent
        low, high = (tare + (wet - tare) / (1 + max(0.0, v) / 100) for v in (w + reach, w - reach))
        expected[f"trials.{i}.mass_tin_dry_g"] = (round(low, 2), round(high, 2))
    return expected

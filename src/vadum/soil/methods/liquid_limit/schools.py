"""What each school makes of the weighed trials."""

from dataclasses import dataclass, field

import numpy as np

from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Point
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.result import Parameter
from vadum.soil.methods.liquid_limit import equations as eq
from vadum.soil.methods.liquid_limit.equations import cone_line, flow_curve, liquid_limit_from_flow_curve
from vadum.soil.methods.liquid_limit.findings import (
    ALL_DEEPER,
    ALL_SHALLOWER,
    LINE_BY_HAND,
    ONE_SPECIMEN,
    REPLICATES_APART,
    SPECIMENS_APART,
)
from vadum.soil.methods.liquid_limit.points import Weighed, coverage_findings, line_findings, one_count, too_few
from vadum.soil.methods.liquid_limit.readings import CONES, LiquidLimitSettings, School, Specimens, Window
from vadum.soil.methods.liquid_limit.results import FLOW_INDEX, R_SQUARED, SPREAD
from vadum.soil.numbers.fit import LineFit
from vadum.soil.numbers.scatter import Scatter, of_mean

_BASIS = {
    School.MULTIPOINT: "ASTM D4318 method A",
    School.REPLICATED: "one-point relation of ASTM D4318, three specimens; no standard's own",
    School.FALL_CONE: "ISO 17892-12, BS 1377-2 clause 4.3",
    School.FALL_CONE_60: "ISO 17892-12",
}
MOST_SPECIMENS_APART = 1.0


def followed(settings: LiquidLimitSettings, specimens: int) -> str:
    """Return the standard whose way was gone, or that it was none's.

    Method B of ASTM D4318 takes two specimens at 20 to 30 blows; method B of AASHTO T 89 one, at 22 to 28.
    """
    if settings.school != School.ONE_POINT:
        return _BASIS[settings.school]
    if max(specimens, _needed(settings)) > 1 and settings.one_point_window != Window.WHOLE:
        return "ASTM D4318 method B"
    if settings.one_point_window == Window.NARROW:
        return "AASHTO T 89 method B"
    return "one-point relation of ASTM D4318; no standard's own"


def _needed(settings: LiquidLimitSettings) -> int:
    return 2 if settings.one_point_specimens == Specimens.TWO else 1


@dataclass
class Outcome:
    """What a school makes of the weighed trials."""

    limit: float | None = None
    doubt: Scatter | None = None
    ends: tuple[Point, Point] | None = None
    parameters: list[Parameter] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    steps: list[Step] = field(default_factory=list)
    caption: str = ""
    enough: bool = False


def _multipoint(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    needed = len(settings.bands)
    outcome = Outcome(findings=one_count(weighed, settings) or too_few(weighed, needed, "blows"))
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
    outcome.doubt = fit.scatter_at(float(np.log10(eq.STANDARD_BLOWS)))
    outcome.ends = ends
    outcome.parameters = [FLOW_INDEX.of(flow_index), R_SQUARED.of(fit.r_squared)]
    outcome.caption = f"flow index {flow_index:.1f} · r² {fit.r_squared:.3f} · {len(weighed)} trials"
    if by_hand:
        outcome.caption = f"line by hand · flow index {flow_index:.1f} · {len(weighed)} trials"
        outcome.findings.append(LINE_BY_HAND.at())
        end = "hand_line_wet_percent" if settings.hand_line_wet_percent is not None else "hand_line_dry_percent"
        outcome.findings += unexplained(settings, {end: "the flow line"})
    _flow_curve_steps(outcome, fit, flow_index, by_hand, weighed)
    outcome.findings += line_findings(weighed, fit, settings)
    outcome.findings += coverage_findings(weighed, settings)
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
        Step.of(
            flow_curve,
            symbol="IF",
            put_in=how,
            result=f"a = {a:.2f}, IF = {flow_index:.2f}",
            unit="%",
            about="flow curve",
        )
    )
    outcome.steps.append(
        Step.of(
            liquid_limit_from_flow_curve,
            put_in=f"{a:.2f} − {flow_index:.2f} × 1.3979",
            result=f"{outcome.limit:.2f}",
            unit="%",
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


def _one_point(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    needed = _needed(settings)
    outcome = Outcome(findings=too_few(weighed, needed, "fillings of the cup"))
    if not weighed:
        return outcome
    values = _corrected(weighed, settings, outcome)
    outcome.limit = float(np.mean(values))
    outcome.caption = f"one-point, N = {', '.join(f'{p.x:g}' for p in weighed)}"
    if len(values) > 1:
        low, high = min(values), max(values)
        outcome.parameters = [SPREAD.of(high - low)]
        outcome.doubt = of_mean(values)
        outcome.steps.append(_mean_step(values, outcome.limit, followed(settings, len(values))))
        if high - low > MOST_SPECIMENS_APART:
            cells = (f"trials.{p.row}.mass_tin_dry_g" for p in weighed)
            outcome.findings.append(SPECIMENS_APART.at(*cells, low=low, high=high))
    elif needed == 1 and settings.one_point_window != Window.NARROW:
        low, high = settings.window
        outcome.findings.append(ONE_SPECIMEN.at(f"trials.{weighed[0].row}.mass_tin_wet_g", low=low, high=high))
    outcome.enough = len(weighed) >= needed and all(p.trial.blows_repeat is not None for p in weighed)
    return outcome


def _mean_step(values: list[float], mean: float, basis: str) -> Step:
    return Step(
        symbol="LL",
        formula="mean of the determinations",
        put_in=" + ".join(f"{v:.2f}" for v in values) + f", over {len(values)}",
        result=f"{mean:.2f}",
        unit="%",
        basis=basis,
    )


def _replicated(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    outcome = Outcome(findings=too_few(weighed, 3, "fillings of the cup"))
    if not weighed:
        return outcome
    values = _corrected(weighed, settings, outcome)
    outcome.limit = float(np.mean(values))
    spread = max(values) - min(values)
    outcome.caption = f"{len(values)} determinations · spread {spread:.1f} %"
    if len(values) > 1:
        outcome.parameters = [SPREAD.of(spread)]
        outcome.doubt = of_mean(values)
        outcome.steps.append(_mean_step(values, outcome.limit, followed(settings, len(values))))
    if spread > settings.replicate_spread_percent:
        outcome.findings.append(
            REPLICATES_APART.at(*(f"trials.{p.row}.mass_tin_dry_g" for p in weighed), spread=spread)
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
                put_in=(
                    f"{point.water_content:.2f} × ({point.x:g}/25)^{settings.one_point_exponent:g} ="
                    f" {point.water_content:.2f} × {factor:.3f}"
                ),
                result=f"{values[-1]:.2f}",
                unit="%",
                basis="ASTM D4318 clause 18 and table 1",
                about=f"trial {point.row + 1}",
            )
        )
    return values


def _fall_cone(weighed: list[Weighed], settings: LiquidLimitSettings) -> Outcome:
    cone = CONES[settings.school]
    outcome = Outcome(findings=one_count(weighed, settings) or too_few(weighed, 4, "penetrations"))
    fit = eq.cone_line([p.x for p in weighed], [p.water_content for p in weighed])
    if fit is None:
        return outcome
    at = cone.at_limit_mm
    outcome.limit, outcome.doubt = fit.at(at), fit.scatter_at(at)
    low, high = cone.least_mm - 2, cone.most_mm + 2
    outcome.ends = (low, fit.at(low)), (high, fit.at(high))
    outcome.parameters = [R_SQUARED.of(fit.r_squared)]
    outcome.caption = f"r² {fit.r_squared:.3f} · {len(weighed)} trials"
    outcome.steps.append(
        Step.of(
            cone_line,
            symbol="LL",
            put_in=f"{fit.intercept:.2f} + {fit.slope:.3f} × {at:g}",
            result=f"{outcome.limit:.2f}",
            unit="%",
        )
    )
    outcome.findings += line_findings(weighed, fit, settings)
    depths = [p.x for p in weighed]
    if len(weighed) >= 4 and not min(depths) <= at <= max(depths):
        cells = (f"trials.{p.row}.penetration_mm" for p in weighed)
        outcome.findings.append((ALL_DEEPER if min(depths) > at else ALL_SHALLOWER).at(*cells, at=at))
    outcome.enough = len(weighed) >= 4
    return outcome


SCHOOLS = {
    School.MULTIPOINT: _multipoint,
    School.ONE_POINT: _one_point,
    School.REPLICATED: _replicated,
    School.FALL_CONE: _fall_cone,
    School.FALL_CONE_60: _fall_cone,
}

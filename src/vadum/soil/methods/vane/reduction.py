"""From readings by depth to a strength profile."""

from statistics import median

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.vane import equations as eq
from vadum.soil.methods.vane.advice import next_step, profile_findings, row_findings, setup_findings
from vadum.soil.methods.vane.correcting import correction_steps, factor, factor_words, indices
from vadum.soil.methods.vane.depths import FIRST, Sheared, sheared, tapers
from vadum.soil.methods.vane.figure import profile_figure
from vadum.soil.methods.vane.findings import PI_UNKNOWN
from vadum.soil.methods.vane.readings import Correction, Instrument, VaneContext, VaneReadings, Vanes, VaneSettings
from vadum.soil.methods.vane.results import (
    GRADIENT,
    SENSITIVITY,
    SENSITIVITY_CLASS,
    STRENGTH_CLASS,
    SU_CORRECTED_MEAN,
    SU_LEAST,
    SU_MEAN,
    SU_MOST,
    TREND,
)
from vadum.soil.numbers.fit import LineFit, line_fit
from vadum.soil.physics.strength_classes import sensitivity_class, strength_class

LEAST_DEPTHS = 3
# A balance with a constant is in no standard of the vane.
_FOLLOWED = {Instrument.HEAD: "ASTM D2573", Instrument.BALANCE: "the calibration of the instrument"}


def reduce_vane(readings: VaneReadings, settings: VaneSettings, context: VaneContext) -> Reduction:
    """Return all that the profile says so far."""
    every = sheared(readings, settings)
    used = [s for s in every if readings.profile[s.row].used]
    known = indices(readings, settings, context)
    factors = {s.row: mu for s in every if (mu := factor(settings, known[s.row])) is not None}
    granular = readings.soil in ("sand", "gravel")
    pending = [r for r in readings.profile if r.used and not r.empty and (r.peak is None or r.remoulded is None)]
    result = Reduction(
        school=f"{settings.instrument}, {factor_words(settings, known or [context.plasticity_index])}",
        complete=len(used) > 0 and not pending,
        follows=[_FOLLOWED[settings.instrument]],
    )
    result.findings = (
        setup_findings(readings, settings)
        + row_findings(readings, settings)
        + profile_findings(readings, settings, used)
    )
    if settings.correction != Correction.NONE and any(s.row not in factors for s in used):
        result.findings.append(PI_UNKNOWN.at("plasticity_index"))
    for s in every:
        result.computed[f"profile.{s.row}.su_kpa"] = s.peak_kpa
        if s.remoulded_kpa is not None:
            result.computed[f"profile.{s.row}.remoulded_kpa"] = s.remoulded_kpa
        if s.sensitivity is not None:
            result.computed[f"profile.{s.row}.sensitivity"] = s.sensitivity
        if s.row in factors:
            result.computed[f"profile.{s.row}.corrected_kpa"] = factors[s.row] * s.peak_kpa
    result.expected = _expected(readings, settings)
    if used and not granular:
        _parameters(result, used, factors, settings)
    result.derivation = correction_steps(settings, used, known) + _steps(readings, settings, used)
    trend = None if granular else trend_of(used)
    if trend is not None:
        _trend(result, trend)
    result.figures = [profile_figure(every, used, factors, trend)]
    result.curve = [(s.peak_kpa, s.depth_m) for s in used]
    result.next_step = next_step(readings, settings, used)
    if used:
        onward = max(s.depth_m for s in used) + settings.step_m
        result.afterwards = f"Push on to {onward:.2f} m, or end here and let a second person check the sheet."
    return result


def _expected(readings: VaneReadings, settings: VaneSettings) -> dict[str, tuple[float, float]]:
    """Return the next depth and the vane in use, so that they need only be confirmed."""
    rows = [(i, row) for i, row in enumerate(readings.profile) if not row.empty]
    last = next((row.depth_m for _, row in reversed(rows) if row.depth_m is not None), None)
    following = rows[-1][0] + 1 if rows else 0
    depth = settings.step_m if last is None else round(last + settings.step_m, 2)
    expected = {f"profile.{following}.depth_m": (depth, depth)}
    if settings.vanes == Vanes.SEVERAL:
        vane = next((row.vane for _, row in reversed(rows) if row.vane is not None), FIRST)
        in_hand = following - 1 if rows and rows[-1][1].peak is None else following
        expected |= {f"profile.{i}.vane": (vane, vane) for i in {in_hand, following}}
    return expected


def trend_of(used: list[Sheared]) -> LineFit | None:
    """Return the straight line of strength on depth, None below three depths."""
    if len(used) < LEAST_DEPTHS:
        return None
    return line_fit([s.depth_m for s in used], [s.peak_kpa for s in used])


def _trend(result: Reduction, trend: LineFit) -> None:
    result.parameters += [GRADIENT.of(trend.slope), TREND.of(trend.r_squared)]
    result.derivation.append(
        Step(
            symbol="su(z)",
            formula="su = a + k z, least squares of su on z",
            put_in=f"{len(trend.residuals)} depths",
            result=f"{trend.intercept:.1f} {'+' if trend.slope >= 0 else '−'} {abs(trend.slope):.2f} z",
            unit="kPa",
            basis="Draper and Smith, ch. 1",
            about="strength with depth, as measured",
        )
    )


def _parameters(result: Reduction, used: list[Sheared], factors: dict[int, float], settings: VaneSettings) -> None:
    peaks = [s.peak_kpa for s in used]
    sensitivities = [s.sensitivity for s in used if s.sensitivity is not None]
    mean = sum(peaks) / len(peaks)
    result.parameters = [SU_MEAN.of(mean)]
    if all(s.row in factors for s in used):
        corrected = [factors[s.row] * s.peak_kpa for s in used]
        result.parameters.append(SU_CORRECTED_MEAN.of(sum(corrected) / len(corrected)))
    result.parameters += [SU_LEAST.of(min(peaks)), SU_MOST.of(max(peaks))]
    if sensitivities:
        middle = median(sensitivities)
        words = settings.sensitivity_words
        kind = SENSITIVITY_CLASS.word(sensitivity_class(middle, words), basis=words.label)
        result.parameters += [SENSITIVITY.of(middle), kind]
    strength = settings.strength_words
    result.parameters.append(STRENGTH_CLASS.word(strength_class(mean, strength), basis=strength.label))


def _steps(readings: VaneReadings, settings: VaneSettings, used: list[Sheared]) -> list[Step]:
    steps = []
    for s in used:
        row, vane = readings.profile[s.row], s.vane
        taken = f"{row.peak:g} − {row.friction or 0:g}"
        if settings.instrument == Instrument.BALANCE:
            formula, put_in = "su = (reading − rods) / constant", f"({taken}) / {vane.constant:g}"
        else:
            ends = tapers(vane)
            k = eq.vane_constant_m3(vane.diameter_mm or 1, vane.height_mm or 1, *ends)
            tapered = "K = π D² (D/cos it + D/cos ib + 6 H) / 12"
            formula = f"su = (T − rods) / K, {tapered if any(ends) else 'K = π D² (H/2 + D/6)'}"
            put_in = f"({taken}) N m / {k * 1e6:.2f} cm³"
        steps.append(
            Step(
                symbol="su",
                formula=formula,
                put_in=put_in,
                result=f"{s.peak_kpa:.2f}",
                unit="kPa",
                basis="ASTM D2573",
                about=f"{s.depth_m:g} m",
            )
        )
    return steps

"""From readings by depth to a strength profile."""

from statistics import median

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Leant
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.vane import equations as eq
from vadum.soil.methods.vane.advice import next_step, profile_findings, row_findings, setup_findings
from vadum.soil.methods.vane.depths import FIRST, Sheared, sheared
from vadum.soil.methods.vane.equations import failures_correction, plasticity_correction
from vadum.soil.methods.vane.figure import profile_figure
from vadum.soil.methods.vane.findings import PI_UNKNOWN
from vadum.soil.methods.vane.readings import Correction, Instrument, VaneContext, VaneReadings, Vanes, VaneSettings
from vadum.soil.methods.vane.results import (
    SENSITIVITY,
    SENSITIVITY_CLASS,
    STRENGTH_CLASS,
    SU_CORRECTED_MEAN,
    SU_LEAST,
    SU_MEAN,
    SU_MOST,
)
from vadum.soil.physics.strength_classes import sensitivity_class, strength_class

_FISSURED = 1 / 3
# A balance with a constant is in no standard of the vane.
_FOLLOWED = {Instrument.HEAD: "ASTM D2573", Instrument.BALANCE: "the calibration of the instrument"}
_RELATIONS = {Correction.BY_PLASTICITY: plasticity_correction, Correction.BY_FAILURES: failures_correction}


def reduce_vane(readings: VaneReadings, settings: VaneSettings, context: VaneContext) -> Reduction:
    """Return all that the profile says so far."""
    every = sheared(readings, settings)
    used = [s for s in every if readings.profile[s.row].used]
    index = _index(readings, context)
    mu = _factor(settings, index)
    granular = readings.soil in ("sand", "gravel")
    pending = [r for r in readings.profile if r.used and not r.empty and (r.peak is None or r.remoulded is None)]
    result = Reduction(
        school=f"{settings.instrument}, {_factor_words(settings, index)}",
        complete=len(used) > 0 and not pending,
        follows=[_FOLLOWED[settings.instrument]],
    )
    result.findings = (
        setup_findings(readings, settings)
        + row_findings(readings, settings)
        + profile_findings(readings, settings, used)
    )
    if settings.correction != Correction.NONE and index is None and used and not settings.fissured:
        result.findings.append(PI_UNKNOWN.at("plasticity_index"))
    for s in every:
        result.computed[f"profile.{s.row}.su_kpa"] = s.peak_kpa
        if s.remoulded_kpa is not None:
            result.computed[f"profile.{s.row}.remoulded_kpa"] = s.remoulded_kpa
        if s.sensitivity is not None:
            result.computed[f"profile.{s.row}.sensitivity"] = s.sensitivity
        if mu is not None:
            result.computed[f"profile.{s.row}.corrected_kpa"] = mu * s.peak_kpa
    result.expected = _expected(readings, settings)
    if used and not granular:
        _parameters(result, used, mu, settings)
    result.derivation = _steps(readings, settings, used, mu, index)
    result.figures = [profile_figure(every, used, mu)]
    result.curve = [(s.peak_kpa, s.depth_m) for s in used]
    result.next_step = next_step(readings, settings, used)
    if used:
        onward = max(s.depth_m for s in used) + settings.step_m
        result.afterwards = f"Push on to {onward:.2f} m, or end here and let a second person check the sheet."
    return result


def _index(readings: VaneReadings, context: VaneContext) -> Leant | None:
    if readings.plasticity_index is not None:
        return Leant(value=readings.plasticity_index, source="typed on this sheet")
    return context.plasticity_index


def _factor(settings: VaneSettings, index: Leant | None) -> float | None:
    if settings.fissured:
        return _FISSURED
    if settings.correction == Correction.NONE or index is None:
        return None
    return _RELATIONS[settings.correction](index.value)


def _factor_words(settings: VaneSettings, index: Leant | None) -> str:
    if settings.fissured:
        return "fissured: a third"
    if settings.correction == Correction.NONE or index is None:
        return "not corrected"
    low, high = eq.MU_BOUNDS
    return (
        f"μ {_RELATIONS[settings.correction](index.value):.2f} {settings.correction}, PI {index.value:g}"
        f" ({index.source}), bounded {low:g}-{high:g}"
    )


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


def _parameters(result: Reduction, used: list[Sheared], mu: float | None, settings: VaneSettings) -> None:
    peaks = [s.peak_kpa for s in used]
    sensitivities = [s.sensitivity for s in used if s.sensitivity is not None]
    mean = sum(peaks) / len(peaks)
    result.parameters = [SU_MEAN.of(mean)]
    if mu is not None:
        result.parameters.append(SU_CORRECTED_MEAN.of(mu * mean))
    result.parameters += [SU_LEAST.of(min(peaks)), SU_MOST.of(max(peaks))]
    if sensitivities:
        middle = median(sensitivities)
        words = settings.sensitivity_words
        kind = SENSITIVITY_CLASS.word(sensitivity_class(middle, words), basis=words.label)
        result.parameters += [SENSITIVITY.of(middle), kind]
    strength = settings.strength_words
    result.parameters.append(STRENGTH_CLASS.word(strength_class(mean, strength), basis=strength.label))


def _steps(
    readings: VaneReadings, settings: VaneSettings, used: list[Sheared], mu: float | None, index: Leant | None
) -> list[Step]:
    steps = []
    if mu is not None and index is not None and not settings.fissured:
        steps.append(
            Step.of(_RELATIONS[settings.correction], put_in=f"PI {index.value:g}, {index.source}", result=f"{mu:.3f}")
        )
    for s in used:
        row, vane = readings.profile[s.row], s.vane
        taken = f"{row.peak:g} − {row.friction or 0:g}"
        if settings.instrument == Instrument.BALANCE:
            formula, put_in = "su = (reading − rods) / constant", f"({taken}) / {vane.constant:g}"
        else:
            k = eq.vane_constant_m3(vane.diameter_mm or 1, vane.height_mm or 1)
            formula, put_in = "su = (T − rods) / K, K = π D² (H/2 + D/6)", f"({taken}) N m / {k * 1e6:.2f} cm³"
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

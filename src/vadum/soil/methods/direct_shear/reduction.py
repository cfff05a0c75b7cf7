"""From records to cohesion and friction."""

from functools import partial
from math import tan

from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.direct_shear import advice
from vadum.soil.methods.direct_shear.figures import envelope_figure, shear_figure, vertical_figure
from vadum.soil.methods.direct_shear.readings import PEAKS, DirectShearReadings, DirectShearSettings
from vadum.soil.methods.direct_shear.results import (
    COHESION_END,
    COHESION_PEAK,
    DILATION,
    FRICTION_END,
    FRICTION_PEAK,
    R_SQUARED,
)
from vadum.soil.methods.direct_shear.specimens import Sheared, area_mm2, density_g_cm3, normal_stress_kpa, sheared
from vadum.soil.physics.envelope import Envelope, Issued, envelope, issued

_BASIS = "ISO 17892-10"


def reduce_direct_shear(readings: DirectShearReadings, settings: DirectShearSettings) -> Reduction:
    """Return all that the specimens say so far."""
    made = sheared(readings, settings)
    passed = [s for s in made if s.passed]
    at_peak = _issued([(s.peak_normal_kpa, s.peak_kpa) for s in passed], settings)
    at_end = _issued([(s.end_normal_kpa, s.end_kpa) for s in passed], settings)
    peak, end = (one.line if one else None for one in (at_peak, at_end))
    result = Reduction(
        school=f"{settings.box} box, area {settings.area}, cohesion {settings.cohesion}",
        complete=len(passed) >= 3 and peak is not None,
        follows=[_BASIS],
    )
    result.findings = advice.setup_findings(readings, settings) + advice.record_findings(readings, settings, made)
    result.findings += advice.envelope_findings(passed, at_peak, settings) + advice.rate_findings(readings)
    result.findings += unexplained(settings, {name: f"the peak of specimen {n}" for n, name in enumerate(PEAKS, 1)})
    result.computed = _computed(readings, settings, made)
    if peak is not None and len(passed) >= 2:
        result.parameters += [
            FRICTION_PEAK.of(peak.friction_deg, doubt=peak.friction_error),
            COHESION_PEAK.of(peak.cohesion_kpa, doubt=peak.cohesion_error),
            R_SQUARED.of(peak.r_squared),
        ]
        _step(result, peak, "at the peak", [(s.peak_normal_kpa, s.peak_kpa) for s in passed])
        if at_peak is not None and at_peak.below is not None:
            pairs = [(s.peak_normal_kpa, s.peak_kpa) for s in passed]
            _step(result, at_peak.below, "at the peak, free fit below nothing, not reported", pairs)
        if end is not None:
            result.parameters += [
                FRICTION_END.of(end.friction_deg, doubt=end.friction_error),
                COHESION_END.of(end.cohesion_kpa, doubt=end.cohesion_error),
            ]
            _step(result, end, "at the end of the test", [(s.end_normal_kpa, s.end_kpa) for s in passed])
    angles = [s.dilation_deg for s in made if s.dilation_deg is not None]
    if angles:
        result.parameters.append(DILATION.of(sum(angles) / len(angles)))
    result.figures = [
        shear_figure(made),
        envelope_figure(made, peak if len(passed) >= 2 else None, end if len(passed) >= 2 else None),
        vertical_figure(made),
    ]
    if result.complete:
        result.figures.insert(0, result.figures.pop(1))
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _issued(pairs: list[tuple[float, float]], settings: DirectShearSettings) -> Issued | None:
    """Return the line that is reported: without cohesion where the school says so, or where the free fit has less than
    none."""
    normal, shear = [n for n, _ in pairs], [t for _, t in pairs]
    flat = partial(envelope, normal, shear, through_origin=True)
    if not pairs:
        return None
    if settings.cohesion == "none":
        line = flat()
        return Issued(line) if line else None
    return issued(envelope(normal, shear), flat)


def _computed(
    readings: DirectShearReadings, settings: DirectShearSettings, made: list[Sheared]
) -> dict[str, float | str]:
    area = area_mm2(readings, settings)
    computed: dict[str, float | str] = {}
    if area is None:
        return computed
    for k, row in enumerate(readings.specimens):
        if row.dead_mass_kg is not None:
            computed[f"specimens.{k}.normal_kpa"] = normal_stress_kpa(row.dead_mass_kg, readings, area)
        if (rho := density_g_cm3(k + 1, readings, area)) is not None:
            computed[f"specimens.{k}.density"] = rho
    for s in made:
        computed[f"specimens.{s.number - 1}.peak_kpa"] = s.peak_kpa
        computed |= {
            f"record.{int(i)}.shear_kpa": float(tau) for i, tau in zip(s.rows, s.shear_kpa, strict=True) if i >= 0
        }
    return computed


def _step(result: Reduction, line: Envelope, what: str, pairs: list[tuple[float, float]]) -> None:
    """Explain an envelope by the points it runs through."""
    result.derivation.append(
        Step.of(
            envelope,
            put_in=", ".join(f"({n:.1f}, {t:.1f})" for n, t in pairs),
            result=f"{line.cohesion_kpa:.2f} + {tan(line.friction_deg * 3.141592653589793 / 180):.4f} σ",
            unit="kPa",
            basis=_BASIS,
            about=what,
        )
    )

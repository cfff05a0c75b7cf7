"""From records to cohesion and friction."""

from functools import partial
from math import tan

from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.rows import by_row
from vadum.soil.methods.direct_shear import advice
from vadum.soil.methods.direct_shear.figures import envelope_figure, shear_figure, vertical_figure
from vadum.soil.methods.direct_shear.readings import DirectShearReadings
from vadum.soil.methods.direct_shear.results import (
    COHESION_END,
    COHESION_PEAK,
    COHESION_RESIDUAL,
    DILATION,
    FRICTION_END,
    FRICTION_PEAK,
    FRICTION_RESIDUAL,
    R_SQUARED,
    TOGETHER,
)
from vadum.soil.methods.direct_shear.settings import PEAKS, DirectShearContext, DirectShearSettings
from vadum.soil.methods.direct_shear.specimens import Sheared, area_mm2, normal_stress_kpa, sheared
from vadum.soil.methods.direct_shear.states import State, state_of
from vadum.soil.numbers.scatter import LEAST_FREEDOM
from vadum.soil.physics.envelope import Envelope, Issued, envelope, issued

_BASIS = "ISO 17892-10"


def reduce_direct_shear(
    readings: DirectShearReadings, settings: DirectShearSettings, context: DirectShearContext
) -> Reduction:
    """Return all that the specimens say so far."""
    made = sheared(readings, settings)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    states = _states(readings, settings, gs.value)
    passed = [s for s in made if s.passed]
    at_peak = _issued([(s.peak_normal_kpa, s.peak_kpa) for s in passed], settings)
    at_end = _issued([(s.end_normal_kpa, s.end_kpa) for s in passed], settings)
    peak, end = (one.line if one else None for one in (at_peak, at_end))
    result = Reduction(
        school=f"{settings.box} box, area {settings.area}, cohesion {settings.cohesion}",
        complete=len(passed) >= 3 and peak is not None,
        follows=[_BASIS],
    )
    result.findings = advice.setup_findings(readings, settings, states)
    result.findings += advice.record_findings(readings, settings, made) + advice.passes_findings(made, settings)
    if any(state.void_ratio is not None for state in states.values()):
        result.findings += assumed_note(gs)
    result.findings += advice.envelope_findings(passed, at_peak, settings) + advice.rate_findings(readings)
    result.findings += unexplained(settings, {name: f"the peak of specimen {n}" for n, name in enumerate(PEAKS, 1)})
    result.computed = _computed(readings, settings, made, states)
    if peak is not None and len(passed) >= 2:
        result.parameters += [
            FRICTION_PEAK.of(peak.friction_deg, doubt=peak.friction),
            COHESION_PEAK.of(peak.cohesion_kpa, doubt=peak.cohesion),
            R_SQUARED.of(peak.r_squared),
        ]
        if peak.freedom >= LEAST_FREEDOM and peak.correlation is not None:
            result.parameters.append(TOGETHER.of(peak.correlation))
        _step(result, peak, "at the peak", [(s.peak_normal_kpa, s.peak_kpa) for s in passed])
        if at_peak is not None and at_peak.below is not None:
            pairs = [(s.peak_normal_kpa, s.peak_kpa) for s in passed]
            _step(result, at_peak.below, "at the peak, free fit below nothing, not reported", pairs)
        if end is not None:
            result.parameters += [
                FRICTION_END.of(end.friction_deg, doubt=end.friction),
                COHESION_END.of(end.cohesion_kpa, doubt=end.cohesion),
            ]
            _step(result, end, "at the end of the test", [(s.end_normal_kpa, s.end_kpa) for s in passed])
    _residual(result, passed, settings)
    angles = [s.dilation_deg for s in made if s.dilation_deg is not None]
    if angles:
        result.parameters.append(DILATION.of(sum(angles) / len(angles)))
    result.figures = [
        shear_figure(made),
        envelope_figure(
            made,
            peak if len(passed) >= 2 else None,
            end if len(passed) >= 2 else None,
            _residual_line(passed, settings),
        ),
        vertical_figure(made),
    ]
    if result.complete:
        result.figures.insert(0, result.figures.pop(1))
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _states(readings: DirectShearReadings, settings: DirectShearSettings, gs: float) -> dict[int, State]:
    area = area_mm2(readings, settings)
    if area is None:
        return {}
    return {
        k: state
        for k, row in enumerate(readings.specimens, 1)
        if row.used and (state := state_of(k, readings, area, gs)) is not None
    }


def _residual_line(passed: list[Sheared], settings: DirectShearSettings) -> Envelope | None:
    """Return the line through the ends of the last passes of specimens that were sheared again."""
    pairs = _residual_pairs(passed)
    line = _issued(pairs, settings) if len(pairs) > 1 else None
    return line.line if line else None


def _residual_pairs(passed: list[Sheared]) -> list[tuple[float, float]]:
    return [(s.again[-1].end_normal_kpa, s.again[-1].end_kpa) for s in passed if s.again]


def _residual(result: Reduction, passed: list[Sheared], settings: DirectShearSettings) -> None:
    line = _residual_line(passed, settings)
    if line is not None:
        result.parameters += [
            FRICTION_RESIDUAL.of(line.friction_deg, doubt=line.friction),
            COHESION_RESIDUAL.of(line.cohesion_kpa, doubt=line.cohesion),
        ]
        _step(result, line, "residual, at the end of the last passes", _residual_pairs(passed))
        result.follows = [*result.follows, "BS 1377-7"]


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
    readings: DirectShearReadings, settings: DirectShearSettings, made: list[Sheared], states: dict[int, State]
) -> dict[str, float | str]:
    area = area_mm2(readings, settings)
    computed: dict[str, float | str] = {}
    if area is None:
        return computed
    for k, row in enumerate(readings.specimens):
        if row.dead_mass_kg is not None:
            computed[f"specimens.{k}.normal_kpa"] = normal_stress_kpa(row.dead_mass_kg, readings, area)
        if k + 1 in states:
            computed |= states[k + 1].cells(k)
    for s in made:
        computed[f"specimens.{s.number - 1}.peak_kpa"] = s.peak_kpa
        computed[f"after.{s.number - 1}.peak_mm"] = s.peak_mm
        computed |= by_row("record", "shear_kpa", s.rows, s.shear_kpa)
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

"""From stages to circles and their envelope."""

import numpy as np

from vadum.soil.bench.cylinder.failure import Failed, failure_figure
from vadum.soil.bench.cylinder.specimen import too_short
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Drawing
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.rows import by_row, numbered
from vadum.soil.methods.triaxial import advice, figures
from vadum.soil.methods.triaxial.agreement import agreement_findings
from vadum.soil.methods.triaxial.draining import Drained, drained
from vadum.soil.methods.triaxial.draining_figures import log_figure, root_figure
from vadum.soil.methods.triaxial.preparing import measured, preparation_findings, sized
from vadum.soil.methods.triaxial.readings import TriaxialReadings
from vadum.soil.methods.triaxial.results import (
    COHESION_EFFECTIVE,
    COHESION_TOTAL,
    CU,
    CU_SPREAD,
    CV,
    DEVIATOR,
    E50,
    FRICTION_EFFECTIVE,
    FRICTION_TOTAL,
    R_SQUARED,
    SECANT,
    T50,
    T90,
    T100,
    TOGETHER,
    A,
)
from vadum.soil.methods.triaxial.settings import TriaxialContext, TriaxialSettings
from vadum.soil.methods.triaxial.sizes import size_of, state_of
from vadum.soil.methods.triaxial.specimens import Sheared, sheared
from vadum.soil.numbers.scatter import LEAST_FREEDOM
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.compression import Curve, secant_modulus_mpa
from vadum.soil.physics.envelope import Envelope, issued
from vadum.soil.physics.phases import dry_density
from vadum.soil.physics.triaxial import envelope_by_st

LEAST_CIRCLES = 3
_BASIS = {"UU": "ISO 17892-8", "CU": "ISO 17892-9", "CD": "ISO 17892-9"}


def reduce_triaxial(readings: TriaxialReadings, settings: TriaxialSettings, context: TriaxialContext) -> Reduction:
    """Return all that the stages say so far."""
    prepared = measured(readings, context.tins)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    shape = preparation_findings(readings, prepared, gs.value) + weighing_findings("tins", readings.tins, context.tins)
    readings = sized(readings, prepared)
    made = sheared(readings, settings, gs.value)
    undrained = settings.kind == "UU"
    # A specimen that has not passed its peak says nothing of strength.
    passed = [s for s in made if not s.rising]
    free = _envelope(passed, effective=False)
    total = issued(free, lambda: _envelope(passed, effective=False, through_origin=True))
    effective = None
    if not undrained:
        known = [s for s in passed if s.pore_known]
        effective = issued(
            _envelope(known, effective=True), lambda: _envelope(known, effective=True, through_origin=True)
        )
    enough = len(passed) >= (1 if undrained or settings.two_because else LEAST_CIRCLES)
    alone = not undrained and len(passed) == 1 and passed[0].secant_deg is not None
    saturating, draining = advice.b_values(readings), [] if undrained else drained(readings, settings)
    result = Reduction(
        school=f"{settings.kind}, failure by {settings.criterion}, limit {settings.limit_percent:g} %, area"
        f" {settings.area.label}, membrane {settings.membrane_modulus_kpa:g} kPa",
        complete=enough and (undrained or effective is not None or alone),
        follows=(_BASIS[settings.kind],),
    )
    result.findings = shape + advice.stage_findings(readings, settings, saturating, draining, set(prepared))
    result.findings += agreement_findings(readings, settings, draining)
    lengths = [row.length_mm for row in readings.specimens if row.used and row.length_mm]
    result.findings += too_short("shearing", readings.shearing, min(lengths, default=None))
    result.findings += advice.shear_findings(settings, saturating, made)
    result.findings += advice.envelope_findings(settings, passed, free, effective)
    result.findings += advice.final_findings(readings, settings, gs.value)
    if any(row.used and row.mass_dry_g for row in readings.after):
        result.findings += assumed_note(gs)
    result.computed = _computed(readings, context.tins, saturating, made) | _states(readings, settings, gs.value)
    lines = (effective.line if effective else None, total.line if total and settings.kind == "CU" else None)
    _parameters(result, settings, passed, *lines)
    _stages(result, readings, settings, draining, gs.value)
    result.derivation = _steps(settings, made, *lines)
    if effective is not None and effective.below is not None:
        result.derivation.append(_free_step(effective.below, settings))
    drawn: list[Drawing] = [
        figures.mohr_figure(made, settings, _level(passed) if undrained else lines[1], lines[0]),
        figures.deviator_figure(made),
    ]
    if not undrained:
        drawn += [figures.second_figure(made, settings), figures.path_figure(made, settings, lines[0])]
        drawn += [root_figure(draining), log_figure(draining)]
    failed = [
        Failed(row.failure, row.plane_angle, str(k))
        for k, row in enumerate(readings.after, 1)
        if row.used and row.failure is not None
    ]
    result.figures = [*drawn, failure_figure(failed)] if failed else drawn
    result.next_step = advice.next_step(readings, settings, draining, made)
    return result


def _envelope(made: list[Sheared], *, effective: bool, through_origin: bool = False) -> Envelope | None:
    if len(made) < 2:
        return None
    circles = [s.circle(effective=effective) for s in made]
    return tx.envelope_by_st([c for c, _ in circles], [r for _, r in circles], through_origin=through_origin)


def _level(passed: list[Sheared]) -> Envelope | None:
    """Return the line of undrained circles: one strength, whatever the cell pressure."""
    radii = [s.circle(effective=False)[1] for s in passed]
    return Envelope(sum(radii) / len(radii), 0.0, 1.0) if radii else None


def _free_step(below: Envelope, settings: TriaxialSettings) -> Step:
    """Explain the free fit that was not reported."""
    return Step.of(
        envelope_by_st,
        symbol="φ, c",
        put_in="free fit, meets the axis below nothing; reported with c = 0",
        result=f"{below.friction_deg:.2f}°, {below.cohesion_kpa:.2f} kPa",
        basis=_BASIS[settings.kind],
        about="effective stresses, not reported",
    )


def _computed(
    readings: TriaxialReadings, tins: dict[str, float], saturating: advice.LastB, made: list[Sheared]
) -> dict[str, float | str]:
    computed: dict[str, float | str] = {}
    bulk: dict[int, float] = {}
    for k, row in enumerate(readings.specimens):
        if row.diameter_mm and row.length_mm and row.mass_g:
            bulk[k + 1] = row.mass_g / (np.pi / 4 * row.diameter_mm**2 * row.length_mm / 1000)
            computed[f"specimens.{k}.density"] = bulk[k + 1]
    for i, number, tin in numbered(readings.tins):
        if (w := tin.water_content(tins)) is not None:
            computed[f"tins.{i}.water_content"] = w
            if number in bulk:
                computed[f"tins.{i}.dry_density"] = dry_density(bulk[number], w)
    for i, calipers in enumerate(readings.calipers):
        if (mean := calipers.mean_mm) is not None:
            computed[f"calipers.{i}.mean_mm"] = mean
    for k, (b, row_index) in saturating.items():
        computed[f"saturation.{row_index}.b"] = b
        computed[f"specimens.{k - 1}.b"] = b
    for s in made:
        computed |= by_row("shearing", "deviator_kpa", s.rows, s.deviator_kpa)
    return computed


def _states(readings: TriaxialReadings, settings: TriaxialSettings, gs: float) -> dict[str, float | str]:
    """Return each specimen's size when shearing begins and its state, as cells."""
    computed: dict[str, float | str] = {}
    for k in range(1, len(readings.specimens) + 1):
        size, state = size_of(k, readings, settings, gs), state_of(k, readings, gs)
        known = (vars(size) if size else {}) | (vars(state) if state else {})
        computed |= {f"after.{k - 1}.{key}": value for key, value in known.items() if value is not None}
    return computed


def _parameters(
    result: Reduction,
    settings: TriaxialSettings,
    made: list[Sheared],
    effective: Envelope | None,
    total: Envelope | None,
) -> None:
    basis = _BASIS[settings.kind]
    if settings.kind == "UU" and made:
        radii = [s.circle(effective=False)[1] for s in made]
        mean = sum(radii) / len(radii)
        result.parameters.append(CU.of(mean, basis=basis))
        if len(radii) > 1:
            result.parameters.append(CU_SPREAD.of(100 * max(abs(r - mean) for r in radii) / mean if mean > 0 else 0.0))
    if effective is not None:
        result.parameters += [
            FRICTION_EFFECTIVE.of(effective.friction_deg, basis=basis, doubt=effective.friction),
            COHESION_EFFECTIVE.of(effective.cohesion_kpa, basis=basis, doubt=effective.cohesion),
            R_SQUARED.of(effective.r_squared),
        ]
        if effective.freedom >= LEAST_FREEDOM and effective.correlation is not None:
            result.parameters.append(TOGETHER.of(effective.correlation))
    if total is not None:
        result.parameters += [
            FRICTION_TOTAL.of(total.friction_deg, basis=basis, doubt=total.friction),
            COHESION_TOTAL.of(total.cohesion_kpa, basis=basis, doubt=total.cohesion),
        ]
    for s in made:
        q = float(s.deviator_kpa[s.failure])
        result.parameters.append(DEVIATOR.of(q, basis=settings.criterion.label, number=s.number))
        if settings.kind != "UU" and s.secant_deg is not None:
            result.parameters.append(SECANT.of(s.secant_deg, number=s.number))
        if settings.kind == "CU" and s.pore_coefficient is not None:
            result.parameters.append(A.of(s.pore_coefficient, number=s.number))
        e50 = secant_modulus_mpa(Curve(s.strain_percent, s.deviator_kpa), q)
        if e50 is not None:
            result.parameters.append(E50.of(e50, number=s.number))


def _stages(
    result: Reduction, readings: TriaxialReadings, settings: TriaxialSettings, draining: list[Drained], gs: float
) -> None:
    for one in draining:
        k, hand = one.number, one.by_hand
        t100 = one.t100_min
        for time, value, typed in (
            (T100, t100, hand.t100_min),
            (T90, one.t90_min, hand.t90_min),
            (T50, one.t50_min, hand.t50_min),
        ):
            if value is not None:
                result.parameters.append(time.of(value, k=k, basis="read off by hand" if typed else None))
        size = size_of(k, readings, settings, gs) if k <= len(readings.specimens) else None
        if size is not None and t100 is not None:
            diameter = float(np.sqrt(4 * size.area_mm2 / np.pi))
            cv = tx.consolidation_coefficient_m2_year(diameter, t100, side_drains=settings.side_drains, ends=one.ends)
            result.parameters.append(CV.of(cv, k=k))


def _steps(
    settings: TriaxialSettings, made: list[Sheared], effective: Envelope | None, total: Envelope | None
) -> list[Step]:
    steps = []
    for s in made:
        centre, radius = s.circle(effective=settings.kind != "UU")
        put_in = (
            f"σ3 {s.cell_kpa:.1f}, σ1 {s.major_kpa:.1f}, u {s.pore_at_failure:.1f} kPa at"
            f" {s.strain_percent[s.failure]:.2f} %"
        )
        steps.append(
            Step(
                symbol="s, t",
                formula="s = (σ1 + σ3)/2 − u, t = (σ1 − σ3)/2",
                put_in=put_in,
                result=f"{centre:.1f}, {radius:.1f}",
                unit="kPa",
                basis=_BASIS[settings.kind],
                about=f"specimen {s.number}, {settings.criterion}",
            )
        )
    for line, what in (
        (effective, "effective stresses"),
        (total, "total stresses, the back pressure of each specimen taken off: s = (σ1 + σ3)/2 − ub"),
    ):
        if line is not None:
            steps.append(
                Step.of(
                    envelope_by_st,
                    symbol="φ, c",
                    put_in=f"tan α {np.sin(np.radians(line.friction_deg)):.4f}, a"
                    f" {line.cohesion_kpa * np.cos(np.radians(line.friction_deg)):.2f}",
                    result=f"{line.friction_deg:.2f}°, {line.cohesion_kpa:.2f} kPa",
                    basis=_BASIS[settings.kind],
                    about=what,
                )
            )
    return steps

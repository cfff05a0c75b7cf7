"""From moulds of soil to the compaction curve and its optimum."""

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.phases import Phases
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Leant
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.compaction import equations as eq
from vadum.soil.methods.compaction.advice import curve_findings, next_step, peak_findings, point_findings
from vadum.soil.methods.compaction.equations import oversize_density
from vadum.soil.methods.compaction.figure import compaction_figure
from vadum.soil.methods.compaction.findings import OVERSIZE_GRAVITY_ASSUMED, OVERSIZE_MUCH
from vadum.soil.methods.compaction.points import Compacted, compacted, water_of
from vadum.soil.methods.compaction.readings import CompactionContext, CompactionReadings, CompactionSettings
from vadum.soil.methods.compaction.results import (
    AIR_PERCENT,
    CORRECTED_DRY_DENSITY,
    CORRECTED_WATER_CONTENT,
    MAXIMUM_DRY_DENSITY,
    OPTIMUM_WATER_CONTENT,
)


def reduce_compaction(
    readings: CompactionReadings, settings: CompactionSettings, context: CompactionContext
) -> Reduction:
    """Return all that the points say so far."""
    readings, dried = until_constant(readings, "points", settings.tins_dried, context.tins)
    every = compacted(readings, context.tins)
    used = [p for p in every if readings.points[p.row].used]
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    peak = _peak(used, settings)
    result = Reduction(
        findings=weighing_findings("points", readings.points, context.tins),
        computed=_computed(every, readings, context, gs),
        derivation=_steps(used, readings, context, _standard(settings)),
        school=f"{settings.scheme}, {settings.curve}, Gs {gs.value:g} ({gs.source})",
        follows=[_standard(settings)],
        complete=peak is not None and len(used) >= settings.points_needed,
    )
    result.findings += point_findings(readings, settings, used, gs) + curve_findings(settings, used, peak)
    result.findings += unexplained(settings, {"optimum_percent": "the optimum"})
    if used:
        result.findings += assumed_note(gs)
    if peak is not None:
        result.findings += peak_findings(peak, used, gs)
        _optimum(result, peak, readings, settings, gs)
    result.figures = [compaction_figure(every, used, peak, settings, gs)]
    result.next_step = next_step(readings, settings, used, context.tins)
    dried.judge(result)
    return result


def _peak(used: list[Compacted], settings: CompactionSettings) -> eq.Peak | None:
    w, rho = [p.water_content for p in used], [p.dry_density for p in used]
    peak = eq.cubic(w, rho) if settings.curve == "cubic" else eq.parabola_through_best(w, rho)
    if peak is not None and settings.optimum_percent is not None:
        return eq.Peak(peak.coefficients, settings.optimum_percent)
    return peak


def _computed(
    every: list[Compacted], readings: CompactionReadings, context: CompactionContext, gs: Leant
) -> dict[str, float | str]:
    computed: dict[str, float | str] = {
        f"points.{i}.water_percent": w
        for i, point in enumerate(readings.points)
        if (w := water_of(point, context.tins)) is not None
    }
    for p in every:
        computed[f"points.{p.row}.dry_density"] = p.dry_density
        phases = Phases(p.dry_density, p.water_content, gs.value)
        if phases.void_ratio > 0 and phases.saturation is not None:
            computed[f"points.{p.row}.saturation_percent"] = phases.saturation
    return computed


def _optimum(
    result: Reduction, peak: eq.Peak, readings: CompactionReadings, settings: CompactionSettings, gs: Leant
) -> None:
    """Add optimum and maximum, by themselves and for the whole soil."""
    basis = _standard(settings)
    by_hand = " (set by hand)" if settings.optimum_percent is not None else ""
    result.parameters = [
        OPTIMUM_WATER_CONTENT.of(peak.optimum_percent, basis=basis, by_hand=by_hand),
        MAXIMUM_DRY_DENSITY.of(peak.maximum, basis=basis),
    ]
    powers = " + ".join(
        f"{c:.6g} w{'^' + str(n) if n > 1 else ''}" if n else f"{c:.6g}"
        for n, c in zip(range(len(peak.coefficients) - 1, -1, -1), peak.coefficients, strict=True)
    )
    result.derivation.append(
        Step(
            symbol="ρd max",
            formula=f"maximum of the {settings.curve}{by_hand}",
            put_in=f"ρd = {powers}, at w = {peak.optimum_percent:.2f} %",
            result=f"{peak.maximum:.4f}",
            unit="g/cm³",
            basis=basis,
        )
    )
    phases = Phases(peak.maximum, peak.optimum_percent, gs.value)
    if phases.void_ratio > 0:
        result.parameters.append(AIR_PERCENT.of(phases.air_percent))
    if not readings.oversize_percent:
        return
    share = readings.oversize_percent
    if share > settings.oversize_limit_percent:
        most = settings.oversize_limit_percent
        result.findings.append(OVERSIZE_MUCH.at("oversize_percent", share=share, most=most))
        return
    result.follows.append("ASTM D4718")
    gm = readings.oversize_specific_gravity
    if gm is None:
        gm = 2.65
        result.findings.append(OVERSIZE_GRAVITY_ASSUMED.at("oversize_specific_gravity"))
    whole = eq.oversize_density(peak.maximum, share, gm)
    water = eq.oversize_water(peak.optimum_percent, share, readings.oversize_water_percent or 0.0)
    result.parameters += [CORRECTED_DRY_DENSITY.of(whole), CORRECTED_WATER_CONTENT.of(water)]
    result.derivation.append(
        Step.of(
            oversize_density,
            symbol="ρd max whole",
            put_in=f"C {share / 100:.3f}, Gm {gm:g}, ρd {peak.maximum:.4f}",
            result=f"{whole:.4f}",
            unit="g/cm³",
        )
    )


def _standard(settings: CompactionSettings) -> str:
    """Return the standard of the rammer in use."""
    return "ASTM D698" if settings.scheme.light else "ASTM D1557"


def _steps(
    used: list[Compacted], readings: CompactionReadings, context: CompactionContext, standard: str
) -> list[Step]:
    steps = []
    for p in used:
        point = readings.points[p.row]
        if (w := point.water_content(context.tins)) is not None:
            steps.append(point.weighing_step(context.tins, w, f"point {p.row + 1}"))
        mass = f"({point.mass_mould_soil_g:g} − {readings.mass_mould_g:g}) / {readings.volume_mould_cm3:g}"
        steps.append(
            Step(
                symbol="ρd",
                formula="ρd = (M − Mmould) / V / (1 + w)",
                put_in=f"{mass} / (1 + {p.water_content / 100:.4f})",
                result=f"{p.dry_density:.4f}",
                unit="g/cm³",
                basis=f"{standard} clause 11",
                about=f"point {p.row + 1}",
            )
        )
    return steps

"""From mould, tins and two runs to the bearing ratio."""

from vadum.soil.bench.particle import particle_density
from vadum.soil.bench.plunger import advice as bearing
from vadum.soil.bench.plunger.figure import drawn, run_figure
from vadum.soil.bench.plunger.report import BASIS, CBR, ratio_parameter, run_parameters, run_steps
from vadum.soil.bench.plunger.run import Run, forces_of, reduce_run
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.cbr_lab.findings import ENDS_FAR_APART
from vadum.soil.methods.cbr_lab.mould import Specimen, mould_findings, soaking_findings, specimen
from vadum.soil.methods.cbr_lab.readings import CbrLabContext, CbrLabReadings, CbrLabSettings, Finished, Scheme, Soaking
from vadum.soil.methods.cbr_lab.results import (
    BULK_DENSITY,
    BULK_SOAKED,
    DRY_DENSITY,
    DRY_SOAKED,
    RELATIVE_COMPACTION,
    SWELL_PERCENT,
    WATER_CONTENT,
    WATER_SOAKED,
)
from vadum.soil.numbers.rounding import Rounding
from vadum.soil.physics.bearing import School, report_step

# Top and bottom of one specimen: compacted in layers by one hand, they differ by a third, not by many times.
_ENDS = 3.0


def reduce_cbr_lab(readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext) -> Reduction:
    """Return all that mould and runs say so far."""
    made = specimen(readings, settings, context)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    ring, ring_name = bearing.ring_of(settings, readings.ring_factor_n_div, context.ring)
    confirmed = _confirmed(readings, settings)
    runs = [
        reduce_run(name, label, rows, ring, settings, tangent, first_counts=confirmed is False)
        for name, label, rows, tangent in (
            ("top", "Top", readings.top, settings.tangent_top_mm),
            ("bottom", "Bottom", readings.bottom, settings.tangent_bottom_mm),
        )
    ]
    top, bottom = runs
    done = _done(readings, runs)
    result = Reduction(
        school=f"{_effort(readings, settings)}, {_soaking(settings, made)}, {settings.school}, {ring_name}",
        complete=done and made.dry_density is not None and top.governing is not None,
        follows=[BASIS[settings.school]],
    )
    result.findings = weighing_findings("tins", readings.tins, context.tins)
    result.findings += weighing_findings("tins_soaked", readings.tins_soaked, context.tins)
    result.findings += mould_findings(readings, settings, context, made, gs)
    result.findings += soaking_findings(readings, settings, made, gs.value)
    for run, rows in ((top, readings.top), (bottom, readings.bottom)):
        ended = done or run.reached_mm >= 7.5 or (run is top and len(bottom.rows) > 0)
        result.findings += bearing.ring_findings(rows, run.table, ring, settings)
        result.findings += bearing.run_findings(run, rows, settings, ended=ended, confirmed=confirmed is True)
        result.computed |= forces_of(run.table, rows, ring, settings)
    result.findings += bearing.rate_findings(readings.rate_measured_mm_min, settings)
    result.findings += unexplained(
        settings, {"tangent_top_mm": "the tangent of the top", "tangent_bottom_mm": "the tangent of the bottom"}
    )
    _ratio(result, runs, settings, bearing.seating_force_n(readings, ring))
    _particulars(result, made, context)
    for run in runs:
        result.parameters += run_parameters(run)
        result.derivation += run_steps(run, settings.school, ring_name)
    result.figures = [
        run_figure(
            run,
            [o for o in runs if o is not run],
            settings.school,
            f"tangent_{run.table}_mm",
            drawn(rows, ring, settings),
        )
        for run, rows in ((top, readings.top), (bottom, readings.bottom))
    ]
    if len(bottom.rows) and not len(top.rows):
        result.figures.reverse()
    result.next_step = _next_step(readings, settings, made, runs)
    return result


def _done(readings: CbrLabReadings, runs: list[Run]) -> bool:
    if readings.finished is not None:
        return True
    return all(len(run.ratios) == 2 and run.ratios[1] is not None for run in runs)


def _confirmed(readings: CbrLabReadings, settings: CbrLabSettings) -> bool | None:
    """Return whether a check run too found the ratio at the second depth the larger one; None without one."""
    first, second = readings.check_first_percent, readings.check_second_percent
    return None if settings.school != School.MPA or first is None or second is None else second > first


def _ratio(result: Reduction, runs: list[Run], settings: CbrLabSettings, seating_n: float | None) -> None:
    """Add the ratio that is reported: the mean of both ends when they agree, else both."""
    best = [(run, found[2]) for run in runs if (found := run.governing) is not None]
    if not best:
        return
    values = [value for _, value in best]
    mean = sum(values) / len(values)
    result.findings += bearing.seating_findings(seating_n, mean, settings)
    if len(best) > 1 and max(values) > _ENDS * min(values):
        (top, _), (bottom, _) = best
        cells = (top.cell(-1), bottom.cell(-1))
        result.findings.append(ENDS_FAR_APART.at(*cells, top=values[0], bottom=values[1]))
    agree = all(abs(value - mean) <= settings.ends_percent / 100 * mean for value in values)
    basis = BASIS[settings.school]
    if len(values) == 1 or agree:
        what = (
            f"bearing ratio, {best[0][0].label.lower()}"
            if len(values) == 1
            else "bearing ratio, mean of top and bottom"
        )
        result.parameters.append(ratio_parameter(mean, settings, what))
        how = "the larger of both depths" if len(values) == 1 else "mean of the larger ones of top and bottom"
        result.derivation.append(
            Step(
                symbol="CBR",
                formula=how,
                put_in=" and ".join(f"{v:.2f}" for v in values),
                result=f"{mean:.2f}",
                unit="%",
                basis=basis,
            )
        )
        return
    texts = [Rounding(step=report_step(v, settings.rounded), words="").text(v) for v in values]
    result.parameters.append(
        CBR.word(
            " / ".join(texts), basis=basis, of="bearing ratio of top and of bottom, more than a tenth off their mean"
        )
    )


def _effort(readings: CbrLabReadings, settings: CbrLabSettings) -> str:
    blows, layers, rammer = readings.blows, readings.layers, readings.rammer_kg
    if settings.scheme != Scheme.ANOTHER or blows is None or layers is None or rammer is None:
        return str(settings.scheme)
    return f"{blows} blows x {layers} layers, {rammer:g} kg"


def _soaking(settings: CbrLabSettings, made: Specimen) -> str:
    """Return how long it stood under water, as it was and not as it was meant."""
    if settings.soaking != Soaking.SOAKED:
        return str(settings.soaking)
    return "soaked, hours not written" if made.soaked_hours is None else f"soaked {made.soaked_hours:g} h"


def _particulars(result: Reduction, made: Specimen, context: CbrLabContext) -> None:
    if made.bulk_density is not None:
        result.parameters.append(BULK_DENSITY.of(made.bulk_density))
    if made.dry_density is not None:
        result.parameters.append(DRY_DENSITY.of(made.dry_density))
        if context.maximum_dry_density is not None:
            share = 100 * made.dry_density / context.maximum_dry_density.value
            result.parameters.append(RELATIVE_COMPACTION.of(share))
    if made.water_content is not None:
        result.parameters.append(WATER_CONTENT.of(made.water_content))
    if made.swell_percent is not None:
        result.parameters.append(SWELL_PERCENT.of(made.swell_percent))
    for of, value in (
        (WATER_SOAKED, made.water_soaked),
        (BULK_SOAKED, made.bulk_soaked),
        (DRY_SOAKED, made.dry_soaked),
    ):
        if value is not None:
            result.parameters.append(of.of(value))


def _next_step(readings: CbrLabReadings, settings: CbrLabSettings, made: Specimen, runs: list[Run]) -> str:
    if made.bulk_density is None:
        return "Weigh the empty mould, compact, take the collar off, strike off level, weigh again."
    top, bottom = runs
    if not len(top.rows):
        soak = settings.soaking == Soaking.SOAKED and (
            not readings.swell or all((r.elapsed_h or 0) < 95 for r in readings.swell if r.dial_mm is not None)
        )
        if soak:
            return "Soak with the surcharge on; read the dial now and each day. After 96 h let it drain 15 min."
        return "Seat the plunger, zero ring and gauge together, then press without a pause and read each 0.25 mm."
    for run, name in ((top, "top"), (bottom, "bottom")):
        if readings.finished or (run is bottom and not len(run.rows)):
            continue
        if not run.ratios or run.ratios[1] is None:
            return (
                f"Go on with the {name} without a pause: read the ring each 0.25 mm, next at"
                f" {run.reached_mm + 0.25:g} mm."
            )
    if not len(bottom.rows) and readings.finished != Finished.TOP_ONLY:
        return "Turn the mould over and press the bottom the same way."
    if made.water_content is None:
        return "Take a tin of the soil as compacted; dry and weigh it."
    if settings.soaking == Soaking.SOAKED and made.water_soaked is None and readings.finished is None:
        return "Take a tin from below the plunger, after soaking; dry and weigh it."
    return ""

"""From the positions to the bearing ratio of the place."""

import numpy as np

from vadum.soil.bench.plunger import advice as bearing
from vadum.soil.bench.plunger.figure import drawn, run_figure
from vadum.soil.bench.plunger.report import ratio_parameter, run_parameters, run_steps
from vadum.soil.bench.plunger.run import Run, forces_of, reduce_run
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.cbr_in_situ.findings import (
    EXPECTED_OFF,
    LIFTS,
    POSITIONS_APART,
    REACTION_LIFTED,
    REACTION_LIFTED_EARLY,
    REACTION_REACHED,
)
from vadum.soil.methods.cbr_in_situ.readings import (
    POSITIONS,
    CbrInSituContext,
    CbrInSituReadings,
    CbrInSituSettings,
    Ended,
)
from vadum.soil.methods.cbr_in_situ.results import LARGEST_CBR, SPREAD_PERCENT, WATER_CONTENT
from vadum.soil.methods.cbr_in_situ.setup import largest_percent, plan_words, setup_findings
from vadum.soil.physics.bearing import STANDARD_FORCE_KN, School, agree, largest_measurable_percent

_FOLLOWED = {School.KN: "BS 1377-9", School.MPA: "ASTM D4429"}
# A guess before the test may be off by this factor.
_GUESS = 4.0


# A force this near to the reaction takes the weight off the stands; one that rises no more, or by less than this share
# of what it rose by before, over so many readings, is the vehicle's.
_NEARLY, _NO_RISE, _FLAT, _FLAT_ROWS = 0.9, 0.01, 0.1, 4


def reduce_cbr_in_situ(
    readings: CbrInSituReadings, settings: CbrInSituSettings, context: CbrInSituContext
) -> Reduction:
    """Return all that the set-up and the positions say so far."""
    ring, ring_name = bearing.ring_of(settings, readings.ring_factor_n_div, context.ring)
    rows = {name: getattr(readings, name) for name in POSITIONS}
    runs = [
        reduce_run(name, f"Position {i}", rows[name], ring, settings, getattr(settings, f"tangent_{name}_mm"))
        for i, name in enumerate(POSITIONS, 1)
    ]
    begun = [run for run in runs if len(run.rows)]
    lifted = readings.ended == Ended.LIFTED
    done = readings.ended is not None or (len(begun) == 3 and all(r.ratios and r.ratios[1] for r in begun))
    result = Reduction(
        school=f"in the ground, {settings.school}, {ring_name}",
        complete=done and any(r.governing for r in begun),
        follows=[_FOLLOWED[settings.school]],
    )
    result.findings = weighing_findings("tins", readings.tins, context.tins) + setup_findings(readings, settings, ring)
    # What one position says of the second depth another confirms.
    confirmed = sum(run.second_larger for run in begun) > 1
    for k, run in enumerate(runs):
        ended = done or run.reached_mm >= 7.5 or any(len(later.rows) for later in runs[k + 1 :])
        last = lifted and run is begun[-1] if begun else False
        result.findings += bearing.ring_findings(rows[run.table], run.table, ring, settings)
        result.findings += bearing.run_findings(
            run, rows[run.table], settings, ended=ended, lifted=last, confirmed=confirmed
        )
        result.computed |= forces_of(run.table, rows[run.table], ring, settings)
        result.findings += lifting(run, readings.reaction_kn, said=lifted and last)
    result.findings += bearing.rate_findings(readings.rate_measured_mm_min, settings)
    result.findings += unexplained(
        settings, {f"tangent_{run.table}_mm": f"the tangent of {run.label.lower()}" for run in runs}
    )
    if lifted and begun:
        _lifted(result, begun[-1], settings)
    _ratio(result, begun, readings, settings, bearing.seating_force_n(readings, ring))
    _particulars(result, readings, settings, context)
    for run in begun:
        result.parameters += run_parameters(run)
        result.derivation += run_steps(run, settings.school, ring_name)
    shown = begun or runs[:1]
    result.figures = [
        run_figure(
            run,
            [o for o in begun if o is not run],
            settings.school,
            f"tangent_{run.table}_mm",
            drawn(rows[run.table], ring, settings),
        )
        for run in shown
    ]
    result.next_step = _next_step(readings, settings, runs, begun)
    return result


def lifting(run: Run, reaction_kn: float | None, *, said: bool) -> list[Finding]:
    """Return that the reaction was reached, and from where on a flat force is a vehicle coming up and no soil."""
    if not reaction_kn or len(run.rows) < _FLAT_ROWS:
        return []
    force = run.force_kn
    kn = float(force.max())
    if said or kn < _NEARLY * reaction_kn:
        return []
    first = int(np.argmax(force >= (1 - _NO_RISE) * kn))
    at = float(run.penetration_mm[first])
    cell = run.cell(first)
    # Soil that yields presses on, slower and slower; a vehicle that lifts presses no more at all.
    onward = run.penetration_mm[-1] - at
    rise = (force[-1] - force[first]) / onward if onward > 0 else np.inf
    if len(force) - first >= _FLAT_ROWS and at > 0 and rise < _FLAT * kn / at:
        return [LIFTS.at(cell, "ended", label=run.label, at=at, kn=kn, reaction=reaction_kn)]
    return [REACTION_REACHED.at(cell, label=run.label, at=at, kn=kn, reaction=reaction_kn)]


def _lifted(result: Reduction, last: Run, settings: CbrInSituSettings) -> None:
    """Say at which depths a position that the reaction ended can be judged."""
    reached = [f"{r[0]:g} mm" for r in last.ratios if r is not None]
    if reached:
        result.findings.append(
            REACTION_LIFTED.at(
                "ended", reached_mm=last.reached_mm, what=last.label.lower(), names=" and ".join(reached)
            )
        )
        return
    first = f"{STANDARD_FORCE_KN[settings.school][0][0]:g} mm"
    result.findings.append(REACTION_LIFTED_EARLY.at("ended", reached_mm=last.reached_mm, first=first))


def _ratio(
    result: Reduction,
    begun: list[Run],
    readings: CbrInSituReadings,
    settings: CbrInSituSettings,
    seating_n: float | None,
) -> None:
    values = [(run, found[2]) for run in begun if (found := run.governing) is not None]
    if not values:
        return
    mean = sum(value for _, value in values) / len(values)
    what = (
        f"bearing ratio in place, mean of {len(values)}" if len(values) > 1 else "bearing ratio in place, one position"
    )
    result.parameters.append(ratio_parameter(mean, settings, what))
    result.derivation.append(
        Step(
            symbol="CBR",
            formula="mean of the larger ratio of each position",
            put_in=", ".join(f"{v:.2f}" for _, v in values),
            result=f"{mean:.2f}",
            unit="%",
        )
    )
    if len(values) > 1 and mean > 0:
        spread = 100 * max(abs(value - mean) for _, value in values) / mean
        result.parameters.append(SPREAD_PERCENT.of(spread))
        far, value = max(values, key=lambda v: abs(v[1] - mean))
        most = settings.spread_percent
        off = spread > most if most is not None else not agree([v for _, v in values])
        if off:
            result.findings.append(
                POSITIONS_APART.at(far.cell(-1), label=far.label, ratio=value, spread=spread, mean=mean)
            )
    expected = readings.expected_percent
    if expected is not None and not expected / _GUESS <= mean <= _GUESS * expected:
        result.findings.append(EXPECTED_OFF.at("ring_factor_n_div", "expected_percent", ratio=mean, expected=expected))
    result.findings += bearing.seating_findings(seating_n, mean, settings)


def _particulars(
    result: Reduction, readings: CbrInSituReadings, settings: CbrInSituSettings, context: CbrInSituContext
) -> None:
    most = largest_percent(readings, settings)
    if most is not None:
        result.parameters.append(LARGEST_CBR.of(most))
        standard = STANDARD_FORCE_KN[settings.school][-1][1]
        result.derivation.append(
            Step.of(
                largest_measurable_percent,
                symbol="CBR max",
                put_in=f"100 × {readings.reaction_kn:g} / {standard:.2f}",
                result=f"{most:.1f}",
                unit="%",
            )
        )
    found = [w for tin in readings.tins if tin.used and (w := tin.water_content(context.tins)) is not None]
    if found:
        result.parameters.append(WATER_CONTENT.of(sum(found) / len(found)))


def _next_step(readings: CbrInSituReadings, settings: CbrInSituSettings, runs: list[Run], begun: list[Run]) -> str:
    if not begun:
        return plan_words(readings, settings)
    last = begun[-1]
    if readings.ended is None and (not last.ratios or last.ratios[1] is None):
        return (
            f"{last.label}: go on without a pause, next at {last.reached_mm + 0.25:g} mm. If the reaction lifts, stop"
            " and say so under ended."
        )
    if readings.ended is None and len(begun) < len(runs):
        return (
            f"Unload the ring, move on within the metre, run {runs[len(begun)].label.lower()}; or say under ended that"
            " all are run."
        )
    if not any(tin.mass_tin_dry_g is not None for tin in readings.tins):
        return "Unload the ring before the stands are struck. Take a tin from beside the plunger, dry and weigh it."
    return ""

"""From levels to the percolation rate, and to the rate through wall and base."""

from vadum.soil.bench.filling import fills_of, water_at, water_cell
from vadum.soil.bench.infiltrating import for_design
from vadum.soil.bench.steady import mean_mm_min, steady_window
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.percolation import advice
from vadum.soil.methods.percolation.figures import hole_figure, rate_figure
from vadum.soil.methods.percolation.intervals import Interval, intervals_of
from vadum.soil.methods.percolation.readings import PercolationReadings, PercolationSettings
from vadum.soil.methods.percolation.results import FALL, INFILTRATION, PERCOLATION
from vadum.soil.physics.soaking import wall_and_base_mm_min


def reduce_percolation(readings: PercolationReadings, settings: PercolationSettings) -> Reduction:
    """Return all that the levels say so far."""
    made = intervals_of(readings)
    window = last_steady(made, settings)
    result = Reduction(
        school=f"the last {settings.steady_rates} intervals within {settings.within_percent:g} %, refilled in between;"
        f" factor {settings.safety_factor:g}",
        complete=bool(window),
    )
    result.computed = {f"levels.{one.row}.fall_mm_h": 60 * one.fall_mm_min for one in made}
    result.computed |= {
        f"levels.{one.row}.rate_mm_h": 60 * one.rate_mm_min for one in made if one.rate_mm_min is not None
    }
    result.findings = advice.hole_findings(readings) + advice.level_findings(
        readings, settings, made, steady=bool(window)
    )
    if window:
        _results(result, readings, settings, window)
    hole = hole_figure(readings)
    result.figures = [rate_figure(made, window, settings), *([hole] if hole else [])]
    result.next_step = advice.next_step(readings, settings, fills_of(readings.levels), made, steady=bool(window))
    result.afterwards = "Steady: fill the hole with its soil again. Let a second person check the sheet."
    return result


def last_steady(made: list[Interval], settings: PercolationSettings) -> list[Interval]:
    """Return the last intervals when they agree; nothing while they do not."""
    rows = {r.row for r in steady_window([o.steadied for o in made], settings.steady_rates, settings.within_percent)}
    return [one for one in made[-settings.steady_rates :] if one.row in rows]


def _results(
    result: Reduction, readings: PercolationReadings, settings: PercolationSettings, window: list[Interval]
) -> None:
    fall = sum(one.fall_mm for one in window) / sum(one.to_min - one.from_min for one in window)
    rate = mean_mm_min([one.steadied for one in window])
    result.parameters += [PERCOLATION.of(10 / fall), FALL.of(60 * fall)]
    last = window[-1]
    if rate is None or last.rate_mm_min is None or last.depth_mm is None or readings.hole_diameter_mm is None:
        return
    result.parameters.append(INFILTRATION.of(60 * rate))
    water = water_at(readings.fills, last.fill)
    for_design(result, 60 * rate, water, settings, water_cell(readings.fills, last.fill))
    result.derivation.append(
        Step.of(
            wall_and_base_mm_min,
            put_in=f"r {readings.hole_diameter_mm / 2:g}, from {last.depth_mm + last.fall_mm:g} to {last.depth_mm:g} mm"
            f" in {last.to_min - last.from_min:g} min; mean of {len(window)} intervals × 60",
            result=f"{60 * rate:.4g}",
            unit="mm/h",
        )
    )

"""From the levels of each run to the permeability around the section."""

from vadum.soil.bench.filling import water_at
from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.borehole_permeability import advice
from vadum.soil.methods.borehole_permeability.figures import head_figure
from vadum.soil.methods.borehole_permeability.readings import BoreholeReadings, BoreholeSettings, By
from vadum.soil.methods.borehole_permeability.results import FACTOR, K_20, K_MM_H, K_OTHER, K_RUN, LAG, K
from vadum.soil.methods.borehole_permeability.runs import Run, Section, runs_of, section_of
from vadum.soil.physics.borehole import by_lag_m_s, by_slope_m_s, intake_factor_m
from vadum.soil.physics.falling_head import geometric_mean


def reduce_borehole(readings: BoreholeReadings, settings: BoreholeSettings) -> Reduction:
    """Return all that the runs say so far."""
    section, made = section_of(readings, settings), runs_of(readings)
    ended = [run for run in made if 100 * run.left <= settings.left_percent]
    result = Reduction(
        school=f"{settings.intake}; k by {settings.by}; read until {settings.left_percent:g} % of the head is left",
        complete=bool(made) and len(ended) == len(made),
    )
    for run in made:
        result.computed |= {
            f"levels.{row}.head_m": head for row, head in zip(run.fill.rows, run.head_m.tolist(), strict=True)
        }
    result.findings = advice.section_findings(readings, settings) + advice.run_findings(readings, settings, made)
    if section is not None:
        _results(result, readings, settings, section, made)
    result.complete = result.complete and result.parameter("k") is not None
    result.figures = [head_figure(made)]
    result.next_step = advice.next_step(readings, settings, section, made)
    result.afterwards = "Seal the borehole as the code asks. Let a second person check the sheet."
    return result


def _results(
    result: Reduction, readings: BoreholeReadings, settings: BoreholeSettings, section: Section, made: list[Run]
) -> None:
    found = [(run, k) for run in made if (k := run.k_m_s(section, settings.by)) is not None]
    if found:
        mean, _ = geometric_mean([k for _, k in found])
        over = "one run" if len(found) == 1 else f"geometric mean of {len(found)} runs"
        result.parameters += [K.of(mean, over=over), K_MM_H.of(3.6e6 * mean)]
        water = water_at(readings.fills, len(readings.fills))
        if water is not None:
            result.parameters.append(K_20.of(mean * to_temperature(water, 20.0)))
        result.findings += advice.runs_findings(found)
    length = (readings.base_m or 0.0) - (readings.top_m or 0.0)
    result.parameters.append(FACTOR.of(section.factor_m, shape=settings.intake))
    result.derivation.append(
        Step.of(
            intake_factor_m,
            put_in=f"D {(readings.section_mm or 0.0) / 1000:g} m, L {length:g} m",
            result=f"{section.factor_m:.4g}",
            unit="m",
        )
    )
    for run, k in found:
        number = run.fill.number
        result.parameters.append(K_RUN.of(k, number=number, way=settings.by))
        for way in By:
            if way != settings.by and (other := run.k_m_s(section, way)) is not None:
                result.parameters.append(K_OTHER.of(other, number=number, way=way.value, words=way))
        if run.lag_min is not None:
            result.parameters.append(LAG.of(run.lag_min, number=number))
        put_in = f"A {section.area_m2:.4g} m², F {section.factor_m:.4g} m, "
        by_lag = settings.by == By.LAG
        slope = run.slope_per_min if settings.by == By.SLOPE else run.rate_per_min
        put_in += f"T {60 * (run.lag_min or 0):.4g} s" if by_lag else f"slope {(slope or 0) / 60:.4g} per s"
        result.derivation.append(
            Step.of(
                by_lag_m_s if by_lag else by_slope_m_s,
                put_in=put_in,
                result=f"{k:.3g}",
                unit="m/s",
                about=f"run {number}",
            )
        )

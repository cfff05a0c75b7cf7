"""From the levels of each fill to the rate at which the pit soaks away."""

from vadum.soil.bench.filling import water_at, water_cell
from vadum.soil.bench.infiltrating import for_design
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.soakage_pit import advice
from vadum.soil.methods.soakage_pit.emptying import Emptying, emptyings, pit_of
from vadum.soil.methods.soakage_pit.figures import level_figure, pit_figure
from vadum.soil.methods.soakage_pit.readings import PitReadings, PitSettings
from vadum.soil.methods.soakage_pit.results import INFILTRATION, NOT_EMPTY, OF_FILL, RATE
from vadum.soil.physics.soaking import Pit, soakage_m_s

M_S_TO_MM_H = 3.6e6


def reduce_soakage_pit(readings: PitReadings, settings: PitSettings) -> Reduction:
    """Return all that the fills say so far."""
    pit = pit_of(readings, settings)
    made = emptyings(readings, pit)
    done = [one for one in made if one.rate_m_s is not None]
    result = Reduction(
        school=f"least of {settings.fills_needed} fills, {settings.backfill}; factor {settings.safety_factor:g}",
        complete=len(done) >= settings.fills_needed and len(done) == len(made),
    )
    for one in made:
        result.computed |= {
            f"levels.{row}.water_mm": depth for row, depth in zip(one.fill.rows, one.depth_mm.tolist(), strict=True)
        }
    result.findings = advice.pit_findings(readings) + advice.fill_findings(readings, pit, made)
    if pit is not None:
        _results(result, readings, settings, pit, made)
    sketch = pit_figure(pit) if pit is not None else None
    result.figures = [level_figure(made, pit), *([sketch] if sketch else [])]
    result.next_step = advice.next_step(readings, settings, pit, made)
    result.afterwards = "Fill the pit with its soil again. Let a second person check the sheet."
    return result


def _results(result: Reduction, readings: PitReadings, settings: PitSettings, pit: Pit, made: list[Emptying]) -> None:
    rates = [(one.rate_m_s, one) for one in made if one.rate_m_s is not None]
    if rates:
        least, slowest = min(rates, key=lambda rate: rate[0])
        over = "one fill" if len(rates) == 1 else f"least of {len(rates)} fills"
        result.parameters += [RATE.of(least, over=over), INFILTRATION.of(least * M_S_TO_MM_H)]
        fills, number = readings.fills, slowest.fill.number
        for_design(result, least * M_S_TO_MM_H, water_at(fills, number), settings, water_cell(fills, number))
    for one in made:
        number = one.fill.number
        if one.rate_m_s is not None and one.minutes is not None:
            result.parameters.append(OF_FILL.of(one.rate_m_s, number=number, minutes=one.minutes))
            volume = pit.volume_m3(0.75 * pit.full_mm) - pit.volume_m3(0.25 * pit.full_mm)
            result.derivation.append(
                Step.of(
                    soakage_m_s,
                    put_in=f"{volume:.4g} m³ / ({pit.wetted_m2(0.5 * pit.full_mm):.4g} m² × {60 * one.minutes:.4g} s)",
                    result=f"{one.rate_m_s:.3g}",
                    unit="m/s",
                    about=f"fill {number}",
                )
            )
        elif one.below_m_s is not None:
            result.parameters.append(NOT_EMPTY.word(f"below {one.below_m_s:.2g} m/s", number=number))

"""From levels or volumes to the steady infiltration of the inner ring."""

from vadum.soil.bench.infiltrating import for_design
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.double_ring import advice
from vadum.soil.methods.double_ring.figures import ring_figure, velocity_figure
from vadum.soil.methods.double_ring.readings import RingReadings, RingSettings
from vadum.soil.methods.double_ring.results import ANNULAR, INFILTRATION, RATE_M_S, RATIO
from vadum.soil.methods.double_ring.velocities import Ring, rings
from vadum.soil.physics.soaking import ring_velocity_mm_min


def reduce_double_ring(readings: RingReadings, settings: RingSettings) -> Reduction:
    """Return all that the rings say so far."""
    inner, outer = rings(readings, settings)
    result = Reduction(
        school=f"{settings.kept}; steady within {settings.within_percent:g} % of {settings.steady_rates};"
        f" factor {settings.safety_factor:g}",
        complete=bool(inner.window(settings)),
    )
    for ring in (inner, outer):
        result.computed |= {f"readings.{r.row}.{ring.name}_mm_h": 60 * r.mm_min for r in ring.rates}
    result.findings = advice.ring_findings(readings)
    result.findings += advice.velocity_findings(readings, settings, inner, outer)
    _results(result, readings, settings, inner, outer)
    drawn = ring_figure(readings)
    result.figures = [velocity_figure((inner, outer), settings), *([drawn] if drawn else [])]
    result.next_step = advice.next_step(readings, settings, inner)
    result.afterwards = "Steady: draw the rings, fill the place. Let a second person check the sheet."
    return result


def _results(result: Reduction, readings: RingReadings, settings: RingSettings, inner: Ring, outer: Ring) -> None:
    steady = inner.steady(settings)
    if steady is None:
        return
    rate = 60 * steady
    result.parameters += [INFILTRATION.of(rate), RATE_M_S.of(rate / 3.6e6)]
    for_design(result, rate, readings.temperature_c, settings, "temperature_c")
    between = outer.steady(settings)
    if between is not None:
        result.parameters += [ANNULAR.of(60 * between), RATIO.of(steady / between)]
    window = inner.window(settings)
    minutes, area = window[-1].to_min - window[0].from_min, readings.inner_area_cm2 or 0.0
    result.derivation.append(
        Step.of(
            ring_velocity_mm_min,
            put_in=f"{steady * area * minutes / 10:.4g} cm³ / ({area:.4g} cm² × {minutes:g} min) × 60",
            result=f"{rate:.4g}",
            unit="mm/h",
            about=f"{len(window)} intervals",
        )
    )

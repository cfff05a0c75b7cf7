"""From flows to the permeability of the specimen and the state it was measured in."""

from math import pi

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.permeability_laboratory import advice
from vadum.soil.methods.permeability_laboratory.figures import flow_figure, time_figure
from vadum.soil.methods.permeability_laboratory.flow import Measured, measured
from vadum.soil.methods.permeability_laboratory.readings import (
    Head,
    PermeabilityContext,
    PermeabilityReadings,
    PermeabilitySettings,
)
from vadum.soil.methods.permeability_laboratory.results import (
    DEGREE,
    DRY_DENSITY,
    GRADIENT,
    LINEARITY,
    SPREAD,
    VOID_RATIO,
    K,
)
from vadum.soil.physics.permeameter import constant_head_m_s, falling_head_m_s
from vadum.soil.physics.phases import void_ratio

_FOLLOWED = {Head.CONSTANT: "ASTM D2434", Head.FALLING: "ISO 17892-11"}


def reduce_permeability(
    readings: PermeabilityReadings, settings: PermeabilitySettings, context: PermeabilityContext
) -> Reduction:
    """Return all that was measured so far."""
    made = measured(readings, settings)
    result = Reduction(
        school=f"{settings.head}; in water of {settings.reference_c:g} °C; agreeing within"
        f" {settings.within_percent:g} %",
        follows=[_FOLLOWED[settings.head]],
        complete=len(made) >= settings.needed,
    )
    for one in made:
        result.computed |= {
            f"{one.table}.{one.row}.gradient": one.gradient,
            f"{one.table}.{one.row}.k_um_s": 1e6 * one.k_ref_m_s,
        }
    result.findings = advice.specimen_findings(readings, settings) + advice.row_findings(readings, settings, made)
    result.findings += advice.agreement_findings(settings, made)
    if made:
        _flow(result, settings, made)
    _state(result, readings, context)
    result.figures = [flow_figure(made), time_figure(made, settings)]
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _flow(result: Reduction, settings: PermeabilitySettings, made: list[Measured]) -> None:
    values = [one.k_ref_m_s for one in made]
    mean = sum(values) / len(values)
    result.parameters.append(K.of(mean, head=settings.head, count=len(made), reference=settings.reference_c))
    slopes = [one.gradient for one in made]
    least, most = min(slopes), max(slopes)
    result.parameters.append(GRADIENT.word(f"{least:.2g} to {most:.2g}", least=least, most=most))
    if (ratio := advice.linearity(made)) is not None:
        result.parameters.append(LINEARITY.of(ratio))
    if len(made) > 1:
        result.parameters.append(SPREAD.of(100 * max(abs(v / mean - 1) for v in values)))
    relation = constant_head_m_s if settings.head == Head.CONSTANT else falling_head_m_s
    result.derivation += [
        Step.of(
            relation,
            put_in=f"i {one.gradient:.3g}, k {one.k_m_s:.3g} m/s as measured, × η(T)/η({settings.reference_c:g})",
            result=f"{one.k_ref_m_s:.3g}",
            unit="m/s",
            about=f"row {one.row + 1}",
        )
        for one in made
    ]


def _state(result: Reduction, readings: PermeabilityReadings, context: PermeabilityContext) -> None:
    """Add the density in which the specimen was measured."""
    diameter, length, mass = readings.diameter_mm, readings.length_mm, readings.mass_dry_g
    if diameter is None or length is None or mass is None:
        return
    dry = mass / (pi / 4 * diameter**2 * length / 1000)
    result.parameters.append(DRY_DENSITY.of(dry))
    result.derivation.append(
        Step(
            symbol="ρd",
            formula="ρd = m / (π/4 d² l)",
            put_in=f"{mass:g} g / (π/4 × {diameter:g}² × {length:g} / 1000)",
            result=f"{dry:.4f}",
            unit="g/cm³",
        )
    )
    grains = context.particle_density
    if grains is not None:
        result.parameters.append(VOID_RATIO.of(void_ratio(dry, grains.value), source=grains.source))
    densest = context.maximum_dry_density
    if densest is not None and densest.value > 0:
        degree = 100 * dry / densest.value
        result.parameters.append(DEGREE.of(degree, source=densest.source))
        result.findings += advice.state_findings(degree)

"""From the stack to percent finer and the sieve limb of the curve."""

from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.figure import Limb, grading_figure
from vadum.soil.bench.grading.fractions import Convention, below_cobbles, grading_parameters
from vadum.soil.bench.grading.joint import fine_limb, jump_finding, wide_gaps
from vadum.soil.bench.grading.sieves import made_mm, sieve_name
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Mark
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.sieve.advice import afterwards, fines_findings, mass_findings, next_step, stack_findings
from vadum.soil.methods.sieve.readings import SieveReadings, SieveSettings, Split, Washing
from vadum.soil.methods.sieve.results import WASH_LOSS_PERCENT
from vadum.soil.methods.sieve.stack import Stack, weighed_stack
from vadum.soil.physics.grading import Curve, joined, limb_jump

BASIS = "ASTM D6913"


def reduce_sieve(readings: SieveReadings, settings: SieveSettings, context: GradingContext) -> Reduction:
    """Return all that the stack says so far."""
    stack = weighed_stack(readings, settings)
    openings = {i: made_mm(d) or d for i, row in enumerate(readings.sieves) if (d := row.opening_mm)}
    sound = {i: p for i, p in stack.finer_percent.items() if p >= -0.5}
    coarse = Curve.through([openings[i] for i in sound], [max(0.0, p) for p in sound.values()])
    fine = fine_limb(context)
    curve = joined(coarse, fine)
    findings = mass_findings(readings, settings, stack) + stack_findings(readings, settings, context, stack)
    findings += jump_finding(limb_jump(coarse, fine)) + fines_findings(settings, stack, openings, fine)
    findings += wide_gaps(curve)
    result = Reduction(
        findings=findings,
        computed=_computed(stack, openings),
        derivation=_steps(stack, openings, readings),
        curve=coarse.points,
        school=_school(settings, coarse, context),
        follows=_followed(settings),
        complete=readings.mass_pan_g is not None
        and stack.gap is None
        and len(sound) > 1
        and stack.sieved_g is not None,
    )
    result.parameters = grading_parameters(curve, settings.convention, BASIS)
    result.parameters += below_cobbles(curve, settings.convention, BASIS)
    if settings.washing == Washing.WASHED and stack.total_g and stack.sieved_g and stack.sieved_g <= stack.total_g:
        lost = 100 * (stack.total_g - stack.sieved_g) / stack.total_g
        result.parameters.append(WASH_LOSS_PERCENT.of(lost))
    result.figures = [
        grading_figure(_limbs(readings, stack, fine, openings), curve, settings.convention, said=_said(curve))
    ]
    result.next_step = next_step(readings, settings, context, stack)
    result.afterwards = afterwards(context, result)
    return result


def _school(settings: SieveSettings, coarse: Curve, context: GradingContext) -> str:
    words = f"{settings.washing}, {settings.entry} per sieve, {settings.split}, fractions {settings.convention}"
    of = context.hydrometer_curve
    return f"{words}; below {coarse.diameter_mm[0]:g} mm by {of.source}" if of and of.points and len(coarse) else words


def _followed(settings: SieveSettings) -> list[str]:
    if settings.convention == Convention.ISO:
        return ["ISO 17892-4"]
    # C136 is for aggregate, sieved as a whole.
    if settings.specimen_rule == "aggregate" and settings.split == Split.WHOLE:
        return ["ASTM C136"] + (["ASTM C117"] if settings.washing == Washing.WASHED else [])
    return ["ASTM D6913"]


def _computed(stack: Stack, openings: dict[int, float]) -> dict[str, float | str]:
    computed: dict[str, float | str] = {
        f"sieves.{i}.name": name for i, d in openings.items() if (name := sieve_name(d))
    }
    if stack.total_g:
        computed |= {f"sieves.{i}.retained_percent": 100 * m / stack.total_g for i, m in stack.retained_g.items()}
    return computed | {f"sieves.{i}.finer_percent": p for i, p in stack.finer_percent.items()}


def _limbs(readings: SieveReadings, stack: Stack, fine: Curve, openings: dict[int, float]) -> list[Limb]:
    marks = [Mark(x=openings[i], y=p, path=f"sieves.{i}") for i, p in stack.finer_percent.items() if 0 <= p <= 100]
    return [
        Limb("sieve", "sieve", marks),
        Limb("sedimentation", "hydrometer", [Mark(x=d, y=p) for d, p in fine.points]),
    ]


def _said(curve: Curve) -> str:
    median = curve.diameter_at(50)
    return f"Half of the soil is finer than {median:.3g} mm." if median else ""


def _steps(stack: Stack, openings: dict[int, float], readings: SieveReadings) -> list[Step]:
    if not stack.total_g:
        return []
    steps, so_far = [], 0.0
    for i, p in stack.finer_percent.items():
        so_far += stack.retained_g[i]
        steps.append(
            Step(
                symbol="P",
                formula="P = 100 (1 − sum retained / M)",
                put_in=f"100 (1 − {so_far:.1f} / {stack.total_g:.1f})",
                result=f"{p:.2f}",
                unit="%",
                basis=f"{BASIS} clause 12",
                about=f"finer than {openings[i]:g} mm",
            )
        )
    return steps

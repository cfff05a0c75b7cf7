"""From levels to rates, and from steady rates to the conductivity of the ground."""

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.well_permeameter import advice
from vadum.soil.methods.well_permeameter.figures import hole_figure, rate_figure
from vadum.soil.methods.well_permeameter.rates import Head, heads_of, section_cm2
from vadum.soil.methods.well_permeameter.readings import FactorRule, RateFrom, Solution, WellReadings, WellSettings
from vadum.soil.methods.well_permeameter.results import (
    ALPHA,
    DESIGN_MM_H,
    JUDGED,
    KFS,
    KFS_BY_HEAD,
    KFS_M_S,
    KFS_TWO,
    POTENTIAL,
    RELATION_MM_H,
)
from vadum.soil.physics import constant_head as ch
from vadum.soil.physics.constant_head import one_head_cm_min
from vadum.soil.physics.water import water_viscosity

BASIS = "Reynolds and Elrick (1986)"
_TO_MM_H = 600.0  # from cm/min


def reduce_well(readings: WellReadings, settings: WellSettings) -> Reduction:
    """Return all that the levels say so far."""
    made = heads_of(readings, settings)
    needed = 2 if readings.head_2_mm is not None else 1
    steady = [h for h in made if h.window(settings)]
    result = Reduction(school=_school(settings), complete=len(steady) >= needed and len(steady) == len(made))
    result.computed = {f"levels.{r.row}.rate_mm_min": r.mm_min for h in made for r in h.rates}
    result.findings = advice.hole_findings(readings) + advice.rate_findings(readings, settings, made)
    _well(result, readings, settings, made)
    result.complete = result.complete and result.parameter("kfs") is not None
    hole = hole_figure(readings)
    result.figures = [rate_figure(made, settings), *([hole] if hole else [])]
    result.next_step = advice.next_step(readings, settings, made)
    result.afterwards = "Steady: close the valve, backfill the hole. Let a second person check the sheet."
    return result


def _school(settings: WellSettings) -> str:
    factor = _factor(settings)
    return (
        f"{settings.solution}, {settings.soil} (α* {ch.ALPHA[settings.soil]:g}/cm), steady within"
        f" {settings.within_percent:g} % of {settings.steady_rates}, {settings.infiltration}, factor {factor:g}"
    )


def _factor(settings: WellSettings) -> float:
    if settings.factor_rule == FactorRule.BY_LAYERS:
        return ch.safety_factor_by_layers(settings.layer_ratio)
    return settings.safety_factor


def _well(result: Reduction, readings: WellReadings, settings: WellSettings, made: list[Head]) -> None:
    a = readings.radius_mm
    heads = {1: readings.head_1_mm, 2: readings.head_2_mm}
    if a is None:
        return
    flows: dict[int, tuple[float, float]] = {}
    for head in made:
        rate, h = head.steady_mm_min(settings), heads[head.number]
        area = section_cm2(readings, head.number)
        if rate is not None and h is not None and area is not None:
            flows[head.number] = (area * rate / 10, h / 10)
    to_20 = 1.0
    if readings.temperature_c is not None:
        to_20 = float(water_viscosity(readings.temperature_c) / water_viscosity(20.0))
    singles = {k: to_20 * _TO_MM_H * ch.one_head_cm_min(q, h, a / 10, settings.soil) for k, (q, h) in flows.items()}
    by_two = _two(flows, a / 10, settings)
    kfs, said = _reported(singles, by_two, settings, to_20)
    if kfs is not None:
        result.parameters.append(KFS.of(kfs, said=said))
        result.parameters.append(KFS_M_S.of(kfs / 3600000.0))
        _design(result, kfs, settings)
    for k, value in singles.items():
        result.parameters.append(KFS_BY_HEAD.of(value, k=k))
        q, h = flows[k]
        result.derivation.append(
            Step.of(
                one_head_cm_min,
                put_in=f"C {ch.shape_factor(h, a / 10, settings.soil):.3f}, Q {q:.3f} cm³/min, H {h:g} cm, a {a / 10:g}"
                f" cm, α* {ch.ALPHA[settings.soil]:g}/cm, to 20 °C {to_20:.3f}",
                result=f"{value:.4g}",
                unit="mm/h",
                about=f"head {k}",
            )
        )
    if by_two is not None:
        _both(result, by_two, to_20)
    result.findings += advice.heads_findings(readings, settings, flows)
    result.findings += advice.solution_findings(readings, settings, by_two, kfs)


def _two(flows: dict[int, tuple[float, float]], radius_cm: float, settings: WellSettings) -> ch.TwoHeads | None:
    if len(flows) < 2:
        return None
    (q1, h1), (q2, h2) = sorted(flows.values(), key=lambda read: read[1])
    return ch.two_heads((q1, q2), (h1, h2), radius_cm, settings.soil) if h2 > h1 else None


def _reported(
    singles: dict[int, float], by_two: ch.TwoHeads | None, settings: WellSettings, to_20: float
) -> tuple[float | None, str]:
    """Return the value that is reported, and how it came about."""
    if not singles:
        return None, ""
    mean = sum(singles.values()) / len(singles)
    if settings.solution == Solution.TWO and by_two is not None and by_two.sound:
        return to_20 * _TO_MM_H * by_two.kfs_cm_min, "by two heads"
    if settings.solution == Solution.TWO and by_two is not None:
        return mean, "two heads gave a negative solution: mean of both one-head values"
    return mean, "by one head" if len(singles) == 1 else "mean of both one-head values"


def _both(result: Reduction, by_two: ch.TwoHeads, to_20: float) -> None:
    if not by_two.sound:
        result.parameters.append(KFS_TWO.word("negative solution"))
        return
    result.parameters.append(KFS_TWO.of(to_20 * _TO_MM_H * by_two.kfs_cm_min))
    result.parameters.append(POTENTIAL.of(to_20 * by_two.potential_cm2_min))
    if by_two.alpha_per_cm is not None:
        result.parameters.append(ALPHA.of(by_two.alpha_per_cm))


def _design(result: Reduction, kfs_mm_h: float, settings: WellSettings) -> None:
    factor = _factor(settings)
    by_relation = ch.infiltration_by_relation_mm_h(kfs_mm_h / 36000)
    # In tight ground the relation gives more than the ground takes under a unit gradient.
    rate = kfs_mm_h if settings.infiltration == RateFrom.UNIT_GRADIENT else min(by_relation, kfs_mm_h)
    design = rate / factor
    result.parameters.append(DESIGN_MM_H.of(design, infiltration=settings.infiltration, factor=factor))
    result.parameters.append(RELATION_MM_H.of(by_relation))
    if settings.required_mm_h is not None:
        words = f"{'meets' if design >= settings.required_mm_h else 'does not meet'} {settings.required_mm_h:g} mm/h"
        result.parameters.append(JUDGED.word(words))

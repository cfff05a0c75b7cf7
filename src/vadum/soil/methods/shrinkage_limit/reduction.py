"""From pats to the shrinkage limit."""

from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.shrinkage_limit.equations import shrinkage_limit_estimate, volumetric_shrinkage_percent
from vadum.soil.methods.shrinkage_limit.figure import shrinkage_figure
from vadum.soil.methods.shrinkage_limit.findings import ABOVE_PLASTIC_LIMIT, FAR_FROM_CHART, PATS_APART, TOO_DRY
from vadum.soil.methods.shrinkage_limit.pats import Shrunk, pat_findings, shrunk
from vadum.soil.methods.shrinkage_limit.readings import (
    Pat,
    ShrinkageLimitContext,
    ShrinkageLimitReadings,
    ShrinkageLimitSettings,
)
from vadum.soil.methods.shrinkage_limit.results import (
    SHRINKAGE_LIMIT,
    SHRINKAGE_LIMIT_ESTIMATE,
    SHRINKAGE_RATIO,
    SPREAD,
    VOLUMETRIC_SHRINKAGE,
    WATER_CONTENT,
)
from vadum.soil.physics.water import REFERENCE_C, water_density

# A paste this far below the liquid limit still flows into its mould.
_NEAR_LIMIT = 0.95
# The chart is a guide: beyond so many percent of water it is worth a look.
_FAR_PERCENT = 10.0


def reduce_shrinkage_limit(
    readings: ShrinkageLimitReadings, settings: ShrinkageLimitSettings, context: ShrinkageLimitContext
) -> Reduction:
    """Return all that the pats say so far."""
    at = REFERENCE_C if readings.temperature_c is None else readings.temperature_c
    water, wax = float(water_density(at)), settings.wax_density_g_cm3
    result = Reduction(school=f"wax and water, wax {wax:g} g/cm³, water at {at:g} °C")
    found: list[Shrunk] = []
    for i, pat in enumerate(readings.pats):
        if not pat.used or pat.empty:
            continue
        result.findings += pat_findings(i, pat, water, wax)
        one, steps = shrunk(i, pat, water, wax)
        if one is None:
            continue
        found.append(one)
        result.computed[f"pats.{i}.limit_percent"] = one.limit
        result.derivation += steps
        liquid = context.liquid_limit
        if liquid is not None and one.water_content < _NEAR_LIMIT * liquid.value:
            cell = f"pats.{i}.mass_mould_wet_g"
            result.findings.append(TOO_DRY.at(cell, number=i + 1, water=one.water_content, limit=liquid.value))
    limit = _parameters(result, found, settings, context) if found else None
    plastic, liquid_limit = (c.value if c else None for c in (context.plastic_limit, context.liquid_limit))
    result.figures = [shrinkage_figure(found, limit, plastic, liquid_limit)]
    result.complete = len(found) >= settings.needed
    result.next_step = _next_step([p for p in readings.pats if p.used and not p.empty], len(found), settings)
    return result


def _parameters(
    result: Reduction, found: list[Shrunk], settings: ShrinkageLimitSettings, context: ShrinkageLimitContext
) -> float:
    limits = [one.limit for one in found]
    limit, ratio, water = (
        sum(values) / len(found)
        for values in (limits, [one.ratio for one in found], [one.water_content for one in found])
    )
    volumetric = volumetric_shrinkage_percent(ratio, water, limit)
    result.parameters = [
        SHRINKAGE_LIMIT.of(limit),
        SHRINKAGE_RATIO.of(ratio),
        VOLUMETRIC_SHRINKAGE.of(volumetric),
        WATER_CONTENT.of(water),
    ]
    if len(found) > 1:
        spread = max(limits) - min(limits)
        result.parameters.append(SPREAD.of(spread))
        if spread > settings.apart_percent:
            cells = (f"pats.{one.row}.mass_in_water_g" for one in found)
            result.findings.append(PATS_APART.at(*cells, spread=spread, most=settings.apart_percent))
    _beside_the_chart(result, limit, context)
    return limit


def _beside_the_chart(result: Reduction, limit: float, context: ShrinkageLimitContext) -> None:
    plastic, liquid, index = context.plastic_limit, context.liquid_limit, context.plasticity_index
    if plastic is not None and limit > plastic.value:
        result.findings.append(ABOVE_PLASTIC_LIMIT.at(limit=limit, plastic=plastic.value))
    if liquid is None or index is None or index.value <= 0:
        return
    estimate = shrinkage_limit_estimate(liquid.value, index.value)
    result.parameters.append(SHRINKAGE_LIMIT_ESTIMATE.of(estimate))
    if abs(limit - estimate) > _FAR_PERCENT and not result.findings:
        result.findings.append(FAR_FROM_CHART.at(limit=limit, estimate=estimate))


def _next_step(pats: list[Pat], found: int, settings: ShrinkageLimitSettings) -> str:
    if len(pats) < settings.needed:
        return (
            f"Mould {len(pats) + 1} of {settings.needed}: find its volume with water, weigh it greased, fill it in"
            " three layers with paste a little wetter than the liquid limit, strike off, weigh."
        )
    for pat in pats:
        if pat.volume_mould_cm3 is None or pat.mass_mould_g is None:
            return "Find the mould's volume by the water it holds under a glass plate, and weigh it empty and greased."
        if pat.mass_mould_wet_g is None:
            return "Strike the paste off level, wipe the rim and weigh it at once."
        if pat.mass_mould_dry_g is None:
            return "Dry in air until the colour turns light, then at 110 °C to constant mass; weigh."
        if pat.mass_waxed_g is None or pat.mass_in_water_g is None:
            return "Coat the dry pat thinly with wax, weigh it in air, then hanging under water."
    return (
        "" if found >= settings.needed else "Look at the pat that has no result; make another if it cannot be mended."
    )

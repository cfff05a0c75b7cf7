"""From threads to the plastic limit and the indices."""

import numpy as np

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.methods.plastic_limit.findings import (
    ABOVE_U_LINE,
    CRUMBLED_THICK,
    CRUMBLED_THIN,
    NON_PLASTIC,
    PL_ABOVE_LL,
    PORTION_SMALL,
    PORTIONS_APART,
    TICKED_BESIDE_PORTIONS,
    TOO_FEW_PORTIONS,
    WATER_OF_THE_WHOLE,
)
from vadum.soil.methods.plastic_limit.readings import (
    PlasticLimitContext,
    PlasticLimitReadings,
    PlasticLimitSettings,
    Thread,
)
from vadum.soil.methods.plastic_limit.results import (
    ACTIVITY,
    CONSISTENCY_INDEX,
    LIQUIDITY_INDEX,
    PLASTIC_LIMIT,
    PLASTICITY_INDEX,
    SPREAD,
)
from vadum.soil.numbers.scatter import of_mean
from vadum.soil.physics import plasticity as eq
from vadum.soil.site.plasticity_chart import plasticity_chart

BASIS = "ASTM D4318"
# Limits are reported to whole numbers with a spread of about two: a PL further above the LL is no lack of plasticity.
_ISO_THREAD_MM = 3.1
_MOST_BELOW = 3.0
# Less coarse soil than this changes the water of the rest by less than the rounding.
_COARSE_PERCENT = 5.0


def reduce_plastic_limit(
    readings: PlasticLimitReadings, settings: PlasticLimitSettings, context: PlasticLimitContext
) -> Reduction:
    """Return all that the threads say so far."""
    school = f"{settings.portions} portions, thread {settings.thread_mm:g} mm"
    readings, dried = until_constant(readings, "threads", settings.tins_dried, context.tins)
    threads = readings.threads
    weighed = [(i, t, w) for i, t in enumerate(threads) if t.used and (w := t.water_content(context.tins)) is not None]
    if readings.not_determinable:
        reason = f"The plastic limit cannot be determined: the soil {readings.not_determinable}."
        return _non_plastic(reason, len(weighed), school, _followed(settings), context)
    findings = weighing_findings("threads", threads, context.tins)
    findings += _thread_findings(threads, settings, context.tins) + _spread(weighed, settings)
    if weighed and len(weighed) < settings.needed:
        findings.append(TOO_FEW_PORTIONS.at(count=len(weighed), needed=settings.needed))
    result = Reduction(
        findings=findings,
        computed={
            f"threads.{i}.water_content_percent": w
            for i, t in enumerate(threads)
            if (w := t.water_content(context.tins)) is not None
        },
        derivation=[t.weighing_step(context.tins, w, f"portion {i + 1}") for i, t, w in weighed],
        school=school,
        follows=_followed(settings),
        complete=len(weighed) >= settings.needed,
    )
    limit = float(np.mean([w for _, _, w in weighed])) if weighed else None
    index = None
    if limit is not None:
        parameter, index = _limit_and_index(limit, weighed, result, context)
        result.parameters.insert(0, parameter)
    ll = context.liquid_limit.value if context.liquid_limit else None
    result.figures = [plasticity_chart(ll, index, context.neighbours)]
    result.next_step = _next_step(threads, settings)
    result.later = _later(threads, len(weighed), settings)
    result.afterwards = _afterwards(context)
    dried.judge(result)
    return result


def _limit_and_index(
    limit: float, weighed: list[tuple[int, Thread, float]], result: Reduction, context: PlasticLimitContext
) -> tuple[Parameter, float | None]:
    """Return the plastic limit as a parameter and the plasticity index; fill in steps, indices and findings."""
    values = [w for _, _, w in weighed]
    spread = max(values) - min(values)
    plastic_limit = PLASTIC_LIMIT.of(limit, doubt=of_mean(values))
    result.derivation.append(
        Step(
            symbol="PL",
            formula="mean of the portions",
            put_in=f"({' + '.join(f'{v:.2f}' for v in values)}) / {len(values)}",
            result=f"{limit:.2f}",
            unit="%",
            basis=BASIS,
            about="reported to the nearest whole number",
        )
    )
    if len(values) > 1:
        result.parameters.append(SPREAD.of(spread))
    reported = float(plastic_limit.reported or 0)
    if context.liquid_limit_not_determinable:
        result.findings.append(_np_note("The liquid limit could not be determined."))
        result.parameters.append(PLASTICITY_INDEX.word("NP"))
        return plastic_limit, None
    if context.liquid_limit is None:
        return plastic_limit, None
    liquid_limit = context.liquid_limit.value
    index = eq.plasticity_index(liquid_limit, reported)
    if index < -_MOST_BELOW:
        result.findings.append(PL_ABOVE_LL.at(plastic=reported, more=-index, liquid=liquid_limit))
        return plastic_limit, None
    if index <= 0:
        result.findings.append(_np_note(f"PL {reported:g} is not below LL {liquid_limit:g}."))
        result.parameters.append(PLASTICITY_INDEX.word("NP"))
        return plastic_limit, None
    result.parameters.append(PLASTICITY_INDEX.of(index))
    result.derivation.append(
        Step.of(
            eq.plasticity_index,
            put_in=f"{liquid_limit:g} − {reported:g}",
            result=f"{index:g}",
            unit="%",
            about=f"LL from {context.liquid_limit.source}",
        )
    )
    _indices(index, liquid_limit, reported, result, context)
    if liquid_limit >= 16 and index > float(eq.u_line(liquid_limit)):
        result.findings.append(ABOVE_U_LINE.at(liquid_limit=liquid_limit, index=index))
    return plastic_limit, index


def _indices(
    index: float, liquid_limit: float, plastic_limit: float, result: Reduction, context: PlasticLimitContext
) -> None:
    natural: Leant | None = context.natural_water_content
    if natural:
        w = _of_the_fine_part(natural.value, result, context)
        li, ic = eq.liquidity_index(w, plastic_limit, index), eq.consistency_index(w, liquid_limit, index)
        result.parameters += [LIQUIDITY_INDEX.of(li, basis=f"{BASIS} clause 21"), CONSISTENCY_INDEX.of(ic)]
        about = f"natural water content from {natural.source}"
        result.derivation += [
            Step.of(
                eq.liquidity_index, put_in=f"({w:g} − {plastic_limit:g}) / {index:g}", result=f"{li:.3f}", about=about
            ),
            Step.of(
                eq.consistency_index, put_in=f"({liquid_limit:g} − {w:g}) / {index:g}", result=f"{ic:.3f}", about=about
            ),
        ]
    clay = context.clay_percent
    if clay and clay.value > 0:
        a = eq.activity(index, clay.value)
        result.parameters.append(ACTIVITY.of(a))
        result.derivation.append(
            Step.of(
                eq.activity,
                put_in=f"{index:g} / {clay.value:g}",
                result=f"{a:.3f}",
                about=f"clay share from {clay.source}",
            )
        )


def _of_the_fine_part(whole: float, result: Reduction, context: PlasticLimitContext) -> float:
    """Return the natural water content of what passes 0.425 mm, when the rest was taken out and holds none."""
    retained = context.retained_0_425_mm.value if context.retained_0_425_mm else 0.0
    if retained <= _COARSE_PERCENT:
        return whole
    fine = eq.water_of_fine_part(whole, retained)
    result.findings.append(WATER_OF_THE_WHOLE.at(retained=retained, fine=fine, whole=whole))
    result.derivation.append(
        Step.of(
            eq.water_of_fine_part,
            put_in=f"{whole:g} / (1 − {retained:g}/100)",
            result=f"{fine:.2f}",
            unit="%",
            about="water of what passes 0.425 mm",
        )
    )
    return fine


def _np_note(why: str) -> Finding:
    return NON_PLASTIC.at(why=why)


def _non_plastic(
    reason: str, portions: int, school: str, follows: list[str], context: PlasticLimitContext
) -> Reduction:
    findings = [NON_PLASTIC.at("not_determinable", why=reason)]
    if portions:
        findings.append(TICKED_BESIDE_PORTIONS.at("not_determinable", count=portions))
    return Reduction(
        parameters=[PLASTIC_LIMIT.word("NP"), PLASTICITY_INDEX.word("NP")],
        findings=findings,
        figures=[plasticity_chart(None, None, context.neighbours)],
        afterwards="Report as non-plastic. Nothing more to measure here.",
        school=school,
        follows=follows,
        complete=True,
    )


def _followed(settings: PlasticLimitSettings) -> list[str]:
    """Return the standard whose thread was rolled: an eighth of an inch, or three millimetres."""
    return ["ASTM D4318"] if settings.thread_mm > _ISO_THREAD_MM else ["ISO 17892-12"]


def _thread_findings(threads: list[Thread], settings: PlasticLimitSettings, tins: dict[str, float]) -> list[Finding]:
    findings = []
    for i, thread in enumerate(threads):
        if not thread.used:
            continue
        tare, wet = thread.tare_g(tins), thread.mass_tin_wet_g
        if tare is not None and wet is not None and 0 < wet - tare < settings.least_mass_g:
            findings.append(
                PORTION_SMALL.at(f"threads.{i}.mass_tin_wet_g", grams=wet - tare, least_mass_g=settings.least_mass_g)
            )
        at = thread.diameter_mm
        if at is None or abs(at - settings.thread_mm) <= 0.4:
            continue
        crumbled = CRUMBLED_THICK if at > settings.thread_mm else CRUMBLED_THIN
        findings.append(crumbled.at(f"threads.{i}.diameter_mm", at=at, thread_mm=settings.thread_mm))
    return findings


def _spread(weighed: list[tuple[int, Thread, float]], settings: PlasticLimitSettings) -> list[Finding]:
    values = [w for _, _, w in weighed]
    if len(values) < 2 or max(values) - min(values) <= settings.spread_percent:
        return []
    return [
        PORTIONS_APART.at(
            *(f"threads.{i}.mass_tin_dry_g" for i, _, _ in weighed),
            percent=max(values) - min(values),
            spread_percent=settings.spread_percent,
        )
    ]


def _next_step(threads: list[Thread], settings: PlasticLimitSettings) -> str:
    moist = [t for t in threads if t.used and t.mass_tin_wet_g is not None]
    if len(moist) >= settings.needed:
        return ""
    return (
        f"Roll portion {len(moist) + 1} of {settings.needed}: threads of {settings.thread_mm:g} mm until they crumble, "
        f"at least {settings.least_mass_g:g} g into a lidded tin, weigh it moist."
    )


def _later(threads: list[Thread], weighed: int, settings: PlasticLimitSettings) -> str:
    moist = [t for t in threads if t.used and t.mass_tin_wet_g is not None]
    waiting = [t.tin or "the tin" for t in moist if t.mass_tin_dry_g is None]
    if waiting:
        return f"Dry and weigh {', '.join(waiting)}."
    return "Weigh the empty tins." if weighed < settings.needed else ""


def _afterwards(context: PlasticLimitContext) -> str:
    if context.liquid_limit is None and not context.liquid_limit_not_determinable:
        return "Plastic limit done. Measure the liquid limit of this sample for the plasticity index."
    return "Nothing more to measure here."

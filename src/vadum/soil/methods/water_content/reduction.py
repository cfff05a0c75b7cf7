"""From tins to the water content."""

import numpy as np

from vadum.soil.bench.constant_mass import NOT_CONSTANT, TOO_SOON, WEIGHED_ONCE, unknown_tins
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.water_content.drying import LEAST_BETWEEN_MIN, TinDrying, follow, what_now
from vadum.soil.methods.water_content.equations import FIELD_SCHOOL_G, least_by_drying_g, least_specimen_g
from vadum.soil.methods.water_content.findings import (
    DRIED_TOO_HOT,
    OVEN_TEMPERATURE,
    SPECIMEN_SMALL,
    SPECIMEN_SMALL_FOR_TENTH,
)
from vadum.soil.methods.water_content.readings import (
    Determination,
    Drying,
    Precision,
    SpecimenRule,
    WaterContentContext,
    WaterContentReadings,
    WaterContentSettings,
)
from vadum.soil.methods.water_content.results import WATER_CONTENT
from vadum.soil.numbers.rounding import TENTH, WHOLE
from vadum.soil.numbers.scatter import of_mean
from vadum.soil.physics.moisture import mass_change_percent

_BASIS = {
    Drying.OVEN: "ASTM D2216",
    Drying.LOW_OVEN: "ASTM D2216 at 60 °C",
    Drying.HOT_PLATE: "ASTM D4959",
    Drying.MICROWAVE: "ASTM D4643",
}


def reduce_water_content(
    readings: WaterContentReadings, settings: WaterContentSettings, context: WaterContentContext
) -> Reduction:
    """Return all that the weighings say so far."""
    rows, tins = readings.determinations, context.tins
    drying = [
        follow(i, row, len(rows) == 1, readings.reweighings, row.tare_g(tins), settings) for i, row in enumerate(rows)
    ]
    values = {d.row: w for d, row in zip(drying, rows, strict=True) if (w := _water_content(row, d, tins)) is not None}
    used = {i: w for i, w in values.items() if rows[i].used}
    findings = weighing_findings("determinations", rows, tins)
    findings += _drying_findings(rows, drying, settings) + unknown_tins(rows, readings.reweighings)
    findings += _specimen_findings(readings, settings, context)
    findings += _heat_findings(readings, settings)
    in_use = [i for i, row in enumerate(rows) if row.used and not row.empty]
    result = Reduction(
        findings=findings,
        computed={f"determinations.{i}.water_content_percent": w for i, w in values.items()},
        expected=_expected(readings, drying, settings),
        derivation=_steps(rows, drying, used, tins, settings),
        school=f"{settings.drying}, reported to {settings.precision}",
        follows=[_BASIS[settings.drying]],
        complete=bool(in_use) and all(i in used and drying[i].state == "constant" for i in in_use),
    )
    if used:
        found = list(used.values())
        rounding = TENTH if settings.precision == Precision.TENTH else WHOLE
        result.parameters.append(
            WATER_CONTENT.of(
                float(np.mean(found)), basis=_BASIS[settings.drying], rounding=rounding, doubt=of_mean(found)
            )
        )
    result.next_step = _next_step(rows, drying, settings, context)
    result.afterwards = "Constant, done. Nothing more to measure here." if result.complete else "Weigh the tins."
    return result


def _water_content(row: Determination, drying: TinDrying, tins: dict[str, float]) -> float | None:
    final = row.model_copy(update={"mass_tin_dry_g": drying.dry_mass_g})
    return final.water_content(tins)


def _drying_findings(
    rows: list[Determination], drying: list[TinDrying], settings: WaterContentSettings
) -> list[Finding]:
    findings = []
    for tin in drying:
        row = rows[tin.row]
        if not row.used or tin.state in ("empty", "moist", "constant"):
            continue
        if tin.too_soon:
            path, after = tin.too_soon
            findings.append(TOO_SOON.at(path, tin=tin.name, after=after, least=LEAST_BETWEEN_MIN[settings.drying]))
        elif tin.state == "once":
            short = (
                ("once, and its hours in the oven are not written" if tin.timed else "once only")
                if row.drying_h is None
                else f"after {row.drying_h:g} h, less than {settings.least_drying_h:g}"
            )
            findings.append(WEIGHED_ONCE.at(tin.paths[-1], tin=tin.name, short=short, what_now=what_now(tin, settings)))
        else:
            findings.append(
                NOT_CONSTANT.at(
                    tin.paths[-1],
                    tin=tin.name,
                    verb="lost" if tin.state == "losing" else "gained",
                    change=abs(tin.change or 0),
                    limit=settings.constant_mass_percent,
                    what_now=what_now(tin, settings),
                )
            )
    return findings


def _specimen_findings(
    readings: WaterContentReadings, settings: WaterContentSettings, context: WaterContentContext
) -> list[Finding]:
    particle = readings.largest_particle_mm
    if particle is None and context.largest_particle_mm:
        particle = context.largest_particle_mm.value
    if settings.specimen_rule == SpecimenRule.ALWAYS_500:
        least, why = FIELD_SCHOOL_G, "the field school's least"
    else:
        least, why = least_by_drying_g(settings.drying.value), f"the least for a {settings.drying}"
        by_grain = 0.0 if particle is None else least_specimen_g(particle, settings.precision == Precision.TENTH)
        if particle is not None and by_grain >= least:
            least, why = by_grain, f"the least for {particle:g} mm grains and {settings.precision}"
    findings = []
    for i, row in enumerate(readings.determinations):
        tare = row.tare_g(context.tins)
        if not row.used or row.mass_tin_wet_g is None or tare is None or row.mass_tin_wet_g <= tare:
            continue
        soil = row.mass_tin_wet_g - tare
        if soil < least:
            small = SPECIMEN_SMALL_FOR_TENTH if settings.precision == Precision.TENTH else SPECIMEN_SMALL
            findings.append(small.at(f"determinations.{i}.mass_tin_wet_g", soil=soil, least=least, why=why))
    return findings


def _heat_findings(readings: WaterContentReadings, settings: WaterContentSettings) -> list[Finding]:
    findings = []
    if settings.organic_or_gypsum and settings.drying != Drying.LOW_OVEN:
        findings.append(DRIED_TOO_HOT.at(dried_by=settings.drying))
    wanted = 60.0 if settings.drying == Drying.LOW_OVEN else settings.oven_c
    read = readings.temperature_c
    if read is not None and settings.drying in (Drying.OVEN, Drying.LOW_OVEN) and abs(read - wanted) > 5:
        findings.append(OVEN_TEMPERATURE.at("temperature_c", read=read, wanted=wanted))
    return findings


def _steps(
    rows: list[Determination],
    drying: list[TinDrying],
    used: dict[int, float],
    tins: dict[str, float],
    settings: WaterContentSettings,
) -> list[Step]:
    steps = []
    for i, w in used.items():
        wet, tare = rows[i].mass_tin_wet_g, rows[i].tare_g(tins)
        final = rows[i].model_copy(update={"mass_tin_dry_g": drying[i].dry_mass_g})
        steps.append(final.weighing_step(tins, w, f"tin {drying[i].name}", _BASIS[settings.drying]))
        if drying[i].change is not None:
            before, after = drying[i].weighings[-2:]
            steps.append(
                Step.of(
                    mass_change_percent,
                    put_in=f"100 ({before:.2f} − {after:.2f}) / ({wet:.2f} − {tare:.2f})",
                    result=f"{drying[i].change:.3f}",
                    unit="%",
                    about=f"constant mass of tin {drying[i].name}",
                )
            )
    if len(used) > 1:
        mean = sum(used.values()) / len(used)
        steps.append(
            Step(
                symbol="w",
                formula="mean of the tins",
                put_in=f"({' + '.join(f'{w:.3f}' for w in used.values())}) / {len(used)}",
                result=f"{mean:.3f}",
                unit="%",
            )
        )
    return steps


def _expected(
    readings: WaterContentReadings, drying: list[TinDrying], settings: WaterContentSettings
) -> dict[str, tuple[float, float]]:
    """Return where the next weighing of a tin already dried once should fall."""
    expected = {}
    for i, again in enumerate(readings.reweighings):
        owner = next(
            (d for d in drying if d.weighings and (again.tin == d.name or (not again.tin and len(drying) == 1))), None
        )
        if again.mass_tin_dry_g is None and owner:
            last = owner.weighings[-1]
            wet = readings.determinations[owner.row].mass_tin_wet_g or last
            expected[f"reweighings.{i}.mass_tin_dry_g"] = (round(last - 0.02 * max(wet - last, 1.0), 2), last)
    return expected


def _next_step(
    rows: list[Determination], drying: list[TinDrying], settings: WaterContentSettings, context: WaterContentContext
) -> str:
    open_tins = [d for d in drying if rows[d.row].used and d.state != "constant"]
    for tin in open_tins:
        row = rows[tin.row]
        if tin.state == "empty" or row.mass_tin_wet_g is None:
            return f"Weigh tin {tin.name} with the moist soil."
        if row.tare_g(context.tins) is None:
            return f"Weigh the empty tin {tin.name}, or enter it in the tin register."
        return f"Tin {tin.name}: {what_now(tin, settings)}"
    if not rows:
        return "Put moist soil into a weighed tin, lid on, and weigh it."
    missing = [d.name for d in drying if rows[d.row].used and rows[d.row].tare_g(context.tins) is None]
    if missing:
        return f"Weigh the empty tin {missing[0]}, or enter it in the tin register."
    return ""

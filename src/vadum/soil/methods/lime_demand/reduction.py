"""From bottles to the lime demand."""

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Drawing
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.lime_demand import advice
from vadum.soil.methods.lime_demand.bottles import Bottle, bottles_of, wanted
from vadum.soil.methods.lime_demand.equations import decide, ph_at_25
from vadum.soil.methods.lime_demand.figure import decision_path, ph_figure
from vadum.soil.methods.lime_demand.readings import LimeReadings, LimeSettings, UpperBuffer
from vadum.soil.methods.lime_demand.results import BRANCH, HIGHEST_PH, LIME_ONLY_PH, LIME_PERCENT

BASIS = "ASTM D6276"


def reduce_lime(readings: LimeReadings, settings: LimeSettings) -> Reduction:
    """Return all that the bottles say so far."""
    read = bottles_of(readings)
    soils = sorted((b for b in read if b.percent is not None), key=lambda b: b.percent or 0.0)
    planned = [row.lime_percent for row in readings.bottles if row.lime_percent is not None]
    decision = decide([b.percent or 0.0 for b in soils], [b.ph25 for b in soils], planned, sound=advice.is_sound(read))
    alone = [b for b in read if b.percent is None]
    result = Reduction(
        school=f"buffers 10.0 and {settings.upper_buffer}, pH at 25 °C; {settings.shaken}"
        if settings.upper_buffer != UpperBuffer.SINGLE_12
        else f"one buffer, 12.0 (weaker), pH at 25 °C; {settings.shaken}",
        complete=decision.percent is not None and bool(alone),
    )
    result.findings = advice.meter_findings(readings, settings, read)
    result.findings += advice.bottle_findings(readings, settings, read)
    result.findings += advice.series_findings(readings, read, done=result.complete)
    result.computed = {f"bottles.{b.row}.ph25": b.ph25 for b in read}
    for i, row in enumerate(readings.bottles):
        soil, lime = wanted(row, readings, settings)
        if soil is not None:
            result.expected[f"bottles.{i}.mass_soil_g"] = (round(soil, 1), round(soil, 1))
        if lime is not None:
            result.expected[f"bottles.{i}.mass_lime_g"] = (round(lime, 3), round(lime, 3))
    if decision.percent is not None:
        kind = {"hydrated": "hydrated lime", "quicklime": "quicklime"}.get(readings.lime or "", "lime")
        result.parameters.append(LIME_PERCENT.of(decision.percent, kind=kind, branch=decision.branch))
    if soils:
        result.parameters.append(BRANCH.word(decision.branch.label, decided=decision.words))
        highest = max(b.ph25 for b in soils)
        result.parameters.append(HIGHEST_PH.of(highest))
    if alone:
        result.parameters.append(LIME_ONLY_PH.of(alone[-1].ph25))
    figures: list[Drawing] = [ph_figure(read, decision)]
    path = decision_path(read, decision)
    result.figures = [*figures, path] if path is not None else figures
    result.derivation = _steps(readings, read)
    result.next_step = advice.next_step(readings, settings, read, decision)
    result.afterwards = "Done: an indication for a mix design. Let a second person check the sheet."
    return result


def _steps(readings: LimeReadings, read: list[Bottle]) -> list[Step]:
    return [
        Step.of(
            ph_at_25,
            put_in=f"{readings.bottles[b.row].ph:.2f} + 0.03 ({readings.bottles[b.row].temperature_c:g} − 25)"
            if b.corrected
            else f"{readings.bottles[b.row].ph:.2f}, temperature not read",
            result=f"{b.ph25:.2f}",
            about=f"{b.percent:g} % lime" if b.percent is not None else "lime only",
        )
        for b in read
    ]

"""From blows and rule to layers and their bearing ratio."""

from typing import Any

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.methods.dynamic_cone.figure import profile_figure
from vadum.soil.methods.dynamic_cone.findings import (
    CONE_WORN,
    FEW_ROWS,
    FIRST_ODD,
    FROM_NOWHERE,
    LAST_ODD,
    NOT_UPRIGHT,
    OUTSIDE_RELATION,
    ROW_COARSE,
    ROW_ODD,
    RULE_BACK,
    SERVICES_UNKNOWN,
    STONE,
)
from vadum.soil.methods.dynamic_cone.layers import Driven, Layer, driven, layers
from vadum.soil.methods.dynamic_cone.readings import DynamicConeReadings, DynamicConeSettings, Rule
from vadum.soil.methods.dynamic_cone.results import CBR_LAYER, CBR_SOFTEST, DEPTH_REACHED, INDEX_LAYER, LAYERS
from vadum.soil.numbers.rounding import Rounding
from vadum.soil.physics.bearing import Rounded, report_step
from vadum.soil.physics.dynamic_cone import HAMMER_FACTOR, SOURCE, ConeRelation, cone_ratio_percent

# A row so many times faster or slower than both beside it is a slip of count or rule.
_ODD, _ODD_FIRST = 1.7, 2.0
_ROW_MM, _STONE_MM, _WORN_MM, _FEWEST = 100.0, 0.4, 18.0, 4
_LEAN_CLAY_PERCENT = 10.0


def reduce_dynamic_cone(readings: DynamicConeReadings, settings: DynamicConeSettings) -> Reduction:
    """Return all that the rows say so far."""
    made = driven(readings, settings)
    found = layers(made, readings, settings)
    result = Reduction(
        school=f"{settings.hammer} hammer, {settings.relation}",
        complete=readings.ended is not None and bool(found),
        follows=("ASTM D6951",) if SOURCE[settings.relation] == "ASTM D6951" else (SOURCE[settings.relation],),
    )
    result.findings = _setup(readings) + _rows(made, readings, settings)
    if readings.ended is not None and 0 < len(made.rows) < _FEWEST:
        cell = f"blows.{made.rows[-1]}.rule_mm"
        result.findings.append(FEW_ROWS.at(cell, count=len(made.rows), mm=made.way_mm[-1]))
    factor = HAMMER_FACTOR[settings.hammer]
    for row, per_blow in zip(made.rows, made.per_blow, strict=True):
        result.computed[f"blows.{row}.per_blow_mm"] = factor * per_blow
    for row, depth in (*zip(made.rows, made.to_mm, strict=True), *made.from_nowhere.items()):
        result.computed[f"blows.{row}.depth_m"] = (readings.start_m or 0.0) + depth / 1000
    _parameters(result, found, settings)
    if found:
        result.parameters.append(DEPTH_REACHED.of(found[-1].bottom_m))
    result.curve = [(cone_ratio_percent(one.mm_per_blow, settings.relation), one.bottom_m) for one in found]
    result.figures = [profile_figure(made, found, readings, settings)]
    result.expected = _expected(made, readings)
    result.next_step = _next_step(made, readings)
    return result


def _setup(readings: DynamicConeReadings) -> list[Finding]:
    found: list[Finding] = []
    if readings.services_located == "no":
        found.append(SERVICES_UNKNOWN.at("services_located"))
    if readings.cone_mm is not None and readings.cone_mm < _WORN_MM:
        found.append(CONE_WORN.at("cone_mm", cone=readings.cone_mm))
    if readings.upright == "no":
        found.append(NOT_UPRIGHT.at("upright"))
    return found


def _rows(made: Driven, readings: DynamicConeReadings, settings: DynamicConeSettings) -> list[Finding]:
    """Return what is wrong with single rows."""
    found = [FROM_NOWHERE.at(f"blows.{row}.rule_mm", number=row + 1) for row in made.from_nowhere]
    back = [k for k, went in enumerate(made.went_mm) if went <= 0]
    for k in back[:1]:
        now = readings.blows[made.rows[k]].rule_mm or 0.0
        before = now - made.went_mm[k] * (1 if settings.rule == Rule.UP else -1)
        found.append(RULE_BACK.at(f"blows.{made.rows[k]}.rule_mm", number=made.rows[k] + 1, before=before, after=now))
    if back:
        return found
    per_blow = made.per_blow
    if len(per_blow) > 2 and not _between(per_blow[0], per_blow[1:3], _ODD_FIRST):
        near = sum(per_blow[1:3]) / 2
        cells = (f"blows.{made.rows[0]}.rule_mm", "zero_mm")
        found.append(FIRST_ODD.at(*cells, per_blow=per_blow[0], near=near, zero=readings.zero_mm or 0.0))
    if readings.ended is not None and len(per_blow) > 3 and not _between(per_blow[-1], per_blow[-3:-1], _ODD_FIRST):
        near, cell = sum(per_blow[-3:-1]) / 2, f"blows.{made.rows[-1]}.rule_mm"
        found.append(LAST_ODD.at(cell, number=made.rows[-1] + 1, per_blow=per_blow[-1], near=near))
    for k, (row, mm, blows) in enumerate(zip(made.rows, made.went_mm, made.blows, strict=True)):
        at, number = f"blows.{row}.rule_mm", row + 1
        beside = [per_blow[j] for j in (k - 1, k + 1) if 0 <= j < len(per_blow)]
        if len(beside) == 2 and mm / blows > _STONE_MM and not _between(per_blow[k], beside, _ODD):
            near = sum(beside) / 2
            found.append(ROW_ODD.at(at, f"blows.{row}.blows", number=number, per_blow=per_blow[k], near=near))
        elif mm > _ROW_MM and blows > 1:
            found.append(ROW_COARSE.at(at, number=number, mm=mm, blows=int(blows), most=_ROW_MM / 2))
        elif mm / blows <= _STONE_MM and blows > 4:
            found.append(STONE.at(at, number=number, mm=mm, blows=int(blows)))
    return found


def _between(value: float, others: list[float], times: float) -> bool:
    return min(others) / times <= value <= times * max(others)


def _parameters(result: Reduction, found: list[Layer], settings: DynamicConeSettings) -> None:
    if not found:
        return
    basis = SOURCE[settings.relation]
    ratios = [cone_ratio_percent(one.mm_per_blow, settings.relation) for one in found]
    softest = min(range(len(found)), key=lambda k: ratios[k])
    result.parameters = [_ratio(CBR_SOFTEST, found[softest], ratios[softest], basis), LAYERS.of(len(found))]
    for number, (one, ratio) in enumerate(zip(found, ratios, strict=True), 1):
        result.parameters += [
            _ratio(CBR_LAYER, one, ratio, basis, number=number),
            INDEX_LAYER.of(one.mm_per_blow, basis=basis, number=number, top=one.top_m, bottom=one.bottom_m),
        ]
        result.derivation.append(
            Step.of(
                cone_ratio_percent,
                symbol="CBR",
                put_in=f"d = {one.mm_per_blow:.2f} mm",
                result=f"{ratio:.2f}",
                unit="%",
                basis=basis,
                about=f"{one.top_m:.2f} to {one.bottom_m:.2f} m",
            )
        )
        if settings.relation == ConeRelation.D6951_CL and ratio > _LEAN_CLAY_PERCENT:
            result.findings.append(OUTSIDE_RELATION.at(ratio=ratio, top=one.top_m, bottom=one.bottom_m))


def _ratio(of: Result, one: Layer, ratio: float, basis: str, **number: Any) -> Parameter:
    step = report_step(ratio, Rounded.TWO_FIGURES)
    rounding = Rounding(step=step, words=f"to the nearest {step} %")
    return of.of(ratio, rounding=rounding, basis=basis, top=one.top_m, bottom=one.bottom_m, **number)


def _expected(made: Driven, readings: DynamicConeReadings) -> dict[str, tuple[float, float]]:
    """Return the blows of the last row, so that they need only be kept."""
    if not made.rows or readings.ended is not None:
        return {}
    return {f"blows.{made.rows[-1] + 1}.blows": (made.blows[-1], made.blows[-1])}


def _next_step(made: Driven, readings: DynamicConeReadings) -> str:
    if not made.rows:
        return "Set the cone on the ground to its shoulder with light blows, read the rule, then count."
    if readings.ended is not None:
        return ""
    last = made.went_mm[-1]
    more = "fewer blows" if last > _ROW_MM / 2 else "more blows" if last < _ROW_MM / 10 else "as many blows"
    return f"Let the hammer fall free from its stop, {more} again, read the rule. At the end say why under ended."

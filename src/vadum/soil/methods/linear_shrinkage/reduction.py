"""From bars to the linear shrinkage."""

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.linear_shrinkage.equations import linear_shrinkage_percent, plasticity_index_estimate
from vadum.soil.methods.linear_shrinkage.figure import bars_figure
from vadum.soil.methods.linear_shrinkage.findings import (
    BARS_APART,
    BENT_TOO_FAR,
    CRACKED,
    DRY_LONGER,
    FACE_LONGER,
    FACES_APART,
    FAR_FROM_PLASTICITY,
    IN_PIECES,
    MOULD_LENGTH,
    NOT_AT_LIMIT,
    ONE_FACE,
)
from vadum.soil.methods.linear_shrinkage.readings import (
    Bar,
    BarState,
    LinearShrinkageContext,
    LinearShrinkageReadings,
    LinearShrinkageSettings,
    MixedAt,
)
from vadum.soil.methods.linear_shrinkage.results import LINEAR_SHRINKAGE, PLASTICITY_INDEX_ESTIMATE, SPREAD

_STANDARD_MM, _MOULD_MM = 140.0, 1.0
_FACES_MM = 2.0
# A bar 12.5 mm thick whose faces differ by more than this is bent through more than 45 degrees: 12.5 mm times pi / 4.
_BENT_MM = 10.0
_LONG_TROUGH_MM = 200.0
# The estimate scatters by about a third; beyond this factor and these percents it is worth a look.
_FACTOR, _PERCENT = 2.0, 10.0


def reduce_linear_shrinkage(
    readings: LinearShrinkageReadings, settings: LinearShrinkageSettings, context: LinearShrinkageContext
) -> Reduction:
    """Return all that the bars say so far."""
    result = Reduction(school=f"{settings.needed} bar{'s' if settings.needed > 1 else ''}")
    lengths = [bar.length_mould_mm for bar in readings.bars if bar.used and bar.length_mould_mm is not None]
    # Troughs of 140 mm are the British ones, those of 250 mm the Australian.
    result.follows = ["AS 1289.3.4.1" if lengths and min(lengths) > _LONG_TROUGH_MM else "BS 1377-2"]
    found: dict[int, float] = {}
    for i, bar in enumerate(readings.bars):
        if not bar.used or bar.empty:
            continue
        result.findings += _bar_findings(i, bar)
        dry = bar.length_dry_mm
        if bar.length_mould_mm is None or dry is None or dry > bar.length_mould_mm or bar.state == BarState.IN_PIECES:
            continue
        found[i] = linear_shrinkage_percent(bar.length_mould_mm, dry)
        result.computed[f"bars.{i}.shrinkage_percent"] = found[i]
        result.derivation.append(
            Step.of(
                linear_shrinkage_percent,
                put_in=f"100 (1 − {dry:.1f} / {bar.length_mould_mm:.1f})",
                result=f"{found[i]:.2f}",
                unit="%",
                about=f"bar {i + 1}",
            )
        )
    if readings.mixed_at in (MixedAt.DRIER, MixedAt.WETTER):
        less = "less" if readings.mixed_at == MixedAt.DRIER else "more"
        result.findings.append(NOT_AT_LIMIT.at("mixed_at", mixed_at=readings.mixed_at, less=less))
    if found:
        _parameters(result, list(found.values()), settings, context)
    result.figures = [bars_figure(readings.bars, found)]
    result.complete = len(found) >= settings.needed
    result.next_step = _next_step(readings, len(found), settings)
    return result


def _parameters(
    result: Reduction, found: list[float], settings: LinearShrinkageSettings, context: LinearShrinkageContext
) -> None:
    mean, spread = sum(found) / len(found), max(found) - min(found)
    result.parameters.append(LINEAR_SHRINKAGE.of(mean))
    if len(found) > 1:
        result.parameters.append(SPREAD.of(spread))
    if spread > settings.apart_percent:
        result.findings.append(BARS_APART.at(spread=spread, most=settings.apart_percent))
    estimate = plasticity_index_estimate(mean)
    result.parameters.append(PLASTICITY_INDEX_ESTIMATE.of(estimate))
    index = context.plasticity_index
    if index is not None and index.value > 0 and abs(index.value - estimate) > _PERCENT:
        ratio = max(estimate, 0.1) / index.value
        if not 1 / _FACTOR <= ratio <= _FACTOR:
            result.findings.append(FAR_FROM_PLASTICITY.at(index=index.value, source=index.source, estimate=estimate))


def _bar_findings(i: int, bar: Bar) -> list[Finding]:
    """Return what is wrong with one bar in use."""
    path, number = f"bars.{i}", i + 1
    top, bottom, mould, dry = bar.length_top_mm, bar.length_bottom_mm, bar.length_mould_mm, bar.length_dry_mm
    findings: list[Finding] = []
    if mould is not None and dry is not None and dry > mould:
        cells = (f"{path}.length_top_mm", f"{path}.length_mould_mm")
        findings.append(DRY_LONGER.at(*cells, number=number, dry=dry, mould=mould))
    elif mould is not None and abs(mould - _STANDARD_MM) > _MOULD_MM:
        findings.append(MOULD_LENGTH.at(f"{path}.length_mould_mm", number=number, mould=mould))
    if bar.state == BarState.IN_PIECES:
        findings.append(IN_PIECES.at(f"{path}.state", number=number))
    if bar.state == BarState.CRACKED:
        findings.append(CRACKED.at(f"{path}.state", number=number))
    if bar.state == BarState.CURVED and dry is not None and (top is None or bottom is None):
        findings.append(ONE_FACE.at(f"{path}.length_bottom_mm", number=number))
    return findings + _face_findings(i, bar)


def _face_findings(i: int, bar: Bar) -> list[Finding]:
    """Return what is wrong between the two faces of one bar."""
    path, top, bottom, mould = f"bars.{i}", bar.length_top_mm, bar.length_bottom_mm, bar.length_mould_mm
    if top is None or bottom is None:
        return []
    key = "length_top_mm" if top > bottom else "length_bottom_mm"
    if mould is not None and (top + bottom) / 2 <= mould < max(top, bottom):
        return [FACE_LONGER.at(f"{path}.{key}", number=i + 1, face=max(top, bottom), mould=mould)]
    apart = abs(top - bottom)
    if bar.state == BarState.CURVED and apart > _BENT_MM:
        return [BENT_TOO_FAR.at(f"{path}.{key}", number=i + 1, top=top, bottom=bottom)]
    if bar.state != BarState.CURVED and apart > _FACES_MM:
        return [FACES_APART.at(f"{path}.length_bottom_mm", number=i + 1, mm=apart)]
    return []


def _next_step(readings: LinearShrinkageReadings, found: int, settings: LinearShrinkageSettings) -> str:
    filled = [(i, bar) for i, bar in enumerate(readings.bars) if bar.used and not bar.empty]
    if len(filled) < settings.needed:
        return (
            f"Fill mould {len(filled) + 1} of {settings.needed}: paste at the liquid limit into the greased mould,"
            " jar out the air, strike off level."
        )
    if any(bar.length_mould_mm is None for _, bar in filled):
        return "Measure the mould inside, along its length."
    if found < settings.needed and any(bar.length_dry_mm is None for _, bar in filled):
        return "Dry in air until the bar comes off the walls, at 60 to 65 °C until it stops shrinking, then at 110 °C."
    return ""

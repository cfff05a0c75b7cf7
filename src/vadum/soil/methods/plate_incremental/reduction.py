"""From stages to the ultimate pressure, and from the plate to the footing."""

from itertools import pairwise

from vadum.soil.bench.plate_load import LoadAs, load_findings
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.plate_incremental import advice
from vadum.soil.methods.plate_incremental.capacity import Capacity, Footing, capacity, footing
from vadum.soil.methods.plate_incremental.equations import creep_line, settlement_ratio
from vadum.soil.methods.plate_incremental.figures import creep_figure, logarithmic_figure, settlement_figure
from vadum.soil.methods.plate_incremental.findings import (
    FAR_FROM_PLATE,
    NOT_DETERMINED,
    PLATE_FAILS_FIRST,
    REBOUND_PARTIAL,
)
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    Construction,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)
from vadum.soil.methods.plate_incremental.results import (
    ALLOWABLE_KPA,
    FOOTING_SAFE_KPA,
    FOOTING_ULTIMATE_KPA,
    LARGEST_SETTLEMENT_MM,
    REBOUND_MM,
    REBOUND_PERCENT,
    SAFE_KPA,
    SETTLEMENT_KPA,
    ULTIMATE_BY_KPA,
    ULTIMATE_KPA,
)
from vadum.soil.methods.plate_incremental.stages import Stage, in_pressure, loading, stages
from vadum.soil.numbers.scatter import Scatter

_LEAST_DOUBT_KPA = 0.5
_HOUR_MIN, _QUARTER_MIN = 60.0, 15.0
CONSTRUCTIONS = (Construction.DOUBLE_TANGENT, Construction.LOGARITHMS, Construction.WIDTH_10)
# Unloaded to less of the largest pressure the rebound counts as that of the whole.
_UNLOADED = 0.06
_KEYS = {
    Construction.DOUBLE_TANGENT: "double_tangent",
    Construction.LOGARITHMS: "logarithms",
    Construction.WIDTH_10: "width",
}
_BY_HAND = {
    "elastic_to_kpa": "the first line",
    "yielding_from_kpa": "the second line",
    "log_elastic_to_kpa": "the first logarithmic line",
    "log_yielding_from_kpa": "the second logarithmic line",
}


def reduce_plate_incremental(readings: PlateIncrementalReadings, settings: PlateIncrementalSettings) -> Reduction:
    """Return all that the stages say so far."""
    typed, readings = readings, in_pressure(readings, settings)
    made = stages(readings)
    loaded = loading(made)
    found = capacity(loaded, settings)
    below = footing(found, readings, settings)
    ended = readings.ended is not None or any(stage.unloading for stage in made)
    result = Reduction(
        school=(
            f"{settings.shape} plate {settings.width_mm:g} mm, {settings.rate}, {settings.construction}, factor"
            f" {settings.safety_factor:g}"
        ),
        complete=ended and len(loaded) > 0,
        follows=_followed(settings),
    )
    result.findings = advice.setup_findings(readings, settings) + advice.stage_findings(readings, settings, made)
    result.findings += advice.curve_findings(readings, settings, made, found) + unexplained(settings, _BY_HAND)
    rows = [(f"rows.{i}", row) for i, row in enumerate(typed.rows) if row.used]
    result.findings += load_findings(rows, settings.load_as, settings.area_m2, readings.piston_cm2)
    for stage in made:
        if settings.load_as != LoadAs.PRESSURE:
            result.computed[f"rows.{stage.first_row}.below_kpa"] = stage.pressure_kpa
        for i, s, spread in zip(stage.rows, stage.settlement_mm, stage.spread_mm, strict=True):
            result.computed[f"rows.{i}.mean_mm"] = s
            result.computed[f"rows.{i}.tilt_mm"] = spread
    result.expected = _expected(readings, made)
    _ultimate(result, found, settings, loaded)
    if below is not None:
        _footing(result, below, found, readings, settings)
        if ended and loaded:
            result.findings += _footing_findings(below, found, settings)
            if below.allowable_kpa is None:
                result.parameters.append(
                    ALLOWABLE_KPA.word("not determined", allowed_mm=settings.allowed_settlement_mm)
                )
    _rest(result, readings, made, loaded)
    result.figures = [
        settlement_figure(made, found, settings),
        logarithmic_figure(made, found, settings),
        creep_figure(made, settings),
    ]
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _followed(settings: PlateIncrementalSettings) -> list[str]:
    """Return whose waiting rule was kept, and whose construction reported; what is less than a rule is said so."""
    if settings.rate == Rate.PER_MINUTE:
        hold = settings.least_hold_min
        waited = "IS 1888" if hold >= _HOUR_MIN else "ASTM D1194" if hold >= _QUARTER_MIN else ""
        waits = [waited or "IS 1888, without its least hold of an hour"]
    else:
        waits = [f"the laboratory's own waiting rule, {settings.rate}"]
    return [*waits, *(["EN 1997-2 annex K"] if settings.construction == Construction.WIDTH_10 else [])]


def _expected(readings: PlateIncrementalReadings, made: list[Stage]) -> dict[str, tuple[float, float]]:
    """Return where each gauge should stand at the next reading of the stage in hand."""
    if not made or len(made[-1].rows) < 2:
        return {}
    stage, row = made[-1], made[-1].every_row[-1] + 1
    line = creep_line(stage.minutes, stage.settlement_mm)
    if line is None or (
        row < len(readings.rows) and any(getattr(readings.rows[row], name) is not None for name in GAUGES)
    ):
        return {}
    last = readings.rows[stage.rows[-1]]
    ahead = max(0.0, line[1]) * 0.35
    return {
        f"rows.{row}.{name}": (round(value - 0.02, 2), round(value + ahead + 0.05, 2))
        for name in GAUGES
        if (value := getattr(last, name)) is not None
    }


def _ultimate(result: Reduction, found: Capacity, settings: PlateIncrementalSettings, loaded: list[Stage]) -> None:
    if not loaded:
        return
    value, band = found.ultimate(settings.construction), found.band(settings.construction)
    if value is None:
        text = f"above {loaded[-1].pressure_kpa:g} kPa"
        result.parameters.append(ULTIMATE_KPA.word(text, basis=settings.construction.label))
    else:
        doubt = _doubt(value, band, [found.ultimate(name) for name in CONSTRUCTIONS[:2]])
        result.parameters.append(ULTIMATE_KPA.of(value, basis=settings.construction.label, doubt=doubt))
        safe = value / settings.safety_factor
        result.parameters.append(SAFE_KPA.of(safe))
        result.derivation.append(
            Step(
                symbol="safe",
                formula="qu / FS",
                put_in=f"{value:.1f} / {settings.safety_factor:g}",
                result=f"{safe:.1f}",
                unit="kPa",
            )
        )
    for name, lines in ((Construction.DOUBLE_TANGENT, found.straight), (Construction.LOGARITHMS, found.logarithmic)):
        if lines is not None:
            meets = found.ultimate(name)
            said = "log s = a + b log σ" if name == Construction.LOGARITHMS else "s = a + b σ"
            put_in = f"{lines.first[0]:.4f} + {lines.first[1]:.5f}, {lines.second[0]:.4f} + {lines.second[1]:.5f}"
            result.derivation.append(
                Step(
                    symbol="qu",
                    formula=f"{said}, where both lines meet, mean over divisions",
                    put_in=put_in,
                    result=f"{meets:.1f}",
                    unit="kPa",
                    basis=name.label,
                )
            )
    for name in CONSTRUCTIONS:
        other = found.ultimate(name)
        if other is not None:
            result.parameters.append(ULTIMATE_BY_KPA.of(other, basis=name.label, code=_KEYS[name], construction=name))


def _doubt(value: float, band: tuple[float, float] | None, by_lines: list[float | None]) -> Scatter | None:
    """Return how well the yield is known: by where the lines may be divided, and by what the other construction of
    two lines says of the same curve."""
    own = (band[1] - band[0]) / 2 if band else 0.0
    others = max((abs(other - value) for other in by_lines if other is not None), default=0.0)
    doubt = max(own, others)
    return Scatter(doubt) if doubt >= _LEAST_DOUBT_KPA else None


def _footing(
    result: Reduction,
    below: Footing,
    found: Capacity,
    readings: PlateIncrementalReadings,
    settings: PlateIncrementalSettings,
) -> None:
    width, plate, soil = readings.footing_width_m or 0.0, settings.width_mm / 1000, readings.soil or "sand"
    basis = f"{soil}, footing B = {width:g} m (the footing's width, not the pit's)"
    ratio = settlement_ratio(width, plate, soil)
    for pressure, value in (
        (FOOTING_ULTIMATE_KPA, below.ultimate_kpa),
        (FOOTING_SAFE_KPA, below.safe_kpa),
        (SETTLEMENT_KPA, below.settlement_kpa),
        (ALLOWABLE_KPA, below.allowable_kpa),
    ):
        if value is not None:
            result.parameters.append(pressure.of(value, basis=basis, allowed_mm=settings.allowed_settlement_mm))
    formula = "s/sp = B/Bp" if soil == "clay" else "s/sp = [B (Bp + 0.3) / (Bp (B + 0.3))]²"
    result.derivation += [
        Step(
            symbol="s/sp",
            formula=formula,
            put_in=f"B {width:g} m, Bp {plate:g} m",
            result=f"{ratio:.3f}",
            basis="Terzaghi and Peck; IS 1888",
            about="footing",
        ),
        Step(
            symbol="sp",
            formula="allowed settlement / (s/sp)",
            put_in=f"{settings.allowed_settlement_mm:g} / {ratio:.3f}",
            result=f"{below.plate_settlement_mm:.2f}",
            unit="mm",
            about="plate at the allowed settlement",
        ),
    ]
    if below.ultimate_kpa is not None:
        rule = "qu(B) = qu(plate)" if soil == "clay" else "qu(B) = qu(plate) B/Bp"
        result.derivation.append(
            Step(
                symbol="qu footing",
                formula=rule,
                put_in=f"{found.ultimate(settings.construction):.1f}, {width:g} / {plate:g}",
                result=f"{below.ultimate_kpa:.1f}",
                unit="kPa",
                about="footing",
            )
        )


# Beyond so many plate widths the footing's bulb of pressure is another ground's.
_FAR_WIDER = 5.0


def _footing_findings(below: Footing, found: Capacity, settings: PlateIncrementalSettings) -> list[Finding]:
    """Return what does not carry over from the plate to the footing."""
    findings = []
    if below.open_part:
        findings.append(NOT_DETERMINED.at("rows", missing=below.open_part, tested=below.tested_kpa))
    ultimate, allowable = found.ultimate(settings.construction), below.allowable_kpa
    if ultimate is not None and allowable is not None and ultimate < allowable:
        findings.append(PLATE_FAILS_FIRST.at("footing_width_m", ultimate=ultimate, allowable=allowable))
    if below.ratio > _FAR_WIDER + 1e-9:
        findings.append(FAR_FROM_PLATE.at("footing_width_m", ratio=below.ratio))
    return findings


def _rest(result: Reduction, readings: PlateIncrementalReadings, made: list[Stage], loaded: list[Stage]) -> None:
    if loaded:
        result.parameters.append(LARGEST_SETTLEMENT_MM.of(loaded[-1].last_mm))
    back = [b for a, b in pairwise(made) if b.unloading and b.rows and b.pressure_kpa < a.pressure_kpa]
    if back and loaded:
        rebound = loaded[-1].last_mm - back[-1].last_mm
        result.parameters.append(REBOUND_MM.of(rebound, pressure_kpa=back[-1].pressure_kpa))
        if result.complete and back[-1].pressure_kpa > _UNLOADED * loaded[-1].pressure_kpa:
            last = max(i for i, row in enumerate(readings.rows) if row.used and not row.empty)
            result.findings.append(REBOUND_PARTIAL.at(f"rows.{last}.pressure_kpa", pressure_kpa=back[-1].pressure_kpa))
        share = 100 * rebound / loaded[-1].last_mm if loaded[-1].last_mm > 0 else 0.0
        result.parameters.append(REBOUND_PERCENT.of(share))

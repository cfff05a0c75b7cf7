"""What can be wrong at a percolation hole, and what to read next."""

from statistics import median

from vadum.soil.bench.filling import Fill, fills_of, number_findings, order_findings
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.percolation.findings import (
    ABOVE_HOLE,
    BELOW_BASE,
    FALL_SMALL,
    NEVER_STEADY,
    NOT_LOCATED,
    NOT_SOAKED,
    ONLY_FALL,
    RATES_JUMP,
    RUN_DRY,
    WATER_TABLE,
)
from vadum.soil.methods.percolation.intervals import Interval, rises
from vadum.soil.methods.percolation.readings import PercolationReadings, PercolationSettings, Soaked

_CLEARANCE_M = 1.0
_LONG, _STEP_MM, _LEAST_STEPS = 10, 1.0, 5
_JUMP = 1.6


def hole_findings(readings: PercolationReadings) -> list[Finding]:
    """Return what is wrong with the hole and its ground."""
    found: list[Finding] = []
    if readings.services_located == "no":
        found.append(NOT_LOCATED.at("services_located"))
    if readings.soaked == Soaked.NO:
        found.append(NOT_SOAKED.at("soaked"))
    table, depth = readings.water_table_m, readings.hole_depth_mm
    if table is not None and depth is not None and table < depth / 1000 + _CLEARANCE_M:
        found.append(WATER_TABLE.at("water_table_m", water_table_m=table, least=_CLEARANCE_M))
    return found


def level_findings(
    readings: PercolationReadings, settings: PercolationSettings, made: list[Interval], *, steady: bool
) -> list[Finding]:
    """Return what is wrong with levels, falls and rates."""
    fills = fills_of(readings.levels)
    upside = rises(readings, fills)
    found = number_findings(readings.levels) + order_findings(fills, rises=upside)
    base = readings.base_mm
    if base is None:
        return found + ([ONLY_FALL.at("base_mm")] if made else []) + _rate_findings(settings, made, steady=steady)
    sign = -1 if upside else 1
    for fill in fills:
        for row, level in zip(fill.rows, fill.level.tolist(), strict=True):
            depth, cell = sign * (level - base), f"levels.{row}.level_mm"
            if depth < 0:
                found.append(BELOW_BASE.at(cell, "base_mm", number=fill.number, level_mm=level, base_mm=base))
            elif readings.hole_depth_mm is not None and depth > readings.hole_depth_mm:
                found.append(
                    ABOVE_HOLE.at(
                        cell, "base_mm", number=fill.number, depth=depth, hole_depth_mm=readings.hole_depth_mm
                    )
                )
    found += [
        RUN_DRY.at(f"levels.{one.row}.level_mm", number=one.fill, to_min=one.to_min)
        for one in made
        if one.depth_mm == 0
    ]
    return found + _rate_findings(settings, made, steady=steady)


def _rate_findings(settings: PercolationSettings, made: list[Interval], *, steady: bool) -> list[Finding]:
    found: list[Finding] = []
    rates = [one.steadied.mm_min for one in made]
    for k, one in enumerate(made):
        beside = rates[max(0, k - 2) : k] + rates[k + 1 : k + 3]
        near = median(beside) if len(beside) > 1 else 0.0
        # The first drinks faster; a level read to a step moves a small fall by much.
        step = 2 * _STEP_MM / (one.to_min - one.from_min)
        if k > 0 and near and abs(rates[k] - near) > step and not near / _JUMP <= rates[k] <= near * _JUMP:
            found.append(
                RATES_JUMP.at(
                    f"levels.{one.row}.level_mm",
                    f"levels.{one.row}.elapsed_min",
                    number=one.fill,
                    rate=rates[k],
                    to_min=one.to_min,
                    near=near,
                )
            )
    last = made[-settings.steady_rates :]
    if len(last) == settings.steady_rates and (fall := median(one.fall_mm for one in last)) < _LEAST_STEPS * _STEP_MM:
        found.append(FALL_SMALL.at(f"levels.{last[-1].row}.level_mm", fall=fall, step=_STEP_MM))
    if len(made) >= _LONG and not steady:
        found.append(
            NEVER_STEADY.at(
                f"levels.{made[-1].row}.level_mm",
                count=len(made),
                steady_rates=settings.steady_rates,
                within_percent=settings.within_percent,
            )
        )
    return found


def next_step(
    readings: PercolationReadings,
    settings: PercolationSettings,
    fills: list[Fill],
    made: list[Interval],
    *,
    steady: bool,
) -> str:
    """Return the next thing to do at the hole."""
    if readings.services_located is None:
        return "Locate cables and pipes before you dig; say so here."
    if readings.hole_diameter_mm is None or readings.hole_depth_mm is None:
        return "Dig the hole, roughen its wall, measure diameter and depth, lay 50 mm of gravel on its base."
    if readings.soaked is None:
        return "Soak the hole: fill it to 300 mm and keep it full for 4 h; read it the next day. Say how it was soaked."
    if not fills:
        return "Fill to 150 mm above the base, read the level at 0 min and again before half of it is gone."
    if steady:
        return ""
    now = f" Now {60 * made[-1].steadied.mm_min:.3g} mm/h." if made else ""
    if len(fills[-1].rows) < 2:
        return f"Fill {fills[-1].number}: read the level again before half of the water is gone.{now}"
    left = settings.steady_rates - len(made)
    more = f"at least {left} more intervals" if left > 0 else "the last ones do not agree yet, or still go one way"
    return f"Refill to the same level as fill {fills[-1].number + 1}: {more}.{now}"

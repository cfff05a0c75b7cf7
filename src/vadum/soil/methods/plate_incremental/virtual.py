"""What the gauges would read of ground whose yield is known."""

from typing import Any

import numpy as np

from vadum.soil.bench.plate_load import LoadAs
from vadum.soil.methods.plate_incremental.equations import DAY_MIN, RATE_MM_MIN
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    REBOUND,
    Ended,
    Increments,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)
from vadum.soil.methods.plate_incremental.stages import increment_kpa
from vadum.soil.physics.plate import jack_force_kn, pump_pressure_bar
from vadum.soil.virtual.plate_soil import YieldingPlateSoil

MISTAKES = {
    "loaded-early": "the fourth load comes before the rate criterion",
    "gauge-slipped": "gauge C is misread by a millimetre",
    "tilting": "the plate tilts",
    "pit-narrow": "the pit is three plate widths wide",
    "width-of-pit": "the pit's width is taken for the footing's",
    "seating-held": "the seating load is not released",
    "kn-typed": "the third pressure is typed in kN",
    "stopped-at-half": "loading ends at half the yield",
    "in-mpa": "the pressures are typed in MPa",
    "divisions": "the gauges are written in divisions",
}
_PISTON_CM2 = 38.5
_MOST_HOURS, _FEWEST, _GAUGE_MM = 40, 3, 0.01


def a_test(
    soil: YieldingPlateSoil, settings: PlateIncrementalSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> PlateIncrementalReadings:
    """Return the readings of a whole test, each stage held to the waiting rule, with the rebound at its end."""
    estimate = _estimate_kpa(soil.yield_kpa / float(rng.uniform(5.5, 8.5)), settings)
    step = increment_kpa(estimate, settings, 0.0)
    width = settings.width_mm / 1000
    end = soil.yield_kpa * (0.5 if "stopped-at-half" in mistakes else float(rng.uniform(1.45, 1.65)))
    lean = np.array([-1.0, -0.3, 0.4, 0.9]) * (0.35 if "tilting" in mistakes else float(rng.uniform(0.0, 0.05)))
    rows: list[dict[str, Any]] = []
    before = 0.0
    pressures = _pressures(step, end, settings)
    for number, kpa in enumerate(pressures):
        early = "loaded-early" in mistakes and number == 3
        before = _stage(rows, soil, settings, float(kpa), before, lean, rng, early=early)
    top, largest = before, float(pressures[-1])
    for share in REBOUND:
        settled = top - 0.25 * top * (1 - share**0.5)
        rows.append({"pressure_kpa": round(share * largest, 1), "elapsed_min": 5.0} | _gauges(settled, lean, rng))
    if "gauge-slipped" in mistakes:
        rows[len(rows) // 3]["gauge_c_mm"] = round(rows[len(rows) // 3]["gauge_c_mm"] - 1.0 - abs(lean[2]), 2)
    if "kn-typed" in mistakes:
        for row in rows:
            if row["pressure_kpa"] == pressures[2]:
                row["pressure_kpa"] = round(float(pressures[2]) * settings.area_m2, 2)
    if "in-mpa" in mistakes:
        rows = [row | {"pressure_kpa": row["pressure_kpa"] / 1000} for row in rows]
    if "divisions" in mistakes:
        rows = [row | {name: round(100 * row[name]) for name in GAUGES} for row in rows if row["elapsed_min"] < 9][:24]
    rows = [_applied(row, settings) for row in rows]
    return PlateIncrementalReadings.model_validate(
        {
            "piston_cm2": _PISTON_CM2,
            "pit_width_m": 3 * width if "pit-narrow" in mistakes else 5 * width + 0.1,
            "footing_width_m": 5 * width + 0.1 if "width-of-pit" in mistakes else 1.0,
            "estimate_kpa": estimate,
            "seating_kpa": 7.0,
            "rows": rows,
            "soil": "sand",
            "seating_released": "no" if "seating-held" in mistakes else "yes",
            "largest_particle_mm": 20.0,
            "depth_m": 1.2,
            "ended": Ended.SPENT if "stopped-at-half" in mistakes else Ended.REACHED_25 if top >= 25 else Ended.FAILURE,
        }
    )


def _estimate_kpa(fifth_kpa: float, settings: PlateIncrementalSettings) -> float:
    """Return the safe pressure a technician writes: what he steps in fifths, or the failure he expects by the factor.

    Who steps by a tenth of the ultimate expects a failure near the ground's, between 0.8 and 1.3 of its yield.
    """
    if settings.increments == Increments.TENTH:
        return max(10.0, 10 * round(7 * fifth_kpa / settings.safety_factor / 10))
    return 5 * max(10.0, 10 * round(fifth_kpa / 10))


def _pressures(step: float, end: float, settings: PlateIncrementalSettings) -> Any:
    if settings.increments != Increments.DOUBLING:
        return np.arange(step, end + 0.01, step)
    doubled = step * 2.0 ** np.arange(12)
    return np.append(doubled[doubled < 0.8 * end], 10.0 * round(end / 10))


def _stage(
    rows: list[dict[str, Any]],
    soil: YieldingPlateSoil,
    settings: PlateIncrementalSettings,
    kpa: float,
    before: float,
    lean: Any,
    rng: np.random.Generator,
    *,
    early: bool,
) -> float:
    """Add the rows of one stage and return the settlement it ends with."""
    times = [2.25] if early else [*settings.minutes, *(60.0 * n for n in range(1, _MOST_HOURS))]
    read_before = [(0.0, before)]
    for number, t in enumerate([1.0, *times] if early else times, 1):
        read = _gauges(soil.at(t, before, kpa), lean, rng)
        rows.append({"pressure_kpa": kpa, "elapsed_min": t} | read)
        # The technician goes by what the gauges show, not by the truth.
        s = sum(read.values()) / len(read)
        read_before.append((t, s))
        enough = t >= DAY_MIN if settings.rate == Rate.DAY else _rests(read_before, RATE_MM_MIN[settings.rate])
        if enough and number >= _FEWEST and t >= settings.least_hold_min:
            break
    return soil.at(read_before[-1][0], before, kpa)


def _rests(read: list[tuple[float, float]], limit: float) -> bool:
    """Return whether the plate moved less than the rule since a reading far enough back for a hundredth to show it."""
    now, s = read[-1]
    earlier = next(((t, at) for t, at in reversed(read[:-1]) if (now - t) * limit >= _GAUGE_MM), None)
    return earlier is not None and (s - earlier[1]) / (now - earlier[0]) < 0.9 * limit


def _applied(row: dict[str, Any], settings: PlateIncrementalSettings) -> dict[str, Any]:
    """Return a row with its load as it is read at the jack."""
    if settings.load_as == LoadAs.PRESSURE:
        return row
    force = jack_force_kn(row.pop("pressure_kpa"), settings.area_m2)
    if settings.load_as == LoadAs.FORCE:
        return row | {"force_kn": round(force, 3)}
    return row | {"pump_bar": round(pump_pressure_bar(force, _PISTON_CM2), 2)}


def _gauges(settlement: float, lean: Any, rng: np.random.Generator) -> dict[str, float]:
    values = settlement * (1 + lean - lean.mean()) + rng.normal(0, 0.002, 4)
    return {name: round(float(v), 2) for name, v in zip(GAUGES, values, strict=True)}

"""What the gauges would read of ground whose yield is known."""

from typing import Any

import numpy as np

from vadum.soil.methods.plate_incremental.equations import DAY_MIN, RATE_MM_MIN
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    SCHEDULE_MIN,
    Ended,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
    Rate,
)
from vadum.soil.physics.plate import plate_area_m2
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
_MOST_HOURS = 40


def a_test(
    soil: YieldingPlateSoil, settings: PlateIncrementalSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> PlateIncrementalReadings:
    """Return the readings of a whole test, each stage held to the waiting rule, with the rebound at its end."""
    estimate = 5 * max(10.0, 10 * round(soil.yield_kpa / float(rng.uniform(5.5, 8.5)) / 10))
    step = estimate / 5
    width = settings.width_mm / 1000
    end = soil.yield_kpa * (0.5 if "stopped-at-half" in mistakes else float(rng.uniform(1.45, 1.65)))
    lean = np.array([-1.0, -0.3, 0.4, 0.9]) * (0.35 if "tilting" in mistakes else float(rng.uniform(0.0, 0.05)))
    rows: list[dict[str, Any]] = []
    before = 0.0
    pressures = np.arange(step, end + 0.01, step)
    for number, kpa in enumerate(pressures):
        early = "loaded-early" in mistakes and number == 3
        before = _stage(rows, soil, settings, float(kpa), before, lean, rng, early=early)
    top, largest = before, float(pressures[-1])
    for share in (0.5, 0.25, 0.0):
        settled = top - 0.25 * top * (1 - share**0.5)
        rows.append({"pressure_kpa": round(share * largest, 1), "elapsed_min": 5.0} | _gauges(settled, lean, rng))
    if "gauge-slipped" in mistakes:
        rows[len(rows) // 3]["gauge_c_mm"] = round(rows[len(rows) // 3]["gauge_c_mm"] - 1.0 - abs(lean[2]), 2)
    if "kn-typed" in mistakes:
        area = plate_area_m2(settings.width_mm, square=settings.shape == "square")
        for row in rows:
            if row["pressure_kpa"] == pressures[2]:
                row["pressure_kpa"] = round(float(pressures[2]) * area, 2)
    if "in-mpa" in mistakes:
        rows = [row | {"pressure_kpa": row["pressure_kpa"] / 1000} for row in rows]
    if "divisions" in mistakes:
        rows = [row | {name: round(100 * row[name]) for name in GAUGES} for row in rows if row["elapsed_min"] < 9][:24]
    return PlateIncrementalReadings.model_validate(
        {
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
    times = [2.25] if early else [*SCHEDULE_MIN, *(60.0 * n for n in range(1, _MOST_HOURS))]
    last = (0.0, before)
    for t in [1.0, *times] if early else times:
        read = _gauges(soil.at(t, before, kpa), lean, rng)
        rows.append({"pressure_kpa": kpa, "elapsed_min": t} | read)
        # The technician goes by what the gauges show, not by the truth.
        s = sum(read.values()) / len(read)
        rate = (s - last[1]) / (t - last[0])
        last = (t, s)
        enough = t >= DAY_MIN if settings.rate == Rate.DAY else rate < 0.9 * RATE_MM_MIN[settings.rate]
        if enough and t > 1.0:
            break
    return soil.at(last[0], before, kpa)


def _gauges(settlement: float, lean: Any, rng: np.random.Generator) -> dict[str, float]:
    values = settlement * (1 + lean - lean.mean()) + rng.normal(0, 0.002, 4)
    return {name: round(float(v), 2) for name, v in zip(GAUGES, values, strict=True)}

"""What would be read at a hole in ground that takes water at a known rate."""

from typing import Any

import numpy as np

from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.methods.percolation.readings import PercolationReadings, PercolationSettings, Soaked
from vadum.soil.virtual.soaked_ground import SoakedGround

MISTAKES = {
    "not-soaked": "the hole is not soaked before",
    "times-exchanged": "two times of the third fill are exchanged",
    "level-misread": "a level of the fourth fill is misread by 50 mm",
    "base-misread": "the base is typed in cm",
    "run-dry": "the last fill is read when nothing is left",
    "float-hangs": "the float hangs in the last fill",
}
_DIAMETER, _DEPTH, _START, _DATUM = 150.0, 700.0, 160.0, 850.0
_TO_BASE = _DATUM


def a_percolation(
    soil: SoakedGround, settings: PercolationSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> PercolationReadings:
    """Return levels measured down from a bar across the hole, refilled before half of the water is gone."""
    temperature = round(float(rng.uniform(8, 19)), 1)
    rate = soil.rate_mm_h / 60 * to_temperature(20.0, temperature)
    every = float(np.clip(round(0.4 * _START / soil.fall(rate, _DIAMETER / 2, _START)), 1, 240))
    levels: list[dict[str, Any]] = []
    count = max(6, settings.steady_rates + 3)
    for k in range(1, count + 1):
        eager = 1 + soil.eager * float(np.exp(-1.5 * (k - 1)))
        start = _START + float(rng.integers(-4, 5))
        for minutes in (0.0, every / 2, every):
            left = soil.left(rate * eager, _DIAMETER / 2, start, minutes)
            if "run-dry" in mistakes and k == count and minutes == every:
                left = 0.0
            row: dict[str, Any] = {"elapsed_min": minutes, "level_mm": round(_TO_BASE - left)}
            levels.append({"fill": k, **row} if minutes == 0 else row)
    if "times-exchanged" in mistakes:
        levels[7]["elapsed_min"], levels[8]["elapsed_min"] = levels[8]["elapsed_min"], levels[7]["elapsed_min"]
    if "level-misread" in mistakes:
        levels[10]["level_mm"] += 50
    if "float-hangs" in mistakes:
        levels += [{"elapsed_min": every * f, "level_mm": levels[-1]["level_mm"]} for f in (1.5, 2.0, 2.5)]
    return PercolationReadings.model_validate(
        {
            "hole_diameter_mm": _DIAMETER,
            "hole_depth_mm": _DEPTH,
            "base_mm": _TO_BASE / 10 if "base-misread" in mistakes else _TO_BASE,
            "soaked": Soaked.NO if "not-soaked" in mistakes else Soaked.OVERNIGHT,
            "services_located": "yes",
            "fills": [{"temperature_c": temperature}],
            "levels": levels,
            "water_table_m": 3.4,
            "latitude_deg": 52.1043,
            "longitude_deg": -1.2049,
        }
    )

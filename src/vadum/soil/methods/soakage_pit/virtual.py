"""What would be read at a pit in ground that takes water at a known rate."""

from typing import Any

import numpy as np

from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.methods.soakage_pit.readings import Backfill, PitReadings, PitSettings
from vadum.soil.virtual.soaked_ground import SoakedGround

MISTAKES = {
    "start-low": "the second fill begins below three quarters",
    "stopped-early": "the third fill is left at half its depth",
    "times-exchanged": "two times of the first fill are exchanged",
    "level-misread": "a level of the second fill is misread by 300 mm",
    "sparse": "the first fill is read twice only",
    "sizes-exchanged": "length and width are exchanged",
    "hose-on": "water is added in the middle of the third fill",
}
_LENGTH, _WIDTH, _BASE, _FULL, _VOIDS = 1800.0, 600.0, 1650.0, 550.0, 38.0


def a_pit(soil: SoakedGround, settings: PitSettings, rng: np.random.Generator, mistakes: frozenset[str]) -> PitReadings:
    """Return the levels of a pit with upright sides, each fill in wetter ground than the one before."""
    stone = settings.backfill == Backfill.STONE
    voids = _VOIDS / 100 if stone else 1.0
    temperature = round(float(rng.uniform(8, 16)), 1)
    rate = soil.rate_mm_h / 60 * to_temperature(20.0, temperature)
    depth = _BASE - _FULL
    levels: list[dict[str, Any]] = []
    for k in range(1, settings.fills_needed + 1):
        eager = 1 + soil.eager * float(np.exp(-1.2 * (k - 1)))
        start = depth - float(rng.integers(-10, 40))
        if "start-low" in mistakes and k == 2:
            start = 0.6 * depth
        minutes, water = _read(soil, rate * eager, start, voids)
        if "stopped-early" in mistakes and k == 3:
            minutes, water = minutes[water > 0.5 * depth], water[water > 0.5 * depth]
        if "sparse" in mistakes and k == 1:
            minutes, water = minutes[[0, -1]], water[[0, -1]]
        for i, (t, h) in enumerate(zip(minutes.tolist(), water.tolist(), strict=True)):
            row: dict[str, Any] = {"elapsed_min": t, "level_mm": float(5 * round((_BASE - h) / 5))}
            levels.append({"fill": k, **row} if i == 0 else row)
    second = next((i for i, row in enumerate(levels) if row.get("fill") == 2), len(levels))
    if "times-exchanged" in mistakes:
        levels[3]["elapsed_min"], levels[4]["elapsed_min"] = levels[4]["elapsed_min"], levels[3]["elapsed_min"]
    if "level-misread" in mistakes:
        levels[second + 4]["level_mm"] += 300
    if "hose-on" in mistakes:
        for row in levels[-5:]:
            row["level_mm"] -= 250
    holds = voids * _LENGTH * _WIDTH * depth / 1e6
    sizes = (_WIDTH, _LENGTH) if "sizes-exchanged" in mistakes else (_LENGTH, _WIDTH)
    return PitReadings.model_validate(
        {
            "length_mm": sizes[0],
            "width_mm": sizes[1],
            "base_mm": _BASE,
            "full_mm": _FULL,
            **({"voids_percent": _VOIDS} if stone else {}),
            "filled_l": float(10 * round(holds * float(rng.uniform(1.0, 1.06)) / 10)),
            "services_located": "yes",
            "fills": [{"temperature_c": temperature}],
            "levels": levels,
            "ground": "sandy silt, no water",
            "latitude_deg": 52.1045,
            "longitude_deg": -1.2047,
        }
    )


def _read(soil: SoakedGround, rate: float, start: float, voids: float) -> tuple[np.ndarray, np.ndarray]:
    """Return times, on the minute, and water at twelve readings down to a tenth of the start."""
    share = 2 * (_LENGTH + _WIDTH) / (_LENGTH * _WIDTH)
    end = voids / (rate * share) * float(np.log((start + 1 / share) / (0.1 * start + 1 / share)))
    step = max(0.25, end / 11)
    step = float(round(step)) if step >= 1 else step
    minutes = np.arange(12) * step
    return minutes, soil.emptied(rate, (_LENGTH, _WIDTH), start, minutes, voids)


def rate_by_rule(rate_mm_h: float) -> float:
    """Return the rate that the rule of the halves finds for ground that drinks alike wherever it is wet, mm/h.

    The rule divides by the area at half depth; on the way down it is the logarithmic mean of the areas that counts.
    """
    depth, plan, around = _BASE - _FULL, _LENGTH * _WIDTH, 2 * (_LENGTH + _WIDTH)
    wet = [plan + around * share * depth for share in (0.25, 0.5, 0.75)]
    log_mean = (wet[2] - wet[0]) / float(np.log(wet[2] / wet[0]))
    return rate_mm_h * log_mean / wet[1]

"""What would be weighed of a soil whose retention is known, day by day."""

from typing import Any

import numpy as np

from vadum.soil.methods.retention.readings import RetentionReadings, RetentionSettings, Tare
from vadum.soil.physics.retention import suction_kpa, water_by_volume
from vadum.soil.virtual.holding_soil import HoldingSoil

MISTAKES = {
    "step-left": "the third step is left after a day",
    "mass-exchanged": "another apparatus is weighed at the fifth step",
    "leaking": "the cell leaks at the fourth step",
    "dry-mass-with-ring": "the dry soil is weighed with its ring",
    "too-little-dry": "some dry soil is lost before it is weighed",
    "plate-dry": "the plate is not saturated",
    "saturated-once": "the ring is saturated once only",
    "suctions-exchanged": "two suctions are exchanged",
}
_VOLUME, _APPARATUS, _RING = 198.5, 1834.62, 112.37
_GS = 2.65


def a_cell(
    soil: HoldingSoil, settings: RetentionSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> RetentionReadings:
    """Return daily weighings, each step held until it is stable."""
    dry = _GS * 0.9982 * (1 - soil.porosity) * _VOLUME
    per_share = (1.0 - 0.0) / water_by_volume(1.0, 0, 0, 0, _VOLUME)
    whole = _APPARATUS + _RING + dry
    held = soil.theta_s
    day = 0.0
    rows: list[dict[str, Any]] = [{"suction": 0.0, "day": 0.0, "mass_g": round(whole + per_share * held, 2)}]
    for k, kpa in enumerate(settings.plan, 1):
        read = float(f"{kpa / suction_kpa(1.0, settings.device):.4g}")
        end = soil.theta(suction_kpa(read, settings.device))
        before, gone, days = held, 0.0, 0
        while True:
            day, days = day + 1, days + 1
            now = end + (before - end) * float(np.exp(-days / soil.drains_days))
            leak = 0.05 * (days - 2) if "leaking" in mistakes and k == 4 and days > 2 else 0.0
            rows.append({"suction": read, "day": day, "mass_g": round(whole + per_share * (now - leak), 2)})
            gone, held = per_share * (held - now + leak), now - leak
            if (gone < 0.6 * settings.stable_g_day and not leak) or ("step-left" in mistakes and k == 3) or days > 9:
                break
    if "mass-exchanged" in mistakes:
        rows[[i for i, r in enumerate(rows) if r["suction"] == rows[-1]["suction"]][-1]]["mass_g"] += 61.3
    if "suctions-exchanged" in mistakes:
        steps = sorted({r["suction"] for r in rows})
        swap = {steps[3]: steps[4], steps[4]: steps[3]}
        for r in rows:
            r["suction"] = swap.get(r["suction"], r["suction"])
    weighed = (
        dry
        + (_RING if "dry-mass-with-ring" in mistakes else 0.0)
        - (0.12 * dry if "too-little-dry" in mistakes else 0.0)
    )
    return RetentionReadings.model_validate(
        {
            "volume_cm3": _VOLUME,
            "mass_apparatus_g": _APPARATUS + (_RING if settings.tare == Tare.WITH else 0.0),
            "mass_ring_g": None if settings.tare == Tare.WITH else _RING,
            "weighings": rows,
            "mass_dry_g": round(weighed, 2),
            "particle_density": _GS,
            "saturated_twice": "no" if "saturated-once" in mistakes else "yes",
            "plate_saturated": "no" if "plate-dry" in mistakes else "yes",
        }
    )
